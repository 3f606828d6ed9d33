"""What is read of a study's picture, as it looks from outside."""

from typing import Literal

from ninja import Schema
from pydantic import Field

from caltin_site.shapes import Lab, Strict, Tone

View = Literal[
    "picture", "squint", "values", "notan", "extremes", "hue", "warmth", "hidden", "one_value", "undertone", "melanin", "blood",
]  # fmt: skip


class EndOut(Schema):
    """An end of the picture's values: pixels of the frame, and its L*."""

    x: float
    y: float
    l: float  # noqa: E741


class FlushOut(Schema):
    """A flush place, in pixels of the frame."""

    x: float
    y: float
    strength: float


class LightOut(Schema):
    """One light."""

    direction: float
    confidence: float
    tint: str


class ComplexionOut(Schema):
    """A complexion in measures."""

    base: Tone
    shadow: Tone
    undertone: str
    hue: float
    ita: float
    ita_class: str
    chroma: float
    strength: str
    melanin: float
    blood: float
    shadow_word: str
    shadow_degrees: float
    flush: list[FlushOut]


class CastOut(Schema):
    """The cast, and whether it is worth proposing to take it back."""

    tone: Tone
    de00: float
    confidence: float
    clear: bool
    words: str


class OverviewOut(Schema):
    """What is read of the whole; `doubt` is what to ask of the skin that was found, empty where it is sure."""

    histogram: list[float]
    darkest: EndOut
    lightest: EndOut
    clipped: list[str]
    doubt: str
    complexion: ComplexionOut | None
    lights: list[LightOut]
    cast: CastOut
    line_art: bool


class ShareOut(Schema):
    """One step of a view."""

    value: float | None
    words: str
    share: float


class WordOut(Schema):
    """A word at a pixel of the view, as shares of its width and height."""

    x: float
    y: float
    words: str


class SightOut(Schema):
    """What a view says."""

    view: View
    shares: list[ShareOut]
    words: list[WordOut]


class EdgeOut(Schema):
    """Where two zones meet."""

    one: str
    other: str
    one_called: str
    other_called: str
    kind: Literal["hard", "soft", "lost"]
    width_mm: float
    step: float


class AreaOut(Schema):
    """What a zone is beside its tone: share of the zones' area, pieces, neighbours."""

    place: str
    share: float
    parts: int
    neighbours: list[str]


class AreasOut(Schema):
    """Zones with their edges."""

    areas: list[AreaOut]
    edges: list[EdgeOut]


class SpanAsked(Strict):
    """Two pixels of the picture, and the artist's unit in pixels."""

    x1: float = Field(allow_inf_nan=False)
    y1: float = Field(allow_inf_nan=False)
    x2: float = Field(allow_inf_nan=False)
    y2: float = Field(allow_inf_nan=False)
    unit: float | None = Field(default=None, gt=0)


class SpanOut(Schema):
    """A distance on the paper, in the artist's units, and its angle against plumb."""

    mm: float
    units: float | None
    plumb: float
    pixels: float


class PlaceAsked(Strict):
    """A disc of the study's picture, as it is developed, and a tone to compare it with."""

    x: float = Field(allow_inf_nan=False)
    y: float = Field(allow_inf_nan=False)
    radius: float = Field(ge=0, allow_inf_nan=False)
    against: Lab | None = None


class ApartOut(Schema):
    """How two complexions differ: the second against the first."""

    de00: float
    words: str
