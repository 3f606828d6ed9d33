"""The command `choose`."""

from typing import Annotated

from pydantic import Field

from caltin_core.contract.command import Command
from caltin_core.contract.kit import Kit
from caltin_core.contract.matching import MatchRequest, MatchShape, TargetShape, kept_of, rules_of, target_of, told
from caltin_core.contract.shapes import Shape
from caltin_core.media.workbench import Workbench
from caltin_core.recipes.packing import choose


class ChooseRequest(MatchRequest):
    """What `choose` is asked: how many colours to take for all targets, those of `keep` counted."""

    targets: Annotated[list[TargetShape], Field(min_length=1)]
    count: Annotated[int, Field(ge=1, strict=True)]
    keep: list[str] = []


class FurtherShape(Shape):
    """A colour more, and what the worst served target is missed by with it."""

    id: str
    worst_de00: float


class ChooseAnswer(Shape):
    """What `choose` answers: the colours to take, ΔE00 of the worst target and the mean of all by their first recipes, and a match
    for every target within these colours. `next_best` is left out where no colour is left."""

    chosen: list[str]
    worst_de00: float
    mean_de00: float
    matches: list[MatchShape]
    next_best: FurtherShape | None = None


def run(request: ChooseRequest) -> ChooseAnswer:
    """Choose so many colours of the kit for all targets."""
    kit = Kit.by_id(request.surface, request.colours, request.hand)
    bench = Workbench(kit.swatches, kit.ground, kit.hand)
    rules = rules_of(kit, request.rules)
    targets = [target_of(kit, bench, shape, f"targets[{i}]") for i, shape in enumerate(request.targets)]
    found = choose(bench, targets, request.count, rules, kept_of(kit, request.keep, "keep", rules))
    more = found.next_best
    taken = {kit.ids[c] for c in found.colours}
    return ChooseAnswer(
        chosen=[c.id for c in request.colours if c.id in taken],
        worst_de00=round(found.worst, 4), mean_de00=round(found.mean, 4),
        matches=[told(kit, bench, m, target, list(request.lights)) for m, target in zip(found.matches, targets, strict=True)],
        next_best=None if more is None else FurtherShape(id=kit.ids[more.colour], worst_de00=round(more.worst, 4)),
    )  # fmt: skip


COMMANDS = {"choose": Command(ChooseRequest, ChooseAnswer, run)}
