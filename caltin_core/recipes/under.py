"""The under-colour chart: every colour beneath every other, as one looks along a test sheet before touching the drawing."""

from dataclasses import dataclass

import numpy as np

from caltin_core.colour.difference import delta_e_2000
from caltin_core.colour.tables import Floats
from caltin_core.media.cautions import holds
from caltin_core.media.kinds import MEDIA
from caltin_core.media.layers import COAT, Lay, Stroke
from caltin_core.media.predict import Prediction, colours_of, predict
from caltin_core.media.workbench import Workbench
from caltin_core.recipes.rules import Rules, usable

# How a test strip is laid (common practice): with pencil the under-colour barely and the other over it as one draws, lighter or
# fuller; with loose pastel the under-colour covers and the other glazes it; with markers a coat beneath and one or two over it.
PENCIL = (Stroke("light", 2), (Stroke("medium", 2), Stroke("firm", 3)))
PASTEL = (Stroke("firm", 2), (Stroke("light", 2), Stroke("medium", 2)))
MARKER = (Stroke(COAT, 1), (Stroke(COAT, 1), Stroke(COAT, 2)))
# An under-colour helps when it brings a pair nearer by this much, in ΔE00.
_HELPS = 0.5
# A pair whose doubt may decide whether it serves is worth a scrap strip; ΔE00 between serving and not.
_SERVES = 3.0


@dataclass(frozen=True)
class Pair:
    """One colour over another: places in the kit, layers, D50 Lab (3,) of the pair and of the upper colour alone, ΔE00 to
    the target, its doubt, whether a scrap strip would decide something, and D50 Lab (Q, 3) of each tooth quantile."""

    under: int
    over: int
    layers: tuple[Lay, Lay]
    lab: Floats
    alone: Floats
    away: float
    uncertainty: float
    test_first: bool
    grain: Floats


def under_chart(bench: Workbench, target: Floats, rules: Rules, most: int = 36) -> list[Pair]:
    """The pairs nearest a target, D50 Lab (3,), nearest first, that the under-colour helps: nearer than the colour over it alone.

    Bans and the kit's own blacks are as for recipes; schools are not looked at, since a strip is there to find out.
    """
    free = [int(i) for i in usable(bench, rules)]
    over = [Lay(i, stroke) for i in free for stroke in _way(bench, i)[1]]
    alone = dict(zip(over, (lab for lab, _ in colours_of(bench, [(x,) for x in over])), strict=True))
    media = [s.medium for s in bench.swatches]
    pairs = [(a, x) for x in over for a in free if a != x.colour and holds(media[a], media[x.colour])]
    stacks = [(Lay(a, _way(bench, a)[0]), x) for a, x in pairs]
    if not stacks:
        return []
    labs = np.array([lab for lab, _ in colours_of(bench, stacks)])
    away = delta_e_2000(target, labs)
    plain = {x: float(delta_e_2000(target, lab)) for x, lab in alone.items()}
    nearest: dict[tuple[int, int], int] = {}
    for i in np.argsort(away, kind="stable").tolist():
        if away[i] < plain[stacks[i][1]] - _HELPS:
            nearest.setdefault((stacks[i][0].colour, stacks[i][1].colour), i)
    rows = list(nearest.values())[:most]
    doubts = predict(bench, [stacks[i] for i in rows])
    return [_pair(stacks[i], labs[i], alone, float(away[i]), seen) for i, seen in zip(rows, doubts, strict=True)]


def _pair(layers: tuple[Lay, Lay], lab: Floats, alone: dict[Lay, Floats], away: float, seen: Prediction) -> Pair:
    doubt = seen.uncertainty
    decides = away - doubt < _SERVES < away + doubt
    return Pair(layers[0].colour, layers[1].colour, layers, lab, alone[layers[1]], away, doubt, decides, seen.grain_lab)


def _way(bench: Workbench, colour: int) -> tuple[Stroke, tuple[Stroke, Stroke]]:
    """How a colour is laid beneath, and how over another."""
    swatch = bench.swatches[colour]
    if swatch.kind != "film":
        return MARKER
    return PASTEL if MEDIA[swatch.medium].covers else PENCIL
