"""What a plan looks like from outside."""

from ninja import Schema

from caltin_site.shapes import Tone
from caltin_site.studies.schemas import AfterOut
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
    """One press; `first` is what must be done before it, `edges` how it is carried over edges, `sitting` counts from 1."""

    number: int
    colour: str
    name: str
    solid: Tone
    medium: str
    words: str
    pressure: str
    passes: int
    places: list[Token]
    tokens: list[str]
    served: list[ServedOut]
    done: bool
    minutes: float
    first: list[str]
    stop_when: str
    why: str
    edges: list[str]
    sitting: int


class SittingOut(Schema):
    """One sitting: how many steps, and how long."""

    steps: int
    minutes: float


class ConflictOut(Schema):
    """What stands in the way, and the nearest that does not."""

    what: str
    nearest: str


class PlanOut(Schema):
    """The plan: presses in order, changes of the colour in the hand, sittings, cautions and conflicts;
    places still without a recipe; drawn layers that no recipe has any more."""

    revision: int
    steps: list[StepOut]
    own_order: bool
    unplanned: list[str]
    off_plan: int
    changes: int
    sittings: list[SittingOut]
    cautions: list[str]
    conflicts: list[ConflictOut]
