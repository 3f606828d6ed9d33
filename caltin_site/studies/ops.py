"""What can be asked of a study: each change with what it takes."""

from datetime import date
from typing import Annotated, Literal
from uuid import UUID

from pydantic import Field

from caltin_core.contract.shapes import ActShape
from caltin_core.plan.finish import UnderDrawing
from caltin_core.plan.order import Route
from caltin_core.reference.range_map import Hold
from caltin_site.shapes import Lab, Strict
from caltin_site.studies.state import (
    LAYERS_MOST,
    CameOut,
    DevelopState,
    FrameState,
    PlaceId,
    PlannedState,
    Recipe,
    RecipeKind,
    RulesState,
    SheetState,
    Token,
)

Text = Annotated[str, Field(max_length=80)]


class Rename(Strict):
    """Another title."""

    do: Literal["rename"]
    title: Annotated[str, Field(min_length=1, max_length=120)]


class Note(Strict):
    """Note and date."""

    do: Literal["note"]
    note: Annotated[str, Field(max_length=20_000)]
    drawn_on: date | None = None


class AddPlace(Strict):
    """A place touched on the picture, or a tone chosen without one."""

    do: Literal["add_place"]
    id: PlaceId
    role: str
    name: Text = ""
    x: float | None = None
    y: float | None = None
    radius: float | None = None
    tone: Lab | None = None


class EditPlace(Strict):
    """A place moved, resized, renamed, or given another role or tone; what is left out stays."""

    do: Literal["edit_place"]
    id: PlaceId
    role: str | None = None
    name: Text | None = None
    x: float | None = None
    y: float | None = None
    radius: float | None = None
    tone: Lab | None = None
    looked: bool | None = None


class RemovePlace(Strict):
    """A place taken away, with its recipe and its area."""

    do: Literal["remove_place"]
    id: PlaceId


class SetRules(Strict):
    """Other rules."""

    do: Literal["set_rules"]
    rules: RulesState


class SetRange(Strict):
    """The range map on or off, and how it is bent: what it holds, or where the skin's middle goes (L*)."""

    do: Literal["set_range"]
    on: bool
    hold: Hold = "skin"
    middle: Annotated[float, Field(ge=0, le=100)] | None = None


class SetDevelop(Strict):
    """Another balance, exposure or contrast; every tone is read again."""

    do: Literal["set_develop"]
    develop: DevelopState


class SetFrame(Strict):
    """Another crop, or none."""

    do: Literal["set_frame"]
    frame: FrameState | None = None


class UsePicture(Strict):
    """Another picture in place of this one; places and areas keep where they are on it and are read again."""

    do: Literal["use_picture"]
    picture: UUID


class SetLight(Strict):
    """Where the light comes from, in degrees anticlockwise from the right; None: as it is read."""

    do: Literal["set_light"]
    direction: Annotated[float, Field(ge=0, lt=360)] | None = None


class PlanLight(Strict):
    """The tones of a planned light, taken for these roles: places without a picture get them, or are added."""

    do: Literal["plan_light"]
    planned: PlannedState
    roles: Annotated[list[str], Field(min_length=1, max_length=40)]


class SetSheet(Strict):
    """Paper size, the picture's place on it, and what is drawn over both."""

    do: Literal["set_sheet"]
    sheet: SheetState


class At(Strict):
    """A pixel of the picture."""

    x: Annotated[float, Field(allow_inf_nan=False)]
    y: Annotated[float, Field(allow_inf_nan=False)]


class ProposeAreas(Strict):
    """Zones proposed afresh, from one touch of the skin where it is given; places without an area stay."""

    do: Literal["propose_areas"]
    touched: At | None = None


class PaintArea(Strict):
    """An area drawn larger or smaller by a brush's path, or by a lasso when no radius is given."""

    do: Literal["paint_area"]
    id: PlaceId
    path: Annotated[list[At], Field(min_length=1, max_length=4000)]
    radius: Annotated[float, Field(gt=0)] | None = None
    add: bool = True


class AddArea(Strict):
    """A new zone: drawn by brush or lasso, or the closed area of a line drawing that was touched (one point, no radius)."""

    do: Literal["add_area"]
    id: PlaceId
    role: str
    name: Text = ""
    path: Annotated[list[At], Field(min_length=1, max_length=4000)]
    radius: Annotated[float, Field(gt=0)] | None = None
    tone: Lab | None = None


class MergeAreas(Strict):
    """Zones made one."""

    do: Literal["merge_areas"]
    id: PlaceId
    others: Annotated[list[PlaceId], Field(min_length=1)]


class SplitArea(Strict):
    """A zone parted in two: its pieces, or its lighter and darker half."""

    do: Literal["split_area"]
    id: PlaceId
    new: PlaceId


class SetRecipe(Strict):
    """A recipe chosen or edited. What was measured on the way stays where it still holds."""

    do: Literal["set_recipe"]
    place: PlaceId
    layers: Annotated[list[ActShape], Field(min_length=1, max_length=LAYERS_MOST)]
    kind: RecipeKind = "own"


class SeePlace(Strict):
    """What a place was measured to look like when so many layers of its recipe lay there; None: not any more."""

    do: Literal["see_place"]
    place: PlaceId
    seen: CameOut | None


class ClearRecipe(Strict):
    """Back to what is proposed: for one place, or for all, which are then solved afresh."""

    do: Literal["clear_recipe"]
    place: PlaceId | None = None


class Settle(Strict):
    """Take what is proposed for every place that has no recipe yet."""

    do: Literal["settle"]


class TakeRecipes(Strict):
    """Recipes for several places: solved again from what lies on the paper, or out of the library."""

    do: Literal["take_recipes"]
    recipes: Annotated[dict[PlaceId, Recipe], Field(min_length=1)]
    why: Literal["solved_again", "library"]


class OrderSteps(Strict):
    """The artist's own order of presses; each a list of the layers it serves. An empty list: Caltin's order.

    `mend` takes the nearest order that can be, where this one cannot.
    """

    do: Literal["order_steps"]
    steps: list[list[Token]]
    mend: bool = False


class SetRoute(Strict):
    """The way through the drawing, in place of an order of one's own; and how long a sitting is, in minutes."""

    do: Literal["set_route"]
    route: Route
    sitting_minutes: Annotated[int, Field(ge=5, le=600)] | None = None


class SetFinish(Strict):
    """The finish wanted on a place, from grainy (0) to smooth (1); None: as its layers leave it."""

    do: Literal["set_finish"]
    place: PlaceId
    finish: Annotated[float, Field(ge=0, le=1)] | None = None


class SetUnderDrawing(Strict):
    """What the drawing beneath the colours is made with."""

    do: Literal["set_under_drawing"]
    under_drawing: UnderDrawing


class UseVersions(Strict):
    """Plan with other versions from now on; what is left out stays. With `let_go`, chosen recipes that the kit cannot lay are let
    go of; without, they forbid it."""

    do: Literal["use_versions"]
    kit: UUID | None = None
    paper: UUID | None = None
    hand: UUID | None = None
    let_go: bool = False


Op = Annotated[
    Rename
    | Note
    | AddPlace
    | EditPlace
    | RemovePlace
    | SetRules
    | SetRange
    | SetDevelop
    | SetFrame
    | UsePicture
    | SetLight
    | PlanLight
    | SetSheet
    | ProposeAreas
    | PaintArea
    | AddArea
    | MergeAreas
    | SplitArea
    | SetRecipe
    | SeePlace
    | ClearRecipe
    | Settle
    | TakeRecipes
    | OrderSteps
    | SetRoute
    | SetFinish
    | SetUnderDrawing
    | UseVersions,
    Field(discriminator="do"),
]
