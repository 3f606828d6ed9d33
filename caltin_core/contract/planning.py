"""The command `plan`."""

from typing import Annotated, Literal

from pydantic import Field

from caltin_core.contract.command import Command
from caltin_core.contract.kit import Kit
from caltin_core.contract.shapes import SHARE_DECIMALS, AnyLayer, ColourShape, HandShape, Id, Pressure, Shape, Surface
from caltin_core.errors import BadRequest
from caltin_core.media.layers import COAT, Lay
from caltin_core.media.workbench import Workbench
from caltin_core.plan.finish import UnderDrawing
from caltin_core.plan.make import Conflict, Plan, plan
from caltin_core.plan.order import Route
from caltin_core.plan.steps import Area, Does, Step
from caltin_core.plan.using import A4
from caltin_core.recipes.school_list import SCHOOLS
from caltin_core.reference.edges import EdgeKind

_MOST_AREAS = 400
Share = Annotated[float, Field(ge=0, le=1, allow_inf_nan=False)]


class NeighbourShape(Shape):
    """An area that another touches, and the edge between, with its width on the paper where that is known."""

    area: str
    edge: EdgeKind
    width_mm: Annotated[float, Field(gt=0, le=1000, allow_inf_nan=False)] | None = None


class AreaShape(Shape):
    """An area to draw; `x` and `y`, where its middle lies on the sheet (0-1 from the left and from above), may be left out, as may
    `finish`, from grainy (0) to smooth (1): a smooth one may add a blend at the end."""

    id: Id
    layers: list[AnyLayer]
    share: Share
    neighbours: list[NeighbourShape] = []
    x: Share | None = None
    y: Share | None = None
    finish: Share | None = None


class PlanRequest(Shape):
    """What `plan` is asked; `sheet_cm2` is the size of the sheet, A4 if it is not said."""

    surface: Surface
    colours: list[ColourShape]
    hand: HandShape | None = None
    areas: Annotated[list[AreaShape], Field(max_length=_MOST_AREAS)]
    route: Route
    school: Literal[*SCHOOLS] | None = None  # type: ignore[valid-type]
    handed: Literal["right", "left"] = "right"
    sitting_minutes: Annotated[float, Field(gt=0, allow_inf_nan=False)] | None = None
    under_drawing: UnderDrawing = "none"
    sheet_cm2: Annotated[float, Field(gt=0, le=1e6, allow_inf_nan=False)] = A4


class StepShape(Shape):
    """One step. `kind` says what a blend or a lift is done with; `edges` how the layer is carried over edges; `cm2` what
    it takes of its colour, in square centimetres of one even medium pass, or of one coat."""

    act: Does
    colour: str | None = None
    pressure: Pressure | None = None
    passes: int | None = None
    point: Literal["sharp", "side"] | None = None
    turned: bool | None = None
    wet: bool | None = None
    kind: str | None = None
    areas: list[str]
    minutes: float
    cm2: float | None = None
    stop_when: str | None = None
    why: str | None = None
    edges: list[str] | None = None


class SittingShape(Shape):
    """The first and the last step of a sitting, counted from 0."""

    from_: Annotated[int, Field(alias="from", serialization_alias="from")]
    to: int


class ConflictShape(Shape):
    """What cannot be as asked, and the nearest that can."""

    areas: list[str]
    what: str
    nearest: str


class PlanAnswer(Shape):
    """What `plan` answers; `colour_changes` counts from the second colour on."""

    steps: list[StepShape]
    sittings: list[SittingShape]
    colour_changes: int
    tooth_used: dict[str, float]
    cautions: list[str]
    conflicts: list[ConflictShape]


def _areas(kit: Kit, asked: list[AreaShape], sheets: float) -> list[Area]:
    """The areas as the core knows them, on a sheet as large as so many A4 sheets.

    Raises BadRequest at a name that is there twice, is none, or is its own neighbour.
    """
    place: dict[str, int] = {}
    for index, a in enumerate(asked):
        if a.id in place:
            raise BadRequest(f"areas[{index}].id", f"“{a.id}” is there twice")
        place[a.id] = index
    out = []
    for index, a in enumerate(asked):
        beside, widths = [], {}
        for number, n in enumerate(a.neighbours):
            where = f"areas[{index}].neighbours[{number}].area"
            if n.area not in place:
                raise BadRequest(where, f"there is no area “{n.area}”")
            if n.area == a.id:
                raise BadRequest(where, "an area is not its own neighbour")
            beside.append((place[n.area], n.edge))
            if n.width_mm is not None:
                widths[place[n.area]] = n.width_mm
        if (a.x is None) != (a.y is None):
            raise BadRequest(f"areas[{index}]", "where an area lies needs x and y")
        at = (a.x, a.y) if a.x is not None and a.y is not None else None
        layers = tuple(kit.layers(list(a.layers), f"areas[{index}].layers"))
        out.append(Area(a.id, layers, a.share * sheets, tuple(beside), at, a.finish, widths=widths))
    return out


def _step(kit: Kit, ids: list[str], found: Plan, at: int, step: Step) -> StepShape:
    shape = StepShape(
        act=step.does, areas=[ids[a] for a in step.areas], minutes=round(step.minutes, 2), stop_when=step.stop_when or None,
        why=step.why or None, edges=list(found.edges[at]) if at in found.edges else None,
    )  # fmt: skip
    layer = step.layer
    if not isinstance(layer, Lay):
        return shape.model_copy(update={"kind": layer.kind if layer else None})
    stroke = layer.stroke
    said = {"colour": kit.ids[layer.colour], "passes": stroke.passes, "cm2": round(step.cm2, 2)}
    coats = stroke.pressure == COAT
    how = {"wet": stroke.wet} if coats else {"pressure": stroke.pressure, "point": stroke.point, "turned": stroke.turned}
    return shape.model_copy(update={**said, **how})


def _conflict(ids: list[str], found: Conflict) -> ConflictShape:
    return ConflictShape(areas=[ids[a] for a in found.areas], what=found.what, nearest=found.nearest)


def run(request: PlanRequest) -> PlanAnswer:
    """Put recipes over areas in order."""
    kit = Kit.by_id(request.surface, request.colours, request.hand)
    bench = Workbench(kit.swatches, kit.ground, kit.hand)
    areas = _areas(kit, request.areas, request.sheet_cm2 / A4)
    school = SCHOOLS[request.school] if request.school else None
    found = plan(
        bench, areas, request.route, school, request.handed == "right", request.sitting_minutes, under_drawing=request.under_drawing
    )  # fmt: skip
    ids = [a.id for a in areas]
    return PlanAnswer(
        steps=[_step(kit, ids, found, at, s) for at, s in enumerate(found.steps)],
        sittings=[SittingShape(**{"from": first, "to": last}) for first, last in found.sittings],
        colour_changes=found.colour_changes,
        tooth_used={i: round(used, SHARE_DECIMALS) for i, used in zip(ids, found.tooth_used, strict=True)},
        cautions=list(found.cautions), conflicts=[_conflict(ids, c) for c in found.conflicts],
    )  # fmt: skip


COMMANDS = {"plan": Command(PlanRequest, PlanAnswer, run)}
