"""What can be done to a study, and the state after it. Pure: readings and proposals are handed in."""

from dataclasses import dataclass, field
from datetime import date
from typing import Annotated, Any, Literal
from uuid import UUID

from pydantic import Field

from caltin_core.contract.shapes import ActShape
from caltin_core.errors import BadRequest
from caltin_core.plan.finish import UnderDrawing
from caltin_core.plan.order import Route
from caltin_core.reference.range_map import Hold
from caltin_core.reference.roles import NAMES
from caltin_site.shapes import Lab, Strict
from caltin_site.studies.state import (
    LAYERS_MOST,
    DevelopState,
    FrameState,
    Place,
    PlaceId,
    PlannedState,
    Recipe,
    RecipeKind,
    RulesState,
    SheetState,
    State,
    Token,
)

Text = Annotated[str, Field(max_length=80)]
SOLVED_AGAIN = "solved again from what lies there"
_WHY = {"solved_again": SOLVED_AGAIN, "library": "took recipes from the library"}


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
    """A recipe chosen or edited."""

    do: Literal["set_recipe"]
    place: PlaceId
    layers: Annotated[list[ActShape], Field(min_length=1, max_length=LAYERS_MOST)]
    kind: RecipeKind = "own"


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


def called(place: Place) -> str:
    """A place's own name, or its role's."""
    return place.name or NAMES[place.role]


@dataclass(frozen=True)
class Found:
    """What was looked up for a change: the tone and spread of places read, the balance, the new map of areas, and the
    places as they stand on it; of a planned light its tones by role, and where it comes from."""

    readings: dict[str, tuple[Lab, float]] = field(default_factory=dict)
    tones: dict[str, Lab] = field(default_factory=dict)
    direction: float | None = None
    develop: DevelopState | None = None
    areas: UUID | None = None
    places: list[Place] | None = None


_AREA_LABELS = {
    "propose_areas": "proposed the zones", "paint_area": "redrew a zone", "add_area": "added a zone", "merge_areas": "merged zones",
    "split_area": "parted a zone",
}  # fmt: skip


def _read_again(state: State, found: Found) -> list[Place]:
    """The places with the tones read for them."""
    out = []
    for place in state.places:
        tone, spread = found.readings.get(place.id, (place.tone, place.spread))
        out.append(place.model_copy(update={"tone": tone, "spread": spread}))
    return out


def _existing(state: State, id: str) -> Place:
    place = state.place(id)
    if place is None:
        raise BadRequest("id", "this place is no longer there")
    return place


def _with(state: State, place: Place) -> list[Place]:
    return [place if p.id == place.id else p for p in state.places]


def _placed(state: State, places: list[Place], **more: Any) -> State:
    """The state with other places; a place whose tone has changed gives up its recipe, one that is gone its steps."""
    tones = {p.id: p.tone for p in state.places}
    kept = {p.id for p in places}
    recipes = {k: v for k, v in state.recipes.items() if k in kept and tones[k] == next(p.tone for p in places if p.id == k)}
    order = [t for t in state.order if t.place in kept]
    return state.model_copy(update={"places": places, "recipes": recipes, "order": order, **more})


def _planned(state: State, op: PlanLight, found: Found) -> list[Place]:
    """The places with the tones of a planned light: those of the roles asked that lie on no picture, the others added."""
    out = list(state.places)
    for index, role in enumerate(op.roles):
        if role not in found.tones:
            raise BadRequest(f"roles[{index}]", "a planned light tells nothing of this role")
        tone = found.tones[role]
        at = next((i for i, p in enumerate(out) if p.role == role and p.x is None and p.area is None), None)
        if at is None:
            ids = {p.id for p in out}
            id = next(i for i in (role, *(f"{role}-{n}" for n in range(2, len(ids) + 3))) if i not in ids)
            out.append(Place(id=id, role=role, tone=tone))
        else:
            out[at] = out[at].model_copy(update={"tone": tone})
    return out


def apply(state: State, op: Op, *, found: Found, proposed: dict[str, Recipe], order: list[Token]) -> tuple[State, str]:
    """The state after `op`, and its label for the history.

    `found` is what was read for it; `proposed` are recipes for places without one; `order` is the checked order of
    `OrderSteps`.
    """
    change = state.model_copy
    match op:
        case Rename():
            return change(update={"title": op.title}), f"renamed to {op.title}"
        case Note():
            return change(update={"note": op.note, "drawn_on": op.drawn_on}), "wrote the note"
        case AddPlace():
            if state.place(op.id):
                raise BadRequest("id", "this place is there already")
            tone, spread = found.readings.get(op.id, (op.tone, 0.0))
            if tone is None:
                raise BadRequest("tone", "a place needs a tone, or somewhere to read it")
            place = Place(id=op.id, role=op.role, name=op.name, x=op.x, y=op.y, radius=op.radius, tone=tone, spread=spread)
            return change(update={"places": [*state.places, place]}), f"added {called(place)}"
        case EditPlace():
            before = _existing(state, op.id)
            given = op.model_dump(exclude={"do", "id", "tone", "looked"}, exclude_none=True)
            tone, spread = found.readings.get(op.id, (op.tone or before.tone, before.spread))
            if op.looked or op.role:
                given["flagged"] = ""
            place = Place.model_validate({**before.model_dump(), **given, "tone": tone, "spread": spread})
            return _placed(state, _with(state, place)), f"changed {called(place)}"
        case RemovePlace():
            gone = _existing(state, op.id)
            areas = found.areas or state.areas
            return _placed(state, [p for p in state.places if p.id != op.id], areas=areas), f"removed {called(gone)}"
        case SetRules():
            return change(update={"rules": op.rules}), "changed the rules"
        case SetRange():
            bent = {"range_on": op.on, "range_hold": op.hold, "range_middle": op.middle}
            return change(update=bent), f"range map {'on' if op.on else 'off'}" if op.on != state.range_on else "bent the range map"
        case SetDevelop():
            return _placed(state, _read_again(state, found), develop=found.develop or op.develop), "balanced the picture"
        case SetFrame():
            return change(update={"frame": op.frame}), "cropped the picture" if op.frame else "took the crop back"
        case UsePicture():
            places = found.places if found.places is not None else state.places
            frame = None
            more = {"picture": op.picture, "areas": found.areas, "frame": frame, "develop": DevelopState()}
            return _placed(state, places, **more), "put another picture in"
        case SetLight():
            return change(
                update={"light": op.direction}
            ), "set the light" if op.direction is not None else "left the light as it is read"
        case PlanLight():
            light = {"planned": op.planned, "light": found.direction}
            return _placed(state, _planned(state, op, found), **light), "took the tones of a planned light"
        case SetSheet():
            return change(update={"sheet": op.sheet}), "changed the paper"
        case ProposeAreas() | PaintArea() | AddArea() | MergeAreas() | SplitArea():
            places = found.places if found.places is not None else state.places
            return _placed(state, places, areas=found.areas), _AREA_LABELS[op.do]
        case SetRecipe():
            place = _existing(state, op.place)
            recipe = Recipe(layers=op.layers, kind=op.kind)
            kept = [t for t in state.order if t.place != op.place or t.layer < len(op.layers)]
            return change(update={"recipes": {**state.recipes, op.place: recipe}, "order": kept}), f"recipe of {called(place)}"
        case ClearRecipe():
            if op.place is None:
                afresh = state.rules.model_copy(update={"again": state.rules.again + 1})
                return change(update={"recipes": {}, "rules": afresh}), "let go of all chosen recipes"
            place = _existing(state, op.place)
            left = {k: v for k, v in state.recipes.items() if k != op.place}
            return change(update={"recipes": left}), f"proposed recipe for {called(place)}"
        case Settle():
            return change(update={"recipes": {**proposed, **state.recipes}}), "took the proposed recipes"
        case TakeRecipes():
            after = {**state.recipes, **{k: v for k, v in op.recipes.items() if state.place(k)}}
            kept = [t for t in state.order if t.place not in op.recipes or t.layer < len(op.recipes[t.place].layers)]
            return change(update={"recipes": after, "order": kept}), _WHY[op.why]
        case OrderSteps():
            return change(update={"order": order}), "changed the order of the steps" if order else "back to the proposed order"
        case SetRoute():
            order_left = [] if op.route != state.route else state.order
            so = {"route": op.route, "sitting_minutes": op.sitting_minutes, "order": order_left}
            return change(update=so), "chose the way through the drawing"
        case SetFinish():
            place = _existing(state, op.place)
            wanted = {k: v for k, v in state.finish.items() if k != op.place}
            if op.finish is not None:
                wanted[op.place] = op.finish
            return change(update={"finish": wanted}), f"finish of {called(place)}"
        case SetUnderDrawing():
            return change(update={"under_drawing": op.under_drawing}), "chose the under-drawing"
        case UseVersions():
            pins = state.pins.model_copy(update=op.model_dump(exclude={"do", "let_go"}, exclude_none=True))
            return change(update={"pins": pins}), "took newer versions"
