"""The command `match`."""

from typing import Annotated, Any, Literal

from pydantic import Discriminator, Field, Tag

from caltin_core.colour.spaces import hex_from_lab
from caltin_core.contract.predicting import After, after_each
from caltin_core.contract.shapes import (
    AnyLayer,
    Coloured,
    ColourShape,
    HandShape,
    Kit,
    LabOut,
    LayShape,
    Medium,
    Shape,
    Surface,
    rounded,
)  # fmt: skip
from caltin_core.media.predict import Start, Workbench, predict
from caltin_core.recipes.match import Match, Target, matches
from caltin_core.recipes.rules import BlackPolicy, Goal, Rules
from caltin_core.recipes.schools import SCHOOLS


class StartLayers(Shape):
    """A drawn state given by its layers."""

    layers: list[AnyLayer]


class StartColour(Coloured):
    """A drawn state given by what is seen and how much of the tooth is used."""

    tooth_used: Annotated[float, Field(ge=0, le=1, allow_inf_nan=False)]
    medium: Medium


def _start_kind(value: Any) -> str:
    by_layers = "layers" in value if isinstance(value, dict) else isinstance(value, StartLayers)
    return "~layers" if by_layers else "~colour"


class TargetShape(Coloured):
    """One role's target."""

    role: str
    black: BlackPolicy | None = None
    start: Annotated[
        Annotated[StartLayers, Tag("~layers")] | Annotated[StartColour, Tag("~colour")], Discriminator(_start_kind)
    ] | None = None  # fmt: skip


class RulesShape(Shape):
    """What a recipe may do; `school` is one of the pencil's."""

    max_layers: Annotated[int, Field(ge=1, strict=True)] = 5
    max_colours: Annotated[int, Field(ge=1, strict=True)] = 4
    school: Literal[*SCHOOLS] | None = None  # type: ignore[valid-type]
    black: BlackPolicy = "last"
    avoid: list[str] = []
    prefer: list[str] = []
    goal: Goal = "colour"


class MatchRequest(Shape):
    """What `match` is asked."""

    surface: Surface
    colours: list[ColourShape]
    hand: HandShape | None = None
    targets: list[TargetShape]
    rules: RulesShape = RulesShape()


class RecipeShape(Shape):
    """One recipe: `dl`, `dc`, `dh` are CIELAB ΔL*, ΔC*ab and signed ΔH*ab, recipe minus target."""

    kind: Literal["closest", "fewest", "softest"]
    layers: list[LayShape]
    lab: LabOut
    hex: str
    de00: float
    dl: float
    dc: float
    dh: float
    words: str
    uncertainty_de00: float
    after: list[After]
    tooth_used: float


class InReach(Shape):
    """The target can be met."""

    ok: Literal[True]


class OutOfReach(Shape):
    """The target cannot be met; why, the nearest there is, and what would open it."""

    ok: Literal[False]
    why: str
    nearest_lab: LabOut
    would_help: str


class MatchShape(Shape):
    """What was found for one role."""

    role: str
    target: LabOut
    recipes: list[RecipeShape]
    reach: InReach | OutOfReach


class MatchAnswer(Shape):
    """What `match` answers."""

    matches: list[MatchShape]


def _target(kit: Kit, bench: Workbench, shape: TargetShape, where: str) -> Target:
    start = None
    if isinstance(shape.start, StartLayers):
        drawn = predict(bench, [kit.layers(list(shape.start.layers), f"{where}.start.layers")])[0]
        start = Start(drawn.reflectance, drawn.tooth_used)
    elif shape.start is not None:
        start = Start(shape.start.as_reflectance(f"{where}.start"), shape.start.tooth_used)
    return Target(shape.role, shape.as_lab(where), shape.black, start)


def told(kit: Kit, found: Match) -> MatchShape:
    """One match as the contract writes it."""
    recipes = [
        RecipeShape(
            kind=r.kind, layers=kit.said(r.layers), lab=rounded(r.prediction.lab), hex=hex_from_lab(r.prediction.lab)[0],
            de00=round(r.difference.de00, 4), dl=round(r.difference.dl, 4), dc=round(r.difference.dc, 4),
            dh=round(r.difference.dh, 4), words=r.words, uncertainty_de00=round(r.prediction.uncertainty, 4),
            after=after_each(r.prediction), tooth_used=round(r.prediction.tooth_used, 5),
        )
        for r in found.recipes
    ]  # fmt: skip
    reach: InReach | OutOfReach = InReach(ok=True)
    if not found.reach.ok and found.reach.nearest is not None:
        nearest = rounded(found.reach.nearest)
        reach = OutOfReach(ok=False, why=found.reach.why, nearest_lab=nearest, would_help=found.reach.would_help)
    return MatchShape(role=found.role, target=rounded(found.target), recipes=recipes, reach=reach)


def run(request: MatchRequest) -> MatchAnswer:
    """Match every target of the request, in its order."""
    kit = Kit(request.surface, request.colours, request.hand)
    bench = Workbench(kit.swatches, kit.ground, kit.hand)
    targets = [_target(kit, bench, shape, f"targets[{i}]") for i, shape in enumerate(request.targets)]
    asked = request.rules
    named = {
        name: frozenset(kit.known(colour, f"rules.{name}[{i}]") for i, colour in enumerate(getattr(asked, name)))
        for name in ("avoid", "prefer")
    }
    rules = Rules(asked.max_layers, asked.max_colours, asked.black, named["avoid"], named["prefer"], asked.goal, asked.school)
    return MatchAnswer(matches=[told(kit, found) for found in matches(bench, targets, rules)])
