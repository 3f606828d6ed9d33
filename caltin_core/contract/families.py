"""The command `family`."""

from typing import Annotated

from pydantic import Field

from caltin_core.contract.command import Command
from caltin_core.contract.kit import Kit
from caltin_core.contract.matching import MatchRequest, MatchShape, RulesShape, TargetShape, kept_of, rules_of, target_of, told
from caltin_core.contract.shapes import SHARE_DECIMALS, AnyLayer, Shape
from caltin_core.errors import BadRequest
from caltin_core.media.layers import Lay
from caltin_core.media.workbench import Workbench
from caltin_core.recipes.choice import Change
from caltin_core.recipes.family import Member, family


class MemberShape(TargetShape):
    """One role's target, its share of the drawing, and the roles it touches."""

    share: Annotated[float, Field(ge=0, allow_inf_nan=False)] = 1.0
    neighbours: list[str] = []


class Pin(Shape):
    """A role's recipe that stays as it is."""

    role: str
    layers: Annotated[list[AnyLayer], Field(min_length=1)]


class FamilyRules(RulesShape):
    """As for `match`; `max_colours` counts all the targets together, and `keep` are colours that must be among them."""

    keep: list[str] = []
    pins: list[Pin] = []


class FamilyRequest(MatchRequest):
    """What `family` is asked. `keep` and `pins` may stand beside the rules as well as among them."""

    targets: list[MemberShape]  # type: ignore[assignment]
    rules: FamilyRules = FamilyRules()
    keep: list[str] = []
    pins: list[Pin] = []


class ShareShape(Shape):
    """A colour and its share of all that is laid, by area and passes."""

    id: str
    share: float


class ChangeShape(Shape):
    """A colour more, or one less, and the mean ΔE00 with that."""

    id: str
    mean_de00: float


class FamilyAnswer(Shape):
    """What `family` answers; `mean_de00` is that of every target's first recipe, each counted once."""

    colours: list[ShareShape]
    matches: list[MatchShape]
    mean_de00: float
    one_more: ChangeShape | None = None
    one_less: ChangeShape | None = None


def run(request: FamilyRequest) -> FamilyAnswer:
    """Solve all targets together within so many colours."""
    kit = Kit.by_id(request.surface, request.colours, request.hand)
    bench = Workbench(kit.swatches, kit.ground, kit.hand)
    asked = request.rules
    rules = rules_of(kit, asked)
    keep = kept_of(kit, asked.keep, "rules.keep", rules) | kept_of(kit, request.keep, "keep", rules)
    role: dict[str, int] = {}
    for i, t in enumerate(request.targets):
        if t.role in role:
            raise BadRequest(f"targets[{i}].role", f"“{t.role}” is there twice")
        role[t.role] = i
    pins = _pins(kit, {"rules.pins": asked.pins, "pins": request.pins}, role)
    members = [
        Member(
            target_of(kit, bench, t, f"targets[{i}]"), t.share,
            tuple(_role(role, n, f"targets[{i}].neighbours[{k}]") for k, n in enumerate(t.neighbours)), pins.get(i),
        )
        for i, t in enumerate(request.targets)
    ]  # fmt: skip
    found = family(bench, members, rules, keep)
    return FamilyAnswer(
        colours=[ShareShape(id=kit.ids[c], share=round(share, SHARE_DECIMALS)) for c, share in found.colours],
        matches=[told(kit, bench, m, x.target, list(request.lights)) for m, x in zip(found.matches, members, strict=True)],
        mean_de00=round(found.mean, 4), one_more=_change(kit, found.one_more), one_less=_change(kit, found.one_less),
    )  # fmt: skip


def _role(role: dict[str, int], name: str, where: str) -> int:
    if name not in role:
        raise BadRequest(where, f"there is no target “{name}”")
    return role[name]


def _pins(kit: Kit, pins: dict[str, list[Pin]], role: dict[str, int]) -> dict[int, tuple[Lay, ...]]:
    out: dict[int, tuple[Lay, ...]] = {}
    for where, pin in ((f"{place}[{index}]", pin) for place, here in pins.items() for index, pin in enumerate(here)):
        at = _role(role, pin.role, f"{where}.role")
        if at in out:
            raise BadRequest(f"{where}.role", f"“{pin.role}” is pinned twice")
        layers = kit.layers(list(pin.layers), f"{where}.layers")
        if not all(isinstance(x, Lay) for x in layers):
            raise BadRequest(f"{where}.layers", "a pinned recipe is made of coloured layers")
        out[at] = tuple(x for x in layers if isinstance(x, Lay))
    return out


def _change(kit: Kit, change: Change | None) -> ChangeShape | None:
    return None if change is None else ChangeShape(id=kit.ids[change.colour], mean_de00=round(change.mean, 4))


COMMANDS = {"family": Command(FamilyRequest, FamilyAnswer, run)}
