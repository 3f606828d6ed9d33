"""A large kit in the browser, and an evening's way from a photograph to a calibrated kit. All data here are invented."""

import json
import tempfile
import time
from pathlib import Path
from statistics import median
from typing import Any

import numpy as np
from playwright.sync_api import Page, sync_playwright

from bench.table import Row
from caltin_core.charts.layout import lay_out
from caltin_core.charts.printing import drawn
from caltin_core.charts.reading import read_sheet
from caltin_core.colour.spectra import reflectance_from_lab
from caltin_core.media.calibrate import Patch, calibrate, with_solids
from caltin_core.media.colourants import Ground, Swatch
from caltin_core.media.layers import Lay
from caltin_core.media.predict import Workbench
from caltin_core.media.teaching import sheet as teaching_sheet
from caltin_core.reference.picture import open_picture
from caltin_core.standins.camera import Shot, page_of, photograph
from caltin_core.standins.paper import Sheet
from demo.kits import WAX_24
from tests.journeys.conftest import CHROMIUM, Caltin

MANY, CELLS, TIMES = 1000, 84, 5
_PAPER = np.array([95.0, 0.0, 2.0])

_SEND = """async ([path, body, name]) => {
  const token = document.cookie.split('; ').find((c) => c.startsWith('csrftoken=')).split('=')[1];
  const headers = { 'X-CSRFToken': token };
  const form = new FormData();
  if (name) form.append(name, new Blob([body], { type: 'text/csv' }), 'kit.csv');
  if (!name) headers['Content-Type'] = 'application/json';
  const begun = performance.now();
  const answer = await fetch(path, { method: 'POST', headers, body: name ? form : body });
  const said = await answer.json();
  return [performance.now() - begun, said];
}"""

_FILTER = """async (word) => {
  const box = document.querySelector('[placeholder^="Find by name"]');
  const set = Object.getOwnPropertyDescriptor(HTMLInputElement.prototype, 'value').set;
  const count = () => document.querySelectorAll('.kit-colour').length;
  const before = count();
  const begun = performance.now();
  set.call(box, word);
  box.dispatchEvent(new Event('input', { bubbles: true }));
  while (count() === before) {
    if (performance.now() - begun > 5000) return NaN;
    await new Promise(requestAnimationFrame);
  }
  return performance.now() - begun;
}"""


def _table() -> str:
    """A thousand colours as a file."""
    rng = np.random.default_rng(5)
    rows = ["name,medium,L,a,b"]
    for i in range(MANY):
        lightness, a, b = rng.uniform(20, 94), rng.uniform(-30, 50), rng.uniform(-40, 60)
        rows.append(f"Stone {i},wax_pencil,{lightness:.2f},{a:.2f},{b:.2f}")
    return "\n".join(rows)


def _imported(page: Page) -> tuple[float, str]:
    """Seconds to read the file and to keep the kit, and the kit."""
    read, found = page.evaluate(_SEND, ["/api/kits/file", _table(), "file"])
    colours: list[Any] = [row["colour"] for row in found["rows"]]
    kept, kit = page.evaluate(_SEND, ["/api/kits", json.dumps({"name": "A thousand", "colours": colours}), ""])
    return (read + kept) / 1000, str(kit["id"])


def large_kit() -> list[Row]:
    """A kit of a thousand colours: imported, opened, filtered."""
    with tempfile.TemporaryDirectory() as folder, sync_playwright() as play:
        caltin = Caltin(Path(folder))
        caltin.start()
        try:
            chromium = play.chromium.launch(executable_path="/usr/bin/chromium", args=CHROMIUM)
            page = chromium.new_page(viewport={"width": 1280, "height": 800})
            page.goto(caltin.address)
            page.locator(".study").first.wait_for()
            took, kit = _imported(page)
            opened = []
            for _ in range(TIMES):
                page.goto(f"{caltin.address}/kits/{kit}")
                page.locator(".kit-colour").nth(MANY - 1).wait_for()
                opened.append(float(page.evaluate("performance.now()")))
            filtered = [page.evaluate(_FILTER, word) for word in ("stone 9", "stone 99", "stone 1", "stone 12", "stone 7")]
            chromium.close()
        finally:
            caltin.stop()
    return [
        Row(f"a kit of {MANY} colours imported", took, "s", 2),
        Row("it opens", median(opened), "ms", 300),
        Row("it is filtered", float(np.nanmedian(filtered)), "ms", 300),
    ]


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
