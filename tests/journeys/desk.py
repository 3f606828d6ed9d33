"""A desk with a virtual sheet and camera: what a printed page of the running application looks like once it was drawn."""

import re

import numpy as np

from caltin_core.charts.layout import lay_out
from caltin_core.charts.printing import drawn
from caltin_core.colour.spectra import reflectance_from_lab
from caltin_core.media.layers import Lay, Stroke
from caltin_core.standins.camera import Shot, again, page_of, photograph
from caltin_core.standins.paper import Sheet

_COUNT = ("one", "two", "three", "four", "five", "six")
_STROKE = re.compile(rf"({'|'.join(_COUNT)}) (light|medium|firm|burnishing|coat)")


def _laid(words, colours):
    """The layers that a cell's words say, and the place of each colour."""
    out = []
    for part in words.split(" + "):
        name, how = part.rsplit(": ", 1)
        count, pressure = _STROKE.match(how).groups()
        pressure = {"burnishing": "burnish"}.get(pressure, pressure)
        out.append(Lay(colours.index(name), Stroke(pressure, _COUNT.index(count) + 1)))
    return out


def photographed(page, address, sheet_id, medium, size=(1500, 2000)):
    """Two photographs of a sheet of the open kit, every cell drawn as it says by the stand-in hand; the second is darker."""
    kit_id = re.search(r"/kits/([0-9a-f-]+)", page.url)[1]
    kit = page.request.get(f"{address}/api/kits/{kit_id}").json()
    sheet = next(s for s in page.request.get(f"{address}/api/kits/{kit_id}/sheets").json() if s["id"] == sheet_id)
    names = list(dict.fromkeys(c["name"] for c in kit["colours"]))
    paper = reflectance_from_lab(np.array([95.0, 0.0, 2.0]))
    virtual = Sheet(paper, "vellum", seed=9)
    for name in names:
        tone = next(c["tone"] for c in kit["colours"] if c["name"] == name)
        virtual.add(np.array([tone["l"], tone["a"], tone["b"]]), medium)
    layout = lay_out(sheet["page"], [c["cell"] for c in sheet["cells"]], sheet["frame"])
    cells = {c["cell"]: virtual.reflectance(_laid(c["words"], names)) for c in sheet["cells"]}
    shown = page_of(layout, drawn(layout, sheet["title"], {}), cells, paper)
    shot = Shot("LED-B3", size, odd=0.4, turn=6, tilt=9, curve=0.15)
    return [photograph(*shown, s) for s in (shot, again(shot))]
