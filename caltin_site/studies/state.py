"""The state of a study: everything undo can bring back."""

from collections.abc import Sequence
from datetime import date
from typing import Annotated, Literal
from uuid import UUID

import numpy as np
from pydantic import Field, field_validator, model_validator

from caltin_core.contract.lighting import Kelvin
from caltin_core.contract.shapes import ActShape
from caltin_core.errors import BadRequest
from caltin_core.media.hand import PRESSURES
from caltin_core.media.layers import MAX_PASSES
from caltin_core.plan.finish import UnderDrawing
from caltin_core.plan.order import Route
from caltin_core.recipes.rules import BlackPolicy, Goal
from caltin_core.recipes.school_list import SCHOOLS
from caltin_core.recipes.schools import ZONES, School, Stage, checked
from caltin_core.reference.develop import Develop
from caltin_core.reference.frame import Frame
from caltin_core.reference.range_map import Hold
from caltin_core.reference.roles import NAMES, SLUGS
from caltin_core.reference.sheet import Placement, centred
from caltin_site.shapes import Lab, Strict

# How a recipe was found; `own` is the artist's.
RecipeKind = Literal["closest", "fewest", "softest", "plainest", "no_black", "no_skin_colour", "vivid", "one_tin", "shared", "own"]
# What was laid in error and lifted counts too.
LAYERS_MOST = 40
PlaceId = Annotated[str, Field(min_length=1, max_length=40, pattern=r"^[A-Za-z0-9_-]+$")]


class Place(Strict):
    """A place of the face: where it is on the picture (or nowhere, for a chosen tone), its role and its tone."""

    id: PlaceId
    role: str
    name: Annotated[str, Field(max_length=80)] = ""
    x: float | None = None
    y: float | None = None
    radius: float | None = None
    tone: Lab
    spread: float = 0.0
    # The area of the map it stands for, and what the artist should look at there.
    area: Annotated[int, Field(ge=1, le=255)] | None = None
    flagged: Annotated[str, Field(max_length=120)] = ""

    @model_validator(mode="after")
    def _whole(self) -> "Place":
        if self.role not in SLUGS:
            raise ValueError(f"“{self.role}” is not a role")
        if len({self.x is None, self.y is None, self.radius is None}) != 1:
            raise ValueError("a place on the picture needs x, y and radius")
        return self


class StageState(Strict):
    """One stage of a school of the artist's own."""

    families: list[str]
    pressures: list[str] = list(PRESSURES)
    most: int = MAX_PASSES
    zones: list[str] = list(ZONES)
    wanted: list[str] = []


class SchoolState(Strict):
    """A school of the artist's own, whole, so that a study keeps it as it was chosen."""

    name: Annotated[str, Field(min_length=1, max_length=60)]
    medium: Literal["pencil", "marker", "pastel"]
    good_for: Annotated[str, Field(max_length=160)] = ""
    danger: Annotated[str, Field(max_length=160)] = ""
    stages: Annotated[list[StageState], Field(max_length=12)]

    def school(self) -> School:
        """As the core takes it. Raises BadRequest at the stage that cannot be followed."""
        stages = tuple(
            Stage(tuple(s.families), tuple(s.pressures), s.most, tuple(s.zones), tuple(s.wanted))  # type: ignore[arg-type]
            for s in self.stages
        )
        return checked(School("own", self.name, self.medium, self.good_for, self.danger, stages))

    @model_validator(mode="after")
    def _followed(self) -> "SchoolState":
        try:
            self.school()
        except BadRequest as fault:
            raise ValueError(f"{fault.where}: {fault.what}") from None
        return self


class RulesState(Strict):
    """The rules of a study; `black_by_role` overrides `black`.

    `together`: all places in so many colours, 0 where each is matched by itself. `school` is a slug, or empty; `own` is one
    of the artist's own in its place. `again` counts how often the family was asked to be solved anew, around what is chosen then.
    """

    max_layers: Annotated[int, Field(ge=1, le=12)] = 5
    max_colours: Annotated[int, Field(ge=1, le=18)] = 4
    goal: Goal = "colour"
    black: BlackPolicy = "last"
    black_by_role: dict[str, BlackPolicy] = {}
    avoid: list[str] = []
    prefer: list[str] = []
    together: Annotated[int, Field(ge=0, le=18)] = 0
    school: Annotated[str, Field(max_length=60)] = ""
    own: SchoolState | None = None
    again: Annotated[int, Field(ge=0)] = 0

    @field_validator("school")
    @classmethod
    def _known(cls, slug: str) -> str:
        if slug and slug not in SCHOOLS:
            raise ValueError(f"there is no school “{slug}”")
        return slug

    def taught(self) -> School | None:
        """The school in force, or none."""
        return self.own.school() if self.own else SCHOOLS[self.school] if self.school else None


class CameOut(Strict):
    """What a place was measured to look like when so many layers lay there."""

    after: Annotated[int, Field(ge=1, le=LAYERS_MOST)]
    tone: Lab


class Recipe(Strict):
    """The recipe chosen for a place, and what was measured there on the way."""

    layers: Annotated[list[ActShape], Field(min_length=1, max_length=LAYERS_MOST)]
    kind: RecipeKind = "own"
    seen: CameOut | None = None

    @model_validator(mode="after")
    def _laid(self) -> "Recipe":
        if self.seen and self.seen.after > len(self.layers):
            raise ValueError(f"seen after {self.seen.after} layers, but there are {len(self.layers)}")
        return self

    def seen_with(self, layers: Sequence[ActShape]) -> CameOut | None:
        """What was measured, if other layers begin with those that lay there then."""
        return self.seen if self.seen and list(layers[: self.seen.after]) == self.layers[: self.seen.after] else None

    def changed(self, to: "Recipe") -> "Recipe":
        """Another recipe in its place, which keeps what was measured where it still holds."""
        return to if to.seen else to.model_copy(update={"seen": self.seen_with(to.layers)})


class Token(Strict):
    """A place's own n-th layer."""

    place: PlaceId
    layer: Annotated[int, Field(ge=0)]


class Pins(Strict):
    """The versions the study is planned with."""

    kit: UUID
    paper: UUID
    hand: UUID


class DevelopState(Strict):
    """How the picture is developed: balanced by what (a neutral or a known skin at x, y, or a light of so many kelvin),
    exposure in stops, contrast. `matrix` is what the balance came to, on D50 XYZ by rows."""

    kind: Literal["none", "neutral", "skin", "kelvin", "cast"] = "none"
    x: float | None = None
    y: float | None = None
    known: Lab | None = None
    kelvin: Kelvin | None = None
    matrix: Annotated[list[float], Field(min_length=9, max_length=9)] | None = None
    stops: Annotated[float, Field(ge=-3, le=3)] = 0.0
    contrast: Annotated[float, Field(ge=0.5, le=1.6)] = 1.0

    def develop(self) -> Develop:
        """As the core takes it."""
        return Develop(np.array(self.matrix or np.eye(3).ravel().tolist()).reshape(3, 3), self.stops, self.contrast)


class FrameState(Strict):
    """The crop: its middle and size in pixels of the picture, turned clockwise by `angle` degrees."""

    x: float
    y: float
    width: Annotated[float, Field(gt=0)]
    height: Annotated[float, Field(gt=0)]
    angle: float = 0.0

    def frame(self) -> Frame:
        """As the core takes it."""
        return Frame(self.x, self.y, self.width, self.height, self.angle)


class SheetState(Strict):
    """The paper and the picture's place on it in millimetres, and what is drawn over both; `eye_line` is a share of the
    picture's height."""

    width: float = 210.0
    height: float = 297.0
    left: float | None = None
    top: float | None = None
    across: float | None = None
    grid: Annotated[float, Field(ge=2, le=500)] | None = None
    diagonals: bool = False
    cross: bool = False
    eye_line: Annotated[float, Field(ge=0, le=1)] | None = None

    def placement(self, aspect: float, margin: float = 15.0) -> Placement:
        """As the core takes it; what is left open is centred inside a `margin`."""
        if self.left is None or self.top is None or self.across is None:
            return centred(self.width, self.height, aspect, margin)
        return Placement(self.width, self.height, self.left, self.top, self.across)


class PlannedState(Strict):
    """A light one plans for a complexion: `base` in plain light; the key's kelvin, its `elevation` and `azimuth` in degrees (0 from
    the viewer, 90 from the right, 180 from behind); the fill's kelvin and how many stops it is below the key; and a thing
    beside that throws the key back, as strongly as `strength` says."""

    base: Lab
    kelvin: Kelvin = 5500
    elevation: Annotated[float, Field(ge=-90, le=90)] = 35
    azimuth: Annotated[float, Field(ge=-180, le=180)] = -45
    fill_kelvin: Kelvin = 6500
    stops_below: Annotated[float, Field(ge=0, le=6)] = 2
    bounce: Lab | None = None
    strength: Annotated[float, Field(ge=0, le=1)] = 0.5


class State(Strict):
    """Everything undo can bring back."""

    title: Annotated[str, Field(min_length=1, max_length=120)]
    note: Annotated[str, Field(max_length=20_000)] = ""
    drawn_on: date | None = None
    pins: Pins
    picture: UUID | None = None
    develop: DevelopState = DevelopState()
    frame: FrameState | None = None
    areas: UUID | None = None
    light: Annotated[float, Field(ge=0, lt=360)] | None = None
    planned: PlannedState | None = None
    sheet: SheetState = SheetState()
    places: list[Place] = []
    rules: RulesState = RulesState()
    range_on: bool = True
    range_hold: Hold = "skin"
    range_middle: Annotated[float, Field(ge=0, le=100)] | None = None
    recipes: dict[PlaceId, Recipe] = {}
    order: list[Token] = []
    route: Route = "sheet"
    sitting_minutes: Annotated[int, Field(ge=5, le=600)] | None = None
    finish: dict[PlaceId, Annotated[float, Field(ge=0, le=1)]] = {}
    under_drawing: UnderDrawing = "none"

    def place(self, id: str) -> Place | None:
        """The place of this id."""
        return next((p for p in self.places if p.id == id), None)

    def names(self) -> dict[str, str]:
        """What every place is called, by its id: of two that have only their role's name, on which side of the other it lies."""
        alike: dict[str, list[Place]] = {}
        for p in self.places:
            if not p.name:
                alike.setdefault(p.role, []).append(p)
        out = {p.id: called(p) for p in self.places}
        for some in alike.values():
            if len(some) == 2:
                out.update({p.id: f"{side} {out[p.id]}" for p, side in zip(some, _sides(*some), strict=True) if side})
        return out


def _sides(one: Place, other: Place) -> tuple[str, str]:
    """Where each of two places lies beside the other on the picture; nothing of places that lie on none."""
    if one.x is None or one.y is None or other.x is None or other.y is None:
        return "", ""
    across, down = other.x - one.x, other.y - one.y
    if abs(across) < abs(down):
        return ("upper", "lower") if down > 0 else ("lower", "upper")
    return ("left", "right") if across > 0 else ("right", "left") if across < 0 else ("", "")


def called(place: Place) -> str:
    """A place's own name, or its role's."""
    return place.name or NAMES[place.role]
