"""What can be done to a study, and the state after it. Pure: readings and proposals are handed in."""

from dataclasses import dataclass, field
from typing import Any
from uuid import UUID

from caltin_core.errors import BadRequest
from caltin_site.shapes import Lab
from caltin_site.studies.ops import (
    AddArea,
    AddPlace,
    ClearRecipe,
    EditPlace,
    MergeAreas,
    Note,
    Op,
    OrderSteps,
    PaintArea,
    PlanLight,
    ProposeAreas,
    RemovePlace,
    Rename,
    SeePlace,
    SetDevelop,
    SetFinish,
    SetFrame,
    SetLight,
    SetRange,
    SetRecipe,
    SetRoute,
    SetRules,
    SetSheet,
    Settle,
    SetUnderDrawing,
    SplitArea,
    TakeRecipes,
    UsePicture,
    UseVersions,
)
from caltin_site.studies.state import (
    DevelopState,
    Place,
    Recipe,
    State,
    Token,
    called,
)

SOLVED_AGAIN = "solved again from what lies there"
_WHY = {"solved_again": SOLVED_AGAIN, "library": "took recipes from the library"}


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


def _changed(state: State, place: str, to: Recipe) -> Recipe:
    """The recipe to take the place of the one chosen there."""
    before = state.recipes.get(place)
    return before.changed(to) if before else to


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
            recipe = _changed(state, op.place, Recipe(layers=op.layers, kind=op.kind))
            kept = [t for t in state.order if t.place != op.place or t.layer < len(op.layers)]
            return change(update={"recipes": {**state.recipes, op.place: recipe}, "order": kept}), f"recipe of {called(place)}"
        case SeePlace():
            place, drawn = _existing(state, op.place), state.recipes.get(op.place)
            if drawn is None or (op.seen and op.seen.after > len(drawn.layers)):
                raise BadRequest("seen.after", f"{called(place)} has no recipe with so many layers")
            seen = {**state.recipes, op.place: drawn.model_copy(update={"seen": op.seen})}
            return change(update={"recipes": seen}), f"measured {called(place)}"
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
            after = {**state.recipes, **{k: _changed(state, k, v) for k, v in op.recipes.items() if state.place(k)}}
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
