"""Plans: how fast they are made, and how near they come to the fewest changes of colour. All studies here are invented."""

import time
from statistics import median

import numpy as np

from bench.table import Row
from caltin_core.media.layers import Lay
from caltin_core.plan.make import plan
from caltin_core.plan.order import Route
from caltin_core.plan.runs import runs_of
from caltin_core.plan.steps import Area
from tests.core.studies import fewest, plan_bench, random_layers, random_study

_ROUTES: tuple[Route, ...] = ("feature", "sheet", "colour")


def _large(seed: int, count: int) -> list[Area]:
    """Areas with 20 recipes of eight layers among them."""
    rng = np.random.default_rng(seed)
    recipes = [random_layers(rng, "wax_pencil", 8) + random_layers(rng, "wax_pencil", 8) for _ in range(20)]
    recipes = [r[:8] for r in recipes]
    return [Area(f"area {i}", recipes[i % len(recipes)], 0.8 / count) for i in range(count)]


def plans(studies: int = 200, small: int = 100) -> list[Row]:
    """A large plan on every route; rules over random studies in all media; changes of colour beside the least there is."""
    bench = plan_bench("wax_pencil")
    took = []
    for seed in range(3):
        areas = _large(seed, 20)
        plan(bench, areas, "sheet")
        for route in _ROUTES:
            begun = time.perf_counter()
            plan(bench, areas, route)
            took.append(time.perf_counter() - begun)
    broken, over = 0, 0.0
    for seed in range(studies):
        here, areas = random_study(seed)
        for route in _ROUTES:
            found = plan(here, areas, route)
            for index, area in enumerate(areas):
                laid = [
                    n for s in found.steps if s.layer is not None for a, n in zip(s.areas, s.numbers, strict=True) if a == index
                ]
                broken += laid != list(range(len(area.layers)))
            over = max(over, *found.tooth_used)
    ratios = []
    for seed in range(small):
        here, areas = random_study(3 * seed + 1000, most_areas=6, most_layers=5, colours=6)
        areas = [Area(a.id, tuple(x for x in a.layers if isinstance(x, Lay)), a.sheets) for a in areas]
        least = fewest([runs_of(a.layers, [(0, 0)] * len(a.layers)) for a in areas])
        ratios.append(plan(here, areas, "colour").colour_changes / max(least, 1))
    return [
        Row("a plan of 20 areas, eight layers each, worst of three routes", 1000 * max(took), "ms", 500),
        Row("the same, median", 1000 * median(took), "ms", 500),
        Row(f"{studies} random studies on three routes: areas whose order is broken", broken, "", 0),
        Row("the same: most of the tooth used", over, "", 1.0),
        Row(f"changes of colour against the least, worst of {small} small studies", max(ratios), "x", 1.3),
    ]
