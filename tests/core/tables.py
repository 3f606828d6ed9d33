"""Kits of single media about the plain colours, and a bench at which one lays by name. Invented colours."""

import numpy as np

from caltin_core.media.kinds import MEDIA
from caltin_core.media.layers import Blend, Lay, Lift, Stroke
from caltin_core.media.predict import predict
from caltin_core.media.workbench import Workbench
from tests.core.builders import ground, swatch

KITS = range(3)
FILMS = sorted(m for m, medium in MEDIA.items() if medium.kind == "film")
SHEETS = {"paper": ground("card", (96, 0, 1)), "tone": ground("sanded", (45, 2, 8)), "vellum": ground("vellum")}


def kit(medium, on, seed, **labs):
    """Swatches about these colours, another set for every seed."""
    rng = np.random.default_rng(seed)
    moved = {
        name: np.clip(np.add(lab, rng.uniform(-3, 3, 3) * (seed > 0)), [5, -99, -99], [97, 99, 99]) for name, lab in labs.items()
    }
    return Workbench(tuple(swatch(name, lab, medium, SHEETS[on]) for name, lab in moved.items()), SHEETS[on])


class Table:
    """A bench at which one lays by name: `("brown", "firm 2")`, `("grey", 2)` or `("grey", 1, "wet")`, blends and lifts."""

    def __init__(self, bench):
        self.bench = bench
        self.at = {s.id: i for i, s in enumerate(bench.swatches)}

    def layers(self, said):
        return [x if isinstance(x, Blend | Lift) else self._one(*x) for x in said]

    def _one(self, name, how, wet=""):
        if isinstance(how, int):
            return Lay(self.at[name], Stroke("coat", how, wet=bool(wet)))
        pressure, passes = how.split()
        return Lay(self.at[name], Stroke(pressure, int(passes)))

    def lab(self, *said):
        return predict(self.bench, [self.layers(said)])[0].lab


def markers(seed):
    return Table(
        kit(
            "alcohol_marker", "paper", seed, skin=(84, 10, 16), violet=(72, 14, -14), grey=(66, -1, -4), warm_grey=(66, 5, 10),
            brown=(42, 18, 22), pale=(94, 3, 6), red=(56, 50, 35), blue=(55, -5, -35), deep=(38, 14, 18),
        )
    )  # fmt: skip


def pastels(seed, medium="soft_pastel"):
    return Table(
        kit(
            medium, "tone", seed, white=(96, 0, 1), red=(50, 52, 36), lemon=(88, -2, 70), brown=(32, 16, 18), peach=(82, 16, 22),
            dark=(25, 8, -10),
        )
    )  # fmt: skip
