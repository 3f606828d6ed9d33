"""The demo's box, sheet and hand as if an artist had measured them in an evening: invented patches from the stand-in sheet."""

from dataclasses import dataclass

import numpy as np

from caltin_core.colour.spectra import DARKEST, LIGHTEST, reflectance_from_lab
from caltin_core.media.calibrate import Calibrated, Patch, calibrate
from caltin_core.media.colourants import Ground, Swatch
from caltin_core.media.layers import Lay, Stroke
from caltin_core.media.predict import Workbench
from caltin_core.standins.paper import Nature, Sheet
from demo.kits import WAX_24

VELLUM = (95.0, 0.0, 3.0)
PAIRS = 12
_STROKES = (
    (("light", 2), ("medium", 3), ("firm", 2)),
    (("light", 4), ("firm", 1), ("burnish", 1)),
    (("medium", 1), ("medium", 4), ("burnish", 2)),
)


@dataclass(frozen=True)
class Evening:
    """What the evening gave: the solids' spectra (N, 31) and the calibrated bench."""

    found: Calibrated

    @property
    def spectra(self) -> dict[str, list[float]]:
        """Every solid's spectrum by its colour."""
        return {s.id: [round(float(v), 5) for v in s.solid] for s in self.found.bench.swatches}


def evening() -> Evening:
    """Draw and read three patches of every colour and a dozen pairs, and calibrate; the same each time."""
    paper = reflectance_from_lab(np.array(VELLUM))
    sheet = Sheet(paper, "vellum", Nature(harder=0.9, deeper=1.05), seed=24)
    ground = Ground(paper, "vellum")
    swatches = []
    for id, name, lab in WAX_24:
        stick = sheet.add(np.array(lab), "wax_pencil")
        solid = np.clip(sheet.solid_reflectance(stick), DARKEST, LIGHTEST)
        swatches.append(Swatch(id, solid, "wax_pencil", ground, name=name, measured=True))
    rng = np.random.default_rng(24)
    stacks = [[Lay(c, Stroke(*how))] for c in range(len(swatches)) for how in _STROKES[c % len(_STROKES)]]
    for one, other in rng.choice(len(swatches), (PAIRS, 2)):
        stacks.append([Lay(int(one), Stroke("medium", 3)), Lay(int(other), Stroke("medium", 2))])
    patches = [Patch(tuple(stack), sheet.patch(stack)) for stack in stacks]
    return Evening(calibrate(Workbench(tuple(swatches), ground), patches))
