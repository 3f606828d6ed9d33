"""The command `match`."""

import re
from typing import Annotated, Any, Literal, get_args

from pydantic import Discriminator, Field, Tag

from caltin_core.colour.spaces import hex_from_lab
from caltin_core.contract.command import Command
from caltin_core.contract.kit import Kit
from caltin_core.contract.predicting import After, after_each
from caltin_core.contract.shapes import (
    SHARE_DECIMALS,
    AnyLayer,
    CoatShape,
    Coloured,
    ColourShape,
    HandShape,
    Illuminant,
    LabOut,
    LayShape,
    Medium,
    Shape,
    Surface,
    rounded,
)  # fmt: skip
from caltin_core.errors import BadRequest
from caltin_core.media.cautions import fresh_cautions
from caltin_core.media.kinds import MEDIA
from caltin_core.media.lights import Drift, drift
from caltin_core.media.predict import predict
from caltin_core.media.workbench import Start, Workbench
from caltin_core.recipes.match import Match, Recipe, all_matches
from caltin_core.recipes.rules import BlackPolicy, Goal, Rules
from caltin_core.recipes.school_list import SCHOOLS
from caltin_core.recipes.targets import Target
from caltin_core.reference.roles import is_skin


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
    """What a recipe may do; `school` is the slug of a school."""

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
    lights: list[Illuminant] = []


class LightShape(Shape):
    """The recipe in another light: how far from the target there, or from itself where the target has no spectrum.

    Without `lab` it is not known: a spectrum was made up.
    """

    illuminant: Illuminant
    lab: LabOut | None = None
    target: LabOut | None = None
    de00: float | None = None
    words: str


# The kinds of recipe that the contract knows.
ContractKind = Literal["closest", "fewest", "softest"]
KINDS = get_args(ContractKind)


class RecipeShape(Shape):
    """One recipe: `dl`, `dc`, `dh` are CIELAB ΔL*, ΔC*ab and signed ΔH*ab, recipe minus target.

    `equal`: no further from the target than the best, as far as the hand can tell. `lights`: as they were asked for.
    """

    kind: ContractKind
    layers: list[LayShape | CoatShape]
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
    equal: bool
    lights: list[LightShape] | None = None
    cautions: list[str] | None = None


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


def target_of(kit: Kit, bench: Workbench, shape: TargetShape, where: str) -> Target:
    """A target as the core knows it."""
    start = None
    if isinstance(shape.start, StartLayers):
        before = tuple(kit.layers(list(shape.start.layers), f"{where}.start.layers"))
        drawn = predict(bench, [before])[0]
        start = Start(drawn.reflectance, drawn.tooth_used, drawn.uptake, before)
    elif shape.start is not None:
        medium, used = MEDIA[shape.start.medium], shape.start.tooth_used
        dye = medium.kind == "dye"
        held = used * medium.uptake if dye and not medium.permanent else 0.0
        seen = shape.start.as_reflectance(f"{where}.start")
        start = Start(seen, 0.0 if dye else used, held, medium=medium.slug, made_up=shape.start.reflectance is None)
    spectrum = shape.as_reflectance(where) if shape.reflectance is not None else None
    skin = is_skin(re.sub(r"[\s-]+", "_", shape.role.strip().lower()))
    return Target(shape.role, shape.as_lab(where), shape.black, start, spectrum, skin)


def _light(seen: Drift) -> LightShape:
    return LightShape(
        illuminant=seen.illuminant,
        lab=rounded(seen.lab) if seen.lab is not None else None,
        target=rounded(seen.target) if seen.target is not None else None,
        de00=round(seen.de00, 4) if seen.de00 is not None else None,
        words=seen.words,
    )


def told(kit: Kit, bench: Workbench, found: Match, target: Target, lights: list[str]) -> MatchShape:
    """One match as the contract writes it."""

    def lit(r: Recipe) -> list[LightShape]:
        return [_light(drift(bench, r.layers, r.prediction, light, target.reflectance, target.start)) for light in lights]

    recipes = [
        RecipeShape(
            kind=r.kind, layers=kit.said(r.layers), lab=rounded(r.prediction.lab), hex=hex_from_lab(r.prediction.lab)[0],
            de00=round(r.difference.de00, 4), dl=round(r.difference.dl, 4), dc=round(r.difference.dc, 4),
            dh=round(r.difference.dh, 4), words=r.words, uncertainty_de00=round(r.prediction.uncertainty, 4),
            after=after_each(r.prediction), tooth_used=round(r.prediction.tooth_used, SHARE_DECIMALS), equal=r.equal,
            lights=lit(r) or None,
            cautions=fresh_cautions(bench, target.before, r.layers, of_skin=target.skin) or None,
        )
        for r in found.recipes
        if r.kind in KINDS
    ]  # fmt: skip
    reach: InReach | OutOfReach = InReach(ok=True)
    if not found.reach.ok and found.reach.nearest is not None:
        nearest = rounded(found.reach.nearest)
        reach = OutOfReach(ok=False, why=found.reach.why, nearest_lab=nearest, would_help=found.reach.would_help)
    return MatchShape(role=found.role, target=rounded(found.target), recipes=recipes, reach=reach)


def rules_of(kit: Kit, asked: RulesShape) -> Rules:
    """The rules as the core knows them. Raises BadRequest at a colour that is not in the kit."""
    named = {
        name: frozenset(kit.known(colour, f"rules.{name}[{i}]") for i, colour in enumerate(getattr(asked, name)))
        for name in ("avoid", "prefer")
    }
    school = SCHOOLS[asked.school] if asked.school else None
    return Rules(asked.max_layers, asked.max_colours, asked.black, named["avoid"], named["prefer"], asked.goal, school)


def kept_of(kit: Kit, keep: list[str], where: str, rules: Rules) -> frozenset[int]:
    """Colours that must be used. Raises BadRequest at one that is not in the kit, and where one is to be avoided."""
    here = frozenset(kit.known(c, f"{where}[{i}]") for i, c in enumerate(keep))
    if both := sorted(here & rules.avoid):
        raise BadRequest(where, f"“{kit.ids[both[0]]}” is to be kept and to be avoided")
    return here


def run(request: MatchRequest) -> MatchAnswer:
    """Match every target of the request, in its order."""
    kit = Kit.by_id(request.surface, request.colours, request.hand)
    bench = Workbench(kit.swatches, kit.ground, kit.hand)
    targets = [target_of(kit, bench, shape, f"targets[{i}]") for i, shape in enumerate(request.targets)]
    found = zip(all_matches(bench, targets, rules_of(kit, request.rules)), targets, strict=True)
    return MatchAnswer(matches=[told(kit, bench, match, target, list(request.lights)) for match, target in found])


COMMANDS = {"match": Command(MatchRequest, MatchAnswer, run)}
