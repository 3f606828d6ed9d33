"""Made-up studies to plan: areas with recipes in one medium, neighbours and edges between them."""

import numpy as np

from caltin_core.media.layers import BLENDS, COAT, Blend, Lay, Lift, Stroke
from caltin_core.media.workbench import Workbench
from caltin_core.plan.steps import Area
from tests.core.builders import PLAIN, ground, swatch

MADE = {"wax_pencil": "vellum", "soft_pastel": "sanded", "alcohol_marker": "card"}


def plan_bench(medium):
    """Twelve colours of plain names in one medium, on the paper it likes."""
    sheet = ground(MADE[medium])
    return Workbench(tuple(swatch(n, lab, medium, sheet) for n, lab in PLAIN.items()), sheet)


def random_layers(rng, medium, most, colours=12):
    """A recipe of up to `most` layers; markers now and then wet, dry media now and then blended or lifted."""
    out = []
    for _ in range(int(rng.integers(1, most + 1))):
        colour = int(rng.integers(colours))
        if medium == "alcohol_marker":
            out.append(Lay(colour, Stroke(COAT, int(rng.integers(1, 4)), wet=bool(out) and rng.random() < 0.25)))
        else:
            pressure = str(rng.choice(["light", "medium", "firm", "burnish"], p=[0.4, 0.35, 0.2, 0.05]))
            out.append(Lay(colour, Stroke(pressure, int(rng.integers(1, 4)), turned=bool(rng.random() < 0.2))))
            if rng.random() < 0.1:
                out.append(Blend(str(rng.choice(BLENDS[:2]))) if rng.random() < 0.6 else Lift("kneaded"))
    return tuple(out[:most])


def random_study(seed, most_areas=12, most_layers=8, colours=12):
    """A bench and its areas, in a medium by the seed; about one area in ten stays bare."""
    rng = np.random.default_rng(seed)
    medium = list(MADE)[seed % len(MADE)]
    count = int(rng.integers(2, most_areas + 1))
    share = rng.dirichlet(np.ones(count)) * 0.8
    kinds = {}
    for i in range(count - 1):
        kinds[i, i + 1] = kinds[i + 1, i] = str(rng.choice(["hard", "soft", "lost"]))
    areas = []
    for i in range(count):
        layers = () if rng.random() < 0.1 else random_layers(rng, medium, most_layers, colours)
        beside = tuple((j, kinds[i, j]) for j in (i - 1, i + 1) if (i, j) in kinds)
        areas.append(Area(f"area {i}", layers, float(share[i]), beside))
    return plan_bench(medium), areas


def fewest(runs):
    """The least changes of colour there can be, by looking at every order of taking colours up."""
    best, seen = [99], {}

    def go(done, hand, cost):
        if cost >= min(best[0], seen.get((done, hand), 99)):
            return
        seen[done, hand] = cost
        if all(at == len(r) for at, r in zip(done, runs, strict=True)):
            best[0] = cost
            return
        for colour in {r[at].chain[0] for at, r in zip(done, runs, strict=True) if at < len(r)}:
            after = tuple(at + (at < len(r) and r[at].chain == (colour,)) for at, r in zip(done, runs, strict=True))
            go(after, colour, cost + (hand is not None and colour != hand))

    go((0,) * len(runs), None, 0)
    return best[0]
