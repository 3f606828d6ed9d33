"""Swatch sheets of invented colours as the stand-in camera photographs them, for the tests that read them back."""

from functools import lru_cache

import colour
import numpy as np

from caltin_core.charts.layout import lay_out
from caltin_core.charts.printing import drawn
from caltin_core.colour.difference import delta_e_2000
from caltin_core.colour.spectra import reflectance_from_lab
from caltin_core.reference.picture import open_picture
from caltin_core.standins.camera import page_of, photograph

SIZE = (1200, 1600)
CHECKER = colour.SDS_COLOURCHECKERS["ColorChecker N Ohta"]
PAPER = np.array([94.0, 0.0, 3.0])
LABS = np.array([(l, 14 + 6 * (i % 3), 10 + 5 * (i % 4)) for i, l in enumerate(np.linspace(24, 88, 24))])


@lru_cache(maxsize=8)
def sheet(frame=False, paper=tuple(PAPER), count=24):
    """A sheet of so many cells, and what the camera is shown of it."""
    names = [str(i + 1) for i in range(count)]
    layout = lay_out("A4", names, frame)
    reflects = reflectance_from_lab(LABS[:count])
    page = drawn(layout, "Swatches", {n: (n, "clinker: 2 × medium", "") for n in names})
    shown = page_of(layout, page, dict(zip(names, reflects, strict=True)), reflectance_from_lab(np.array(paper)))
    return layout, shown


@lru_cache(maxsize=6)
def taken(shot, frame=False, paper=tuple(PAPER), change=None):
    """A sheet and its photograph; `change` alters what is printed."""
    layout, (map_, dots, spectra) = sheet(frame, paper)
    if change is not None:
        map_ = change(map_.copy(), layout, dots)
    return layout, open_picture(photograph(map_, dots, spectra, shot, grain=0.03))


def misses(patches, labs=LABS):
    """How far (n,) cells are read from what they are, in ΔE00."""
    return delta_e_2000(labs, np.array([p.lab for p in patches]))
