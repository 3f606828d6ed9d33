"""Acts that change what lies there before anything new is laid, and what acts and layers cost. Common practice."""

from collections.abc import Sequence

from caltin_core.media.cautions import WAXY, fresh_cautions, holds
from caltin_core.media.layers import COAT, Blend, Lay, Layer, Lift, Stroke, lays
from caltin_core.media.workbench import Workbench
from caltin_core.recipes.rules import Rules, usable

# A dye this light pushes others away and hardly shows itself.
PALE = 76.0
# What each layer, each act with another tool, each pass, a last resort and each warning must win, in ΔE00: the smallest cure is the
# best.
_LAYER, _ACT, _PASS, _RESORT, _WARNED = 0.25, 0.5, 0.06, 2.0, 1.0


def beginnings(bench: Workbench, done: Sequence[Layer], rules: Rules) -> list[tuple[Layer, ...]]:
    """Acts that change what lies there before anything is laid: lifts, blends, a pale coat laid wet."""
    laid = [bench.swatches[x.colour] for x in lays(done)]
    out: list[tuple[Layer, ...]] = []
    films = [s for s in laid if s.kind == "film"]
    if films:
        out += [(Lift(kind),) for kind in ("kneaded", "stick", "knife")] + [(Lift("kneaded"), Lift("kneaded"))]
        out += [(Blend(kind),) for kind in (("blender",) if films[-1].medium in WAXY else ("stump", "finger"))]
    if any(s.kind == "dye" for s in laid):
        dyes = [
            i for i in usable(bench, rules)
            if bench.swatches[i].kind == "dye" and bench.solids[i, 0] > PALE
            and all(holds(s.medium, bench.swatches[i].medium) for s in laid)
        ]  # fmt: skip
        pale = sorted(dyes, key=lambda i: -float(bench.solids[i, 0]))[:4]
        out += [(Lay(int(i), Stroke(COAT, n, wet=True)),) for i in pale for n in (1, 2, 4, 6)]
        out.append((Blend("blender"),))
    return out


def effort(bench: Workbench, done: Sequence[Layer], layers: Sequence[Layer], *, of_skin: bool) -> float:
    """What these acts must win in ΔE00 to be worth their while where `done` was laid, on skin or not."""
    passes = sum(x.stroke.passes for x in lays(layers))
    warned = len(fresh_cautions(bench, done, layers, of_skin=of_skin))
    acts = len(layers) - len(lays(layers))
    return _LAYER * len(lays(layers)) + _ACT * acts + _PASS * passes + _RESORT * last_resort(bench, layers) + _WARNED * warned


def last_resort(bench: Workbench, layers: Sequence[Layer]) -> bool:
    """Whether a knife or a cover such as the white pen is among the layers."""
    return Lift("knife") in layers or any(bench.swatches[x.colour].kind == "cover" for x in lays(layers))
