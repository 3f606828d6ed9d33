"""What recipes, matches, families and cures look like from outside."""

from typing import Annotated, Literal
from uuid import UUID

from ninja import Schema
from pydantic import Field

from caltin_core.contract.shapes import ActShape
from caltin_core.recipes.faults import COMPLAINTS
from caltin_core.reference.edges import EdgeKind
from caltin_site.shapes import Lab, Strict, Tone
from caltin_site.studies.state import LAYERS_MOST, PlaceId, RecipeKind, SchoolState

Complaint = Literal[*COMPLAINTS]  # type: ignore[valid-type]


class AfterOut(Schema):
    """After one layer."""

    tone: Tone
    tooth_used: float


class GrainOut(Schema):
    """One tooth quantile."""

    share: float
    hex: str


class DifferenceOut(Schema):
    """Against the target."""

    de00: float
    dl: float
    dc: float
    dh: float
    words: str


class RecipeOut(Schema):
    """A recipe with its prediction.

    `uncertainty` is the ΔE00 within which 80 % of real patches lie, `value_low` and `value_high` the same as Munsell
    values; `measured`, whether all its colours were measured;
    `equal`, whether this hand can tell it from the closest; `specks`, how much the depths of the tooth differ, in L*; `work`, in
    layers; `warned`, whether anything speaks against it, a caution or what a plan will say; `left_out`, the colours
    of stages the school wants here and the recipe does without; `seen_after`, after how many layers the place was measured, from
    which on it is predicted.
    """

    kind: RecipeKind
    layers: list[ActShape]
    sentence: str
    reason: str
    cautions: list[str]
    warned: bool
    left_out: list[str] = []
    strokes: list[str]
    tone: Tone
    difference: DifferenceOut
    uncertainty: float
    value_low: float
    value_high: float
    equal: bool
    measured: bool
    tooth_used: float
    specks: float = 0.0
    work: float = 0.0
    after: list[AfterOut]
    grain: list[list[GrainOut]]
    seen_after: int | None = None


class PlaceInLight(Schema):
    """A place's recipe in another light: its tone and how far it moves from its daylight self; no tone: not known."""

    place: str
    tone: Tone | None
    de00: float | None
    words: str


class InLightOut(Schema):
    """A study in another light; `known` when the spectra of all colours in use were measured."""

    illuminant: str
    name: str
    known: bool
    places: list[PlaceInLight]


class ReachOut(Schema):
    """In reach, or why not."""

    ok: bool
    why: str = ""
    would_help: str = ""
    nearest: Tone | None = None


class MatchOut(Schema):
    """What is known of one place's recipes; `recipes` is empty while it is still to be found."""

    place: str
    found: bool
    chosen: RecipeOut | None
    pinned: bool
    recipes: list[RecipeOut]
    reach: ReachOut


class ChangeOut(Schema):
    """A colour more, or one less, and the mean ΔE00 with that."""

    name: str
    mean: float


class FamilyOut(Schema):
    """All places in one family: colours asked and used, the mean ΔE00, and what one more or one less would change."""

    asked: int
    used: int
    mean: float
    one_more: ChangeOut | None
    one_less: ChangeOut | None


class ProposedOut(Schema):
    """The school to propose for this kit, paper and complexion, and why; `medium` is what most of the kit is."""

    medium: str
    slug: str
    name: str
    why: str


class MatchesOut(Schema):
    """All places; `missing` are still to be found. `mean` is the mean ΔE00 of the recipes shown, none without any; `used` how many
    colours they need; `fewer`, where those are many and the places were matched one by one, in how many they might share."""

    revision: int
    family: FamilyOut | None
    fewer: int | None
    proposed: ProposedOut
    matches: list[MatchOut]
    missing: list[str]
    mean: float | None
    used: int


class WayOut(Schema):
    """A way that differs in kind, with the tin it draws from; without a recipe, why there is none."""

    way: RecipeKind
    tin: str
    why: str
    recipe: RecipeOut | None


class CrossingOut(Schema):
    """How the edge to another place is drawn: what crosses, with what stroke, how far; `read` is what the picture shows."""

    place: str
    called: str
    kind: EdgeKind
    read: EdgeKind | None
    width_mm: float | None
    from_place: str | None
    layer: int | None
    far_mm: float
    words: str


class SchoolOut(Schema):
    """A school: its medium, what it is good for, its danger, its order of colours in words, stage by stage.

    `id` where it is the artist's own.
    """

    id: UUID | None = None
    slug: str
    name: str
    medium: str
    good_for: str
    danger: str
    order: list[str]
    school: SchoolState


class SchoolsOut(Schema):
    """All schools, those of the artist last; and what a stage may name."""

    schools: list[SchoolOut]
    families: list[str]
    pressures: list[str]
    zones: list[str]


class StripAsked(Strict):
    """What a scrap strip of these layers came out as."""

    place: PlaceId
    layers: Annotated[list[ActShape], Field(min_length=1, max_length=40)]
    tone: Lab


class UnderOut(Schema):
    """One colour beneath another: the tone of the upper one alone and of both, and whether a scrap strip would decide."""

    under: str
    over: str
    layers: list[ActShape]
    strokes: list[str]
    alone: Tone
    tone: Tone
    away: float
    uncertainty: float
    test_first: bool
    grain: list[GrainOut]


class RampOut(Schema):
    """Recipes in even steps from one place to another, both among them; and what is missing, or empty."""

    steps: list[RecipeOut]
    missing: str


class CureAsked(Strict):
    """What went wrong at a place: its layers so far and those still to come, what is wrong, the places drawn around it, and what it
    was measured to be."""

    place: PlaceId
    done: Annotated[list[ActShape], Field(max_length=40)]
    complaint: Complaint | None = None
    beside: Annotated[list[PlaceId], Field(max_length=60)] = []
    looks: Lab | None = None
    planned: Annotated[list[ActShape], Field(max_length=40)] = []


class CureOut(Schema):
    """One cure; its `layers` may be added to the recipe."""

    sentence: str
    tone: Tone
    de00: float
    tooth_used: float
    last_resort: bool
    layers: list[ActShape]


class CuresOut(Schema):
    """What the place looks like now, by how much (ΔE00) otherwise than its layers should show, the cures, best first, and why the
    place is beyond cure, or empty."""

    now: Tone
    astray: float
    cures: list[CureOut]
    incurable: str


class PredictAsked(Strict):
    """Layers to predict for a place."""

    place: PlaceId
    layers: Annotated[list[ActShape], Field(min_length=1, max_length=LAYERS_MOST)]
