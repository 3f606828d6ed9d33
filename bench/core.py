"""How near and how fast the search is, beside exhaustive search and differential evolution."""

import itertools
import time
from collections.abc import Callable
from functools import partial
from statistics import median
from typing import Any

import numpy as np
from scipy.optimize import differential_evolution

from bench.table import Row
from caltin_core.colour.difference import delta_e_2000
from caltin_core.media.hand import PRESSURES
from caltin_core.media.layers import STROKES, Lay, Stroke
from caltin_core.media.predict import colours_of, predict
from caltin_core.media.workbench import Workbench
from caltin_core.recipes.match import Match, all_matches, matches
from caltin_core.recipes.rules import Rules
from caltin_core.recipes.targets import Target
from tests.core.builders import demo_bench, random_bench, random_stack

SEED = 20261124
SEVEN = ((84, 9, 20), (74, 16, 26), (62, 20, 24), (50, 22, 22), (36, 16, 14), (26, 8, 8), (56, 30, 22))


def timed(work: Callable[[], Any], times: int) -> tuple[float, Any]:
    """Median seconds of `times` runs, and the last result."""
    took = []
    for _ in range(times):
        begun = time.perf_counter()
        result = work()
        took.append(time.perf_counter() - begun)
    return median(took), result


def fresh(bench: Workbench) -> Workbench:
    """The same bench with nothing computed yet, as a first request finds it."""
    return Workbench(bench.swatches, bench.ground, bench.hand)


def _matched(bench: Workbench, targets: list[Target]) -> list[Match]:
    return all_matches(fresh(bench), targets, Rules())


def found_again(many: int = 200) -> list[Row]:
    """Targets that are themselves predictions of random legal stacks of the demo's 24 colours."""
    rng, bench = np.random.default_rng(SEED), demo_bench()
    targets = [Target(str(i), p.lab) for i, p in enumerate(predict(bench, [random_stack(rng, bench) for _ in range(many)]))]
    misses = [m.recipes[0].difference.de00 for m in matches(bench, targets, Rules())]
    return [
        Row(f"{many} targets that are random stacks: median ΔE00", median(misses), "", 0.5),
        Row(f"{many} targets that are random stacks: worst ΔE00", max(misses), "", 1.5),
    ]


def honest_optimum(kits: int = 6, targets: int = 8) -> list[Row]:
    """Against every stack there is: 8 colours, 2 layers, passes 1-3, sharp, unturned."""
    excess = []
    for seed in range(kits):
        rng = np.random.default_rng(SEED + seed)
        bench = random_bench(rng, 8, blacks=0)
        layers = [Lay(c, Stroke(p, n)) for c in range(8) for p in PRESSURES for n in (1, 2, 3)]
        stacks = [[x] for x in layers] + [list(pair) for pair in itertools.product(layers, repeat=2)]
        labs = np.array([lab for lab, _ in colours_of(bench, stacks)])
        for _ in range(targets):
            lab = labs[rng.integers(len(labs))] + rng.normal(0, 3, 3)
            found = next(iter(matches(bench, [Target("t", lab)], Rules(max_layers=2))))
            excess.append(found.recipes[0].difference.de00 - float(delta_e_2000(lab, labs).min()))
    return [Row("enumerable kits: most above the best stack there is, ΔE00", max(excess), "", 0.05)]


def speed() -> list[Row]:
    """One target with 120 colours; seven roles with 8, with 24 and with 120; everything computed afresh."""
    big, small = random_bench(np.random.default_rng(SEED), 120), demo_bench()
    few = [random_bench(np.random.default_rng(SEED + seed), 8, blacks=1) for seed in range(4)]
    seven = [Target(str(i), np.array(lab, float)) for i, lab in enumerate(SEVEN)]
    singles = [timed(partial(_matched, big, [target]), 3)[0] for target in seven]
    return [
        Row("one target, 120 colours", 1000 * median(singles), "ms", 400),
        Row("seven roles, 8 colours, most out of reach", median(timed(partial(_matched, f, seven), 1)[0] for f in few), "s", 4),
        Row("seven roles, 24 colours", timed(partial(_matched, small, seven), 5)[0], "s", 2),
        Row("seven roles, 120 colours", timed(partial(_matched, big, seven), 5)[0], "s", 2),
    ]


def against_differential_evolution(targets: int = 3) -> list[Row]:
    """The same objective given to scipy's differential evolution with its defaults and a fixed seed."""
    bench, rules = demo_bench(), Rules()
    blacks = {i for i, s in enumerate(bench.swatches) if s.is_black}
    many, none = len(bench.swatches), len(STROKES)
    ratios, worse = [], []
    for lab in SEVEN[:targets]:
        target = np.array(lab, float)

        def decoded(x: np.ndarray) -> list[Lay]:
            pairs = ((int(min(c * many, many - 1)), int(min(s * (none + 1), none))) for c, s in x.reshape(-1, 2))
            return [Lay(c, STROKES[s]) for c, s in pairs if s != none]

        def objective(x: np.ndarray, target: np.ndarray = target) -> float:
            stack = decoded(x)
            colours = [layer.colour for layer in stack]
            if not stack or len(set(colours)) > rules.max_colours or blacks & set(colours[:-1]):
                return 100.0
            return float(delta_e_2000(target, colours_of(bench, [stack])[0][0]))

        bounds: Any = [(0, 1)] * (2 * rules.max_layers)
        slow, evolved = timed(partial(differential_evolution, objective, bounds, rng=SEED), 1)
        quick, (found,) = timed(partial(_matched, bench, [Target("t", target)]), 3)
        ratios.append(slow / quick)
        worse.append(found.recipes[0].difference.de00 - float(evolved.fun))
    return [
        Row("times faster than differential evolution (least)", min(ratios), "×", 20, at_least=True),
        Row("worse than differential evolution by at most, ΔE00", max(worse), "", 0.1),
    ]
