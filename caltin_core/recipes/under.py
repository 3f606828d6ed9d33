"""The under-colour chart: every colour beneath every other, as one looks along a test sheet before touching the drawing."""

from dataclasses import dataclass

import numpy as np

from caltin_core.colour.difference import delta_e_2000
from caltin_core.colour.tables import Floats
from caltin_core.media.kinds import MEDIA
from caltin_core.media.layers import COAT, Lay, Stroke
from caltin_core.media.predict import Workbench, colours_of, predict
from caltin_core.recipes.rules import Rules, usable

# How a test strip is laid (common practice): with pencil the under-colour barely and the other over it as one draws; with loose
# pastel the under-colour covers and the other glazes it; with markers a coat of each.
UNDER, OVER, COATED = Stroke("light", 2), Stroke("medium", 2), Stroke(COAT, 1)
COVERED, GLAZED = Stroke("firm", 2), Stroke("light", 2)
_LOOSE = 1.2
# An under-colour helps when it brings a pair nearer by this much, in ΔE00.
_HELPS = 0.5
# A pair whose doubt may decide whether it serves is worth a scrap strip; ΔE00 between serving and not.
_SERVES = 3.0


@dataclass(frozen=True)
class Pair:
    """One colour over another: places in the kit, layers, D50 Lab (3,) of the pair and of the upper colour alone, ΔE00 to
    the target, the doubt of it where that was asked, and whether a scrap strip would decide something."""

    under: int
    over: int
    layers: tuple[Lay, Lay]
    lab: Floats
    alone: Floats
    away: float
    uncertainty: float
    test_first: bool


def under_chart(bench: Workbench, target: Floats, rules: Rules, most: int = 36) -> list[Pair]:
    """The pairs nearest a target, D50 Lab (3,), nearest first, that the under-colour helps: nearer than the colour over it alone.

    Bans and the kit's own blacks are as for recipes; schools are not looked at, since a strip is there to find out.
    """
    free = [int(i) for i in usable(bench, rules)]
    alone = dict(zip(free, (lab for lab, _ in colours_of(bench, [(_over(bench, i),) for i in free])), strict=True))
    stacks = [(_under(bench, a), _over(bench, b)) for b in free for a in free if a != b]
    if not stacks:
        return []
    labs = np.array([lab for lab, _ in colours_of(bench, stacks)])
    away = delta_e_2000(target, labs)
    helped = away < np.array([float(delta_e_2000(target, alone[over.colour])) for _, over in stacks]) - _HELPS
    rows = [int(i) for i in np.argsort(away, kind="stable") if helped[i]][:most]
    doubts = predict(bench, [stacks[i] for i in rows])
    return [_pair(stacks[i], labs[i], alone, float(away[i]), seen.uncertainty) for i, seen in zip(rows, doubts, strict=True)]


def _pair(layers: tuple[Lay, Lay], lab: Floats, alone: dict[int, Floats], away: float, doubt: float) -> Pair:
    under, over = (x.colour for x in layers)
    decides = away - doubt < _SERVES < away + doubt
    return Pair(under, over, layers, lab, alone[over], away, doubt, decides)


def _under(bench: Workbench, colour: int) -> Lay:
    return Lay(colour, _stroke(bench, colour, UNDER, COVERED))


def _over(bench: Workbench, colour: int) -> Lay:
    return Lay(colour, _stroke(bench, colour, OVER, GLAZED))


def _stroke(bench: Workbench, colour: int, pencil: Stroke, pastel: Stroke) -> Stroke:
    swatch = bench.swatches[colour]
    if swatch.kind != "film":
        return COATED
    return pastel if MEDIA[swatch.medium].loose > _LOOSE else pencil
