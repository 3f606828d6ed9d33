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
    """One press."""

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


class PlanOut(Schema):
    """The plan: presses in order; places still without a recipe; drawn layers that no recipe has any more."""

    revision: int
    steps: list[StepOut]
    own_order: bool
    unplanned: list[str]
    off_plan: int
