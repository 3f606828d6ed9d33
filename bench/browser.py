"""What the artist waits for, in a real browser against the real server."""

import gzip
import tempfile
import time
from pathlib import Path
from statistics import median

import numpy as np
from playwright.sync_api import Page, sync_playwright

from bench.table import Row
from tests.journeys.conftest import CHROMIUM, ROOT, Caltin

TOUCHES, PRESSES, LOADS = 40, 24, 7

_TOUCH = """async ([x, y]) => {
  const tone = () => document.querySelector('[data-testid=touched-tone]');
  const board = document.querySelector('.board > svg');
  const box = board.getBoundingClientRect();
  const [s, dx, dy] = ['scale', 'x', 'y'].map((k) => Number(board.dataset[k]));
  const at = { clientX: box.left + dx + x * s, clientY: box.top + dy + y * s, pointerId: 1, button: 0, bubbles: true };
  const words = () => tone()?.innerText ?? '';
  const before = words();
  board.setPointerCapture = () => undefined;
  const begun = performance.now();
  board.dispatchEvent(new PointerEvent('pointerdown', at));
  board.dispatchEvent(new PointerEvent('pointerup', at));
  while (!(tone()?.dataset.ready === 'yes' && words() !== before)) {
    if (performance.now() - begun > 3000) return NaN;
    await new Promise(requestAnimationFrame);
  }
  return performance.now() - begun;
}"""

_PRESS = """async ([pressure, passes]) => {
  const said = () => document.querySelector('[data-testid=against]')?.innerText;
  const pad = document.querySelector('.press-pad');
  const cell = pad.querySelector(`[data-press="${pressure} ${passes}"]`).getBoundingClientRect();
  const at = { clientX: cell.left + 4, clientY: cell.top + 4, pointerId: 1, button: 0, bubbles: true };
  pad.setPointerCapture = () => undefined;
  const before = said();
  const begun = performance.now();
  pad.dispatchEvent(new PointerEvent('pointerdown', at));
  while (said() === before) {
    if (performance.now() - begun > 3000) return NaN;
    await new Promise(requestAnimationFrame);
  }
  const took = performance.now() - begun;
  pad.dispatchEvent(new PointerEvent('pointercancel', at));
  return took;
}"""

# A kit of made-up colours; opened by its link; filtered by a word.
_BEGIN = """async (many) => {
  const token = document.cookie.match(/csrftoken=([^;]+)/)[1];
  const colours = [...Array(many).keys()].map((i) => ({
    id: `c${i}`, name: `Colour ${i} ${i % 7 ? 'tide' : 'ember'}`, medium: 'wax_pencil',
    tone: { l: 25 + (i * 37) % 70, a: (i * 13) % 60 - 10, b: (i * 29) % 60 - 10 },
  }));
  const body = JSON.stringify({ name: `${many} made up`, colours });
  const headers = { 'X-CSRFToken': token, 'Content-Type': 'application/json' };
  return (await (await fetch('/api/kits', { method: 'POST', headers, body })).json()).id;
}"""
_OPEN = """async (id) => {
  const begun = performance.now();
  document.querySelector(`a[href="/kits/${id}"]`).click();
  while (document.querySelectorAll('.kit-colour').length < 1000) {
    if (performance.now() - begun > 9000) return NaN;
    await new Promise(requestAnimationFrame);
  }
  return performance.now() - begun;
}"""
_FILTER = """async (typed) => {
  const find = document.querySelector('.rack-find');
  const many = () => document.querySelectorAll('.kit-colour').length;
  const before = many();
  const begun = performance.now();
  Object.getOwnPropertyDescriptor(HTMLInputElement.prototype, 'value').set.call(find, typed);
  find.dispatchEvent(new Event('input', { bubbles: true }));
  while (many() === before) {
    if (performance.now() - begun > 3000) return NaN;
    await new Promise(requestAnimationFrame);
  }
  return performance.now() - begun;
}"""


def _large_kit(page: Page, address: str) -> list[Row]:
    """A kit of a thousand colours opened from the shelf, filtered, and read in from its file."""
    page.goto(address)
    page.locator(".study").first.wait_for()
    id = page.evaluate(_BEGIN, 1000)
    opens, filters, imports = [], [], []
    table = page.request.get(f"{address}/api/kits/{id}/file/csv").body()
    for _ in range(5):
        page.goto(address)
        page.locator(f'a[href="/kits/{id}"]').wait_for()
        page.wait_for_load_state("networkidle")
        opens.append(page.evaluate(_OPEN, id))
        filters += [page.evaluate(_FILTER, typed) for typed in ("ember", "")]
    for _ in range(3):
        page.goto(f"{address}/kits/{page.evaluate(_BEGIN, 0)}")
        page.get_by_role("button", name="From a file").click()
        begun = time.perf_counter()
        page.locator("input[type=file]").set_input_files({"name": "kit.csv", "mimeType": "text/csv", "buffer": table})
        page.get_by_role("button", name="Put 1000 colours").click()
        page.get_by_role("heading", name="The rack").wait_for()
        page.locator(".kit-colour").nth(999).wait_for()
        imports.append(time.perf_counter() - begun)
    return [
        Row("a kit of 1,000 colours opens", float(np.nanmedian(opens)), "ms", 300),
        Row("a kit of 1,000 colours is filtered", float(np.nanmedian(filters)), "ms", 300),
        Row("a file of 1,000 colours is read in", median(imports), "s", 2),
    ]


def _study(page: Page, title: str) -> str:
    return str(
        page.evaluate("(t) => fetch('/api/studies').then(r => r.json()).then(a => a.find(s => s.title.includes(t)).id)", title)
    )


def browser() -> list[Row]:
    """A touched place, a changed pressure, the first page, and the weight of the script."""
    with tempfile.TemporaryDirectory() as folder, sync_playwright() as play:
        caltin = Caltin(Path(folder))
        caltin.start()
        try:
            chromium = play.chromium.launch(executable_path="/usr/bin/chromium", args=CHROMIUM)
            page = chromium.new_page(viewport={"width": 1280, "height": 800})
            page.goto(caltin.address)
            loads = []
            for _ in range(LOADS):
                fresh = chromium.new_context(viewport={"width": 1280, "height": 800}).new_page()
                fresh.goto(caltin.address)
                fresh.locator(".study").first.wait_for()
                loads.append(float(fresh.evaluate("performance.now()")))
                fresh.context.close()
            page.goto(f"{caltin.address}/studies/{_study(page, 'purser')}/look")
            page.locator(".board image").wait_for()
            rng = np.random.default_rng(1)
            touches = [page.evaluate(_TOUCH, [int(x), int(y)]) for x, y in rng.integers((400, 300), (760, 880), (TOUCHES, 2))]
            page.goto(f"{caltin.address}/studies/{_study(page, 'pilot')}/match")
            page.get_by_test_id("against").wait_for()
            presses = []
            for index in range(PRESSES):
                presses.append(page.evaluate(_PRESS, [("light", "burnish", "medium", "firm")[index % 4], 1 + index % 6]))
                page.wait_for_timeout(350)
            large = _large_kit(page, caltin.address)
            chromium.close()
        finally:
            caltin.stop()
    script = sum(len(gzip.compress(p.read_bytes(), 9)) for p in (ROOT / "web" / "dist" / "assets").glob("*.js"))
    return [
        Row("a touched place shows its tone, p95", float(np.nanpercentile(touches, 95)), "ms", 150),
        Row("a finger on the pad shows its prediction, p95", float(np.nanpercentile(presses, 95)), "ms", 150),
        Row("first page usable", median(loads), "ms", 1000),
        Row("JavaScript, gzip", script / 1000, "kB", 250),
        *large,
    ]
