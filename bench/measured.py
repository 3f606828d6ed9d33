"""How truly what goes over a measured place is predicted, judged by stand-in sheets."""

from dataclasses import replace

import numpy as np

from bench.media import CASES, COLOURS, SEEDS, UNSEEN, random_of, world
from bench.table import Row
from caltin_core.colour.difference import delta_e_2000
from caltin_core.media.calibrate import calibrate
from caltin_core.media.measured import as_measured
from caltin_core.media.predict import colours_of


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
