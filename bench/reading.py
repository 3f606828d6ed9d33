"""How truly a picture is read, and how long the artist waits for it."""

import io
import tempfile
import time
from pathlib import Path
from statistics import median

import numpy as np
from PIL import Image
from playwright.sync_api import Page, sync_playwright
from scipy.stats import spearmanr

from bench.table import Row
from caltin_core.colour.difference import delta_e_2000
from caltin_core.colour.spaces import SRGB_TO_XYZ, SRGB_TO_XYZ50, lab_from_xyz
from caltin_core.reference import areas, cast
from caltin_core.reference.develop import Develop
from caltin_core.reference.points import balance, proxy, tone
from caltin_core.reference.seeing import VIEWS
from caltin_core.skin.complexion import measure
from caltin_core.skin.light import lights
from tests.core.pictures import KEYS, MELANINS, PORTRAITS, chart, lab_of, portrait, sphere
from tests.journeys.conftest import CHROMIUM, Caltin

DEEP, LIGHT = (1.4, 1.8, 2.2), (0.12, 0.3, 0.5)
BLOODS = (0.15, 0.25, 0.35, 0.45, 0.55)
TURNS = range(0, 360, 30)
SIDE = 800

_STROKES = """async (moves) => {
  const board = document.querySelector('.board > svg');
  const box = board.getBoundingClientRect();
  board.setPointerCapture = () => undefined;
  const event = (kind, x, y) => board.dispatchEvent(new PointerEvent(kind,
    { clientX: box.left + x, clientY: box.top + y, pointerId: 1, button: 0, bubbles: true }));
  const settled = () => new Promise((done) => {
    const c = new MessageChannel(); c.port1.onmessage = done; c.port2.postMessage(0);
  });
  const took = [];
  event('pointerdown', 300, 300);
  for (let i = 0; i < moves; i++) {
    await new Promise(requestAnimationFrame);
    const begun = performance.now();
    event('pointermove', 300 + 60 * Math.sin(i / 6), 300 + i * 2);
    await settled(); await settled();
    took.push(performance.now() - begun);
  }
  event('pointerup', 300, 300 + moves * 2);
  return took;
}"""


def _turned(one: float, other: float) -> float:
    return abs((one - other + 180) % 360 - 180)


def _zone_error(melanin: float, seed: int) -> float:
    """Of the skin of a noisy photograph, read on its proxy as everywhere, against the exact light it was made of."""
    made = sphere(melanin, 0.3, direction=60.0 + 25 * seed, seed=seed, size=2 * SIDE)
    seen = lab_of(proxy(made.pixels, SIDE))
    found = areas.propose(seen)
    skin = {a.label for a in found.areas if a.role in (*areas.SKIN_ROLES, areas.OTHER_LIGHT, "flush")}
    exact = lab_from_xyz(made.linear.reshape(SIDE, 2, SIDE, 2, 3).mean(axis=(1, 3)) @ SRGB_TO_XYZ50.T)
    read, truth = (areas.measure(found.labels, lab) for lab in (seen, exact))
    return max(abs(float(a.lab[0] - b.lab[0])) for a, b in zip(read, truth, strict=True) if a.label in skin)


def _bloods(melanin: float) -> float:
    found = []
    for index, blood in enumerate(BLOODS):
        lab = lab_of(sphere(melanin, blood, seed=index).pixels)
        here = measure(lab, areas.skin_of(lab).mask)
        found.append(here.blood if here else np.nan)
    return float(spearmanr(found, BLOODS)[0])


def _words_kept(melanin: float) -> float:
    """Share of spheres whose undertone's word stays under a tenth more or less light."""
    kept = []
    for blood in BLOODS:
        words = set()
        for exposure in (0.9, 1.0, 1.1):
            lab = lab_of(sphere(melanin, blood, exposure=exposure).pixels)
            here = measure(lab, areas.skin_of(lab).mask)
            words.add(here.undertone.word if here else "")
        kept.append(len(words) == 1)
    return float(np.mean(kept))


def zones_and_pigments() -> list[Row]:
    """Zones, melanin, blood and undertone against pictures whose truth is known."""
    light, deep = (max(_zone_error(m, seed) for m in depths for seed in range(3)) for depths in (LIGHT, DEEP))
    found = []
    for name in MELANINS:
        lab = lab_of(portrait(name))
        here = measure(lab, areas.skin_of(lab).mask)
        found.append(here.melanin if here else np.nan)
    return [
        Row("zone value, worst miss of the true mean, light spheres", light, "L*", 1.5),
        Row("zone value, worst miss of the true mean, deep spheres", deep, "L*", 1.5),
        Row("the same, deep against light", deep / light, "x", 1.3),
        Row("melanin order of the six portraits, Spearman", float(spearmanr(found, list(MELANINS.values()))[0]), "", 0.8, True),
        Row("blood order on spheres, least Spearman, light", min(_bloods(m) for m in LIGHT), "", 0.8, True),
        Row("blood order on spheres, least Spearman, deep", min(_bloods(m) for m in DEEP), "", 0.8, True),
        Row("undertone word kept under ±10 % exposure, light", float(np.mean([_words_kept(m) for m in LIGHT])), "", 1.0, True),
        Row("undertone word kept under ±10 % exposure, deep", float(np.mean([_words_kept(m) for m in DEEP])), "", 1.0, True),
    ]


def _keys(depths: tuple[float, ...]) -> float:
    out = []
    for melanin in depths:
        for turn in TURNS:
            lab = lab_of(sphere(melanin, direction=float(turn), frontal=0.5, seed=turn).pixels)
            found = lights(lab, areas.skin_of(lab))
            out.append(_turned(found[0].direction, turn) if found else 180.0)
    return max(out)


def balance_and_light() -> list[Row]:
    """Balance on charts under three lights, the guess of a cast, and the key's direction."""
    balanced, guessed = [], []
    for illuminant in ("A", "D50", "D65"):
        pixels, white, middles = chart(illuminant)
        develop = Develop(balance(pixels, *middles[20]))
        for x, y in (middles[19], middles[21]):
            lab = tone(pixels, x, y, 12, develop).lab
            balanced.append(float(delta_e_2000(lab, np.array([lab[0], 0, 0]))))
        truth = np.linalg.inv(SRGB_TO_XYZ) @ white @ SRGB_TO_XYZ50.T
        guessed.append(float(delta_e_2000(cast.guess(pixels).lab, lab_from_xyz(truth / truth[1]))))
    portraits = []
    for name, truth_of in KEYS.items():
        lab = lab_of(portrait(name))
        found = lights(lab, areas.skin_of(lab))
        portraits.append(_turned(found[0].direction, truth_of) if found else 180.0)
    return [
        Row("balanced by a grey: its neighbours, worst of A, D50, D65, ΔE00", max(balanced), "", 1.5),
        Row("the cast guessed, worst of A, D50, D65, ΔE00", max(guessed), "", 1.5),
        Row("the key's direction, worst of the five portraits that have one", max(portraits), "°", 15),
        Row("the key's direction, worst of light spheres", _keys(LIGHT), "°", 15),
        Row("the key's direction, worst of deep spheres", _keys(DEEP), "°", 15),
    ]


def _large() -> bytes:
    """24 megapixels: a portrait made larger, with the noise of a camera, as JPEG."""
    image = Image.open(PORTRAITS / "deckhand.jpg").resize((4380, 5475), Image.Resampling.BICUBIC)
    noise = np.random.default_rng(1).integers(-3, 4, (*image.size[::-1], 1))
    out = io.BytesIO()
    Image.fromarray(np.clip(np.asarray(image).astype(np.int16) + noise, 0, 255).astype(np.uint8)).save(out, "JPEG", quality=92)
    return out.getvalue()


def _shown(page: Page, href: str) -> float:
    return float(
        page.evaluate(
            """async (h) => { const t = performance.now(); const i = new Image(); i.src = h; await i.decode();
            return performance.now() - t }""",
            href,
        )
    )


def pictures_in_the_browser() -> list[Row]:
    """A large picture from drop to use, every view of it, zones, brush and loupe."""
    with tempfile.TemporaryDirectory() as folder, sync_playwright() as play:
        caltin = Caltin(Path(folder))
        caltin.start()
        try:
            page = play.chromium.launch(executable_path="/usr/bin/chromium", args=CHROMIUM).new_page(
                viewport={"width": 1280, "height": 800}
            )
            large = Path(folder) / "large.jpg"
            large.write_bytes(_large())
            drops = []
            for _ in range(3):
                page.goto(caltin.address)
                page.locator("button:enabled", has_text="Choose a picture").wait_for()
                begun = time.perf_counter()
                page.locator("input[type=file]").first.set_input_files(large)
                page.locator(".board-picture").wait_for()
                page.evaluate("async (h) => { const i = new Image(); i.src = h; await i.decode() }", _href(page))
                drops.append(time.perf_counter() - begun)
            page.wait_for_load_state("networkidle")
            study = page.url.split("/studies/")[1].split("/")[0]
            look = page.evaluate("(s) => fetch(`/api/studies/${s}`).then(r => r.json()).then(s => s.look)", study)
            _shown(page, f"/api/studies/{study}/views/{look}/values.jpg?steps=3")
            views = [_shown(page, f"/api/studies/{study}/views/{look}/{view}.jpg") for view in VIEWS]
            page.keyboard.press("z")
            begun = time.perf_counter()
            page.get_by_role("button", name="Propose zones").click()
            page.get_by_role("heading", name="Zones", exact=True).wait_for()
            zones = time.perf_counter() - begun
            page.locator(".place-list button").first.click()
            page.get_by_role("button", name="Brush on").click()
            page.wait_for_timeout(800)
            brush = page.evaluate(_STROKES, 90)
            page.keyboard.press("t")
            page.wait_for_timeout(800)
            loupe = page.evaluate(_STROKES, 60)
        finally:
            caltin.stop()
    return [
        Row("24 megapixels, from drop to a picture one can touch", median(drops), "s", 2),
        Row("a way of seeing, 24 megapixels, slowest of twelve", max(views), "ms", 300),
        Row("a way of seeing, median", median(views), "ms", 300),
        Row("zones proposed", zones, "s", 2),
        Row("brush, main-thread work a frame, p95", float(np.percentile(brush, 95)), "ms", 20),
        Row("panning and loupe, main-thread work a frame, p95", float(np.percentile(loupe, 95)), "ms", 20),
    ]


def _href(page: Page) -> str:
    return str(page.locator(".board-picture").get_attribute("href"))
