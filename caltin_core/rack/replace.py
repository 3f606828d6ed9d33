"""What it takes to do without a colour: the nearest other stick, and the nearest two layers of others."""

from dataclasses import dataclass

import numpy as np

from caltin_core.colour.difference import delta_e_2000
from caltin_core.media.workbench import Workbench
from caltin_core.recipes.match import Recipe, matches
from caltin_core.recipes.rules import Rules
from caltin_core.recipes.targets import Target


@dataclass(frozen=True)
class Replacement:
    """The nearest other colour's place with its ΔE00, and the recipe of at most two layers that comes nearest the solid."""

    nearest: int | None
    away: float
    layers: Recipe | None


def replacement(bench: Workbench, colour: int, out: frozenset[int] = frozenset()) -> Replacement:
    """How to do without `colour`; `out` are others that are not at hand."""
    away = delta_e_2000(bench.solids, bench.solids[colour])
    free = np.array([i not in out and i != colour for i in range(len(away))], dtype=bool)
    if not free.any():
        return Replacement(None, float("inf"), None)
    nearest = int(np.argmin(np.where(free, away, np.inf)))
    rules = Rules(max_layers=2, max_colours=2, black="allowed", avoid=out | {colour})
    (found,) = matches(bench, [Target(bench.swatches[colour].called, bench.solids[colour], None)], rules)
    return Replacement(nearest, float(away[nearest]), found.recipes[0] if found.recipes else None)
