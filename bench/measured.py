"""What was measured on the way, and hands that blend and lift, judged by stand-in sheets."""

from dataclasses import replace

import numpy as np

from bench.media import CASES, COLOURS, SEEDS, UNSEEN, random_of, world
from bench.table import Row
from caltin_core.colour.difference import delta_e_2000
from caltin_core.media.calibrate import Patch, calibrate
from caltin_core.media.measured import as_measured
from caltin_core.media.predict import colours_of
from caltin_core.media.teaching import sheet

# So many cells fit on a page; and what is rare in a drawing is judged on more kits.
_CELLS, _KITS = 96, (*SEEDS, 27, 28, 29, 30)


def came_out() -> list[Row]:
    """What goes over a place that was measured, by patches drawn twice alike: once to be measured, once with what goes over."""
    rows = []
    for case in CASES:
        for nature in ("as it comes", "another paper"):
            here, dye = world(case, nature, SEEDS[0]), case.startswith("marker")
            here.sheet.nature = replace(here.sheet.nature, unsteady=0.0)
            bench, rng = calibrate(here.bench, here.patches).bench, np.random.default_rng(SEEDS[0])
            misses = []
            for _ in range(UNSEEN):
                done, more = (random_of(rng, dye, rng.integers(COLOURS, size=int(rng.integers(1, n))).tolist()) for n in (4, 3))
                truth, plain = here.sheet.patch((*done, *more)), colours_of(bench, [(*done, *more)])[0][0]
                ours = as_measured(bench, done, here.sheet.patch(done)).colours([more])[0][0]
                misses.append([float(delta_e_2000(truth, lab)) for lab in (ours, plain)])
            kept, alone = np.median(misses, axis=0)
            said = f"{case}, {nature}: median of what goes over a place that was measured, against by its layers alone"
            rows.append(Row(said, float(kept / alone), "x", 1.0))
    return rows


def worked_sheets() -> list[Row]:
    """Full sheets that ask for blends and lifts against sheets that do not, by stacks with one of either."""
    rows = []
    for case in ("pencil", "pastel on tone"):
        for nature in ("as it comes", "another paper"):
            most = {}
            for acts in (False, True):
                misses = []
                for seed in _KITS:
                    here = world(case, nature, seed, acted=True)
                    cells = sheet(here.bench, _CELLS, [], frozenset(), acts=acts)
                    bench = calibrate(here.bench, [Patch(s, here.sheet.patch(s)) for s in cells]).bench
                    misses.append(delta_e_2000(here.truth, np.array([lab for lab, _ in colours_of(bench, here.unseen)])))
                most[acts] = float(np.quantile(np.concatenate(misses), 0.9))
            said = f"{case}, {nature}: 90th percentile of worked stacks after a sheet that asks for such, against one that does not"
            rows.append(Row(said, most[True] / most[False], "x", 1.0))
    return rows
