"""What a plan looks like from outside."""

from typing import Literal

from ninja import Schema

from caltin_site.journal.schemas import LaidOut, MarkOut
from caltin_site.shapes import Tone
from caltin_site.studies.recipe_schemas import AfterOut
from caltin_site.studies.state import Token


class ServedOut(Schema):
    """A place that a press serves: its own layer's number, and the place before and after."""

    place: str
    called: str
    number: int
    layer: int
    layers: int
    before: AfterOut
    after: AfterOut
    target: Tone


class StepOut(Schema):
    """One thing to do: a colour laid, a blend or a lift, which have no colour; `laid` is what then lies there.

    `first` is what must be done before it, with the minutes to wait for what must dry; `edges` how it is carried over edges;
    `sitting` counts from 1; `cm2` is what it takes of its colour, in square centimetres of one even medium pass;
    `untested` names a recipe that begins here and was never measured on this paper; `beware` tells what its colour is taken for.
    """

    number: int
    does: Literal["lay", "blend", "lift"]
    colour: str
    name: str
    solid: Tone
    medium: str
    words: str
    pressure: str
    passes: int
    places: list[Token]
    laid: list[LaidOut]
    served: list[ServedOut]
    done: bool
    minutes: float
    cm2: float
    first: list[str]
    dry_minutes: float
    untested: str
    beware: str
    stop_when: str
    why: str
    edges: list[str]
    sitting: int


class TakesOut(Schema):
    """What is still to be laid of a colour, in square centimetres of one even medium pass, what share of a new stick that is, and
    a word where it may run dry before."""

    colour: str
    name: str
    solid: Tone
    cm2: float
    share: float
    words: str


class SittingOut(Schema):
    """One sitting: how many steps, and how long."""

    steps: int
    minutes: float


class ConflictOut(Schema):
    """What stands in the way, and the nearest that does not."""

    what: str
    nearest: str


class PlanOut(Schema):
    """The plan: steps in order, changes of the colour in the hand, colour still to be laid, sittings, cautions and
    conflicts; places still without a recipe; places where what lies there is not what their recipe begins with, or whose recipe
    still needs a colour that is not at hand; and the last marks of the log, newest last."""

    revision: int
    steps: list[StepOut]
    own_order: bool
    unplanned: list[str]
    astray: list[str]
    wanting: list[str]
    recent: list[MarkOut]
    changes: int
    takes: list[TakesOut]
    sittings: list[SittingOut]
    cautions: list[str]
    conflicts: list[ConflictOut]
