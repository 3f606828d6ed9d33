"""What the artist waits for, in a real browser against the real server."""

import gzip
import tempfile
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

_PRESS = """async (name) => {
  const said = () => document.querySelector('[data-testid=against]')?.innerText;
  const button = [...document.querySelectorAll('.segments button')].find((b) => b.innerText === name);
  const before = said();
  const begun = performance.now();
  button.click();
  while (said() === before) {
    if (performance.now() - begun > 3000) return NaN;
    await new Promise(requestAnimationFrame);
  }
  return performance.now() - begun;
}"""


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
                presses.append(page.evaluate(_PRESS, ("light", "burnish", "medium", "firm")[index % 4]))
                page.wait_for_timeout(350)
            chromium.close()
        finally:
            caltin.stop()
    script = sum(len(gzip.compress(p.read_bytes(), 9)) for p in (ROOT / "web" / "dist" / "assets").glob("*.js"))
    return [
        Row("a touched place shows its tone, p95", float(np.nanpercentile(touches, 95)), "ms", 150),
        Row("a changed pressure shows its prediction, p95", float(np.nanpercentile(presses, 95)), "ms", 150),
        Row("first page usable", median(loads), "ms", 1000),
        Row("JavaScript, gzip", script / 1000, "kB", 250),
    ]
