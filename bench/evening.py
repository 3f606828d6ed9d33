"""An evening's way from a photograph of a sheet to a calibrated kit. All data here are invented."""

import time

import numpy as np

from bench.table import Row
from caltin_core.charts.layout import lay_out
from caltin_core.charts.printing import drawn
from caltin_core.charts.reading import read_sheet
from caltin_core.colour.spectra import reflectance_from_lab
from caltin_core.media.calibrate import Patch, calibrate, with_solids
from caltin_core.media.colourants import Ground, Swatch
from caltin_core.media.layers import Lay
from caltin_core.media.teaching import sheet as teaching_sheet
from caltin_core.media.workbench import Workbench
from caltin_core.reference.picture import open_picture
from caltin_core.standins.camera import Shot, page_of, photograph
from caltin_core.standins.paper import Sheet
from demo.kits import WAX_24

CELLS = 84
_PAPER = np.array([95.0, 0.0, 2.0])


def evening() -> list[Row]:
    """From the photograph of a sheet to a calibrated kit of 24."""
    paper = reflectance_from_lab(_PAPER)
    virtual, ground = Sheet(paper, "vellum", seed=5), Ground(paper, "vellum")
    sticks = tuple(Swatch(id, reflectance_from_lab(np.array(lab)), "wax_pencil", ground) for id, _, lab in WAX_24)
    for _, _, lab in WAX_24:
        virtual.add(np.add(lab, (4, -5, 4)), "wax_pencil")
    bench = Workbench(sticks, ground)
    stacks = teaching_sheet(bench, CELLS, [], frozenset())
    names = [str(i + 1) for i in range(len(stacks))]
    layout = lay_out("A4", names)
    cells = {n: virtual.reflectance([x for x in s if isinstance(x, Lay)]) for n, s in zip(names, stacks, strict=True)}
    taken = photograph(*page_of(layout, drawn(layout, "", {}), cells, paper), Shot(size=(3000, 4000), odd=0.3))
    begun = time.perf_counter()
    seen = read_sheet(open_picture(taken), layout, _PAPER)
    patches = [Patch(s, p.lab) for s, p in zip(stacks, seen, strict=True) if p.ok]
    calibrate(with_solids(bench, patches), patches)
    return [Row(f"from a photograph of {len(stacks)} cells to a calibrated kit of 24", time.perf_counter() - begun, "s", 15)]
