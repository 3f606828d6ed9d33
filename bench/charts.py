"""Swatch sheets photographed by the stand-in camera and read back: found, how truly, how fast. All colours are invented."""

import time
from concurrent.futures import ProcessPoolExecutor
from dataclasses import dataclass, replace

import numpy as np

from bench.table import Row
from caltin_core.charts.correction import About
from caltin_core.charts.layout import Layout, lay_out
from caltin_core.charts.printing import drawn
from caltin_core.charts.reading import OwnChart, read_chart, read_sheet
from caltin_core.colour.difference import delta_e_2000
from caltin_core.colour.spectra import lab_from_reflectance, reflectance_from_lab
from caltin_core.colour.tables import WAVELENGTHS, Floats
from caltin_core.errors import UnreadablePicture
from caltin_core.reference.picture import Pixels, open_picture
from caltin_core.standins.camera import Shot, again, any_shot, corners_of, page_of, photograph

PHOTOGRAPHS, CHARTS = 200, 40
SIZE = (1500, 2000)
# What share of a sheet's cells are solids whose colour is known from before, within so much in ΔE00.
TOLD, WITHIN = 0.33, 4.0
_X = (WAVELENGTHS - 550) / 150


@dataclass(frozen=True)
class Scene:
    """A sheet filled in: its layout, the Lab of its paper (3,) and of its cells (n, 3), and what the camera is shown."""

    layout: Layout
    paper: Floats
    truth: Floats
    map_: Pixels
    dots: float
    spectra: Floats


def colours(rng: np.random.Generator, count: int, lightest: float) -> Floats:
    """Spectra (count, 31) of swatches, most of them warm, whose shape is not the one the core would make up."""
    lightness = rng.uniform(18, lightest, count)
    chroma = np.minimum(np.abs(rng.normal(18, 14, count)), np.minimum(1.1 * lightness, 1.4 * (105 - lightness)))
    hue = np.radians(np.where(rng.random(count) < 0.65, rng.uniform(15, 95, count), rng.uniform(0, 360, count)))
    smooth = reflectance_from_lab(np.column_stack([lightness, chroma * np.cos(hue), chroma * np.sin(hue)]))
    wave = sum(rng.normal(0, 0.12 / n, (count, 1)) * np.sin(n * np.pi * _X + rng.uniform(0, 6.28, (count, 1))) for n in (2, 3))
    return np.clip(smooth * np.exp(wave), 0.006, 0.97)


def scene(seed: int) -> Scene:
    """One of some size on some paper; one in five a frame, mostly over a dark one."""
    rng = np.random.default_rng(seed)
    frame = bool(rng.random() < 0.2)
    count = int(rng.integers(24, 49 if frame else 97))
    dark = rng.random() < (0.8 if frame else 0.15)
    lab = [rng.uniform(35, 70), rng.normal(0, 3), rng.normal(5, 5)] if dark else [rng.uniform(90, 97), rng.normal(0, 0.8), 2.0]
    paper = np.array(lab)
    names = [str(i + 1) for i in range(count)]
    layout = lay_out(str(rng.choice(["A4", "letter"])), names, frame)
    reflects = colours(rng, count, min(93, paper[0] + 25))
    page = drawn(layout, "Night ferry, first evening", {n: (n, "two medium passes", "") for n in names})
    shown = page_of(layout, page, dict(zip(names, reflects, strict=True)), reflectance_from_lab(paper))
    return Scene(layout, paper, lab_from_reflectance(reflects), *shown)


SAID = (
    "nothing known",
    "the light said",
    "the light said, and a darker photograph",
    f"the light said, every {round(1 / TOLD)}rd solid known within {WITHIN:g}",
)


def _miss(seed: int) -> tuple[list[Floats], Floats] | None:
    """What cells are read amiss where as much is told as `SAID` says, and their lightness: of those whose colour never is."""
    here, rng, shot = scene(seed), np.random.default_rng(seed), any_shot(seed, SIZE)
    told = rng.random(len(here.truth)) < TOLD
    barrel = here.truth + rng.normal(0, WITHIN / 3**0.5, here.truth.shape)
    about = [About(cell, barrel[i], WITHIN) for i, cell in enumerate(here.layout.cells) if told[i]]
    try:
        pixels, darker = (open_picture(photograph(here.map_, here.dots, here.spectra, s, grain=0.05)) for s in (shot, again(shot)))
        every = [
            read_sheet(pixels, here.layout, here.paper),
            read_sheet(pixels, here.layout, here.paper, light=shot.light),
            read_sheet(pixels, here.layout, here.paper, light=shot.light, again=darker),
            read_sheet(pixels, here.layout, here.paper, about, shot.light),
        ]
    except UnreadablePicture:
        return None
    return [delta_e_2000(here.truth, np.array([p.lab for p in seen]))[~told] for seen in every], here.truth[~told, 0]


def _own(seed: int) -> tuple[Floats, Floats]:
    """A chart of one's own, without marks: its corners touched two pixels beside the true ones; without and with its light said."""
    rng = np.random.default_rng(1000 + seed)
    rows, columns = int(rng.integers(4, 9)), int(rng.integers(4, 8))
    paper = np.array([rng.uniform(90, 96), 0.0, 2.0])
    reflects = colours(rng, rows * columns, 92)
    step, gap, dots = 24.0, 0.2, 10.0
    map_ = np.zeros((int(rows * step * dots), int(columns * step * dots)), dtype=np.uint8)
    for i in range(rows * columns):
        y, x = (int((v + gap / 2) * step * dots) for v in divmod(i, columns))
        size = int((1 - gap) * step * dots)
        map_[y : y + size, x : x + size] = i + 1
    spectra = np.concatenate([reflectance_from_lab(paper)[None], reflects])
    shot = replace(any_shot(seed, SIZE), bend=0.0)
    corners = corners_of(map_.shape, shot) + rng.normal(0, 2, (4, 2))
    pixels = open_picture(photograph(map_, dots, spectra, shot, grain=0.05))
    chart, truth = OwnChart(corners.tolist(), rows, columns, gap=gap), lab_from_reflectance(reflects)
    plain, said = (np.array([p.lab for p in read_chart(pixels, chart, paper, light)]) for light in ("D50", shot.light))
    return delta_e_2000(truth, plain), delta_e_2000(truth, said)


def charts() -> list[Row]:
    """Photographs of varied sheets, light and angle; charts without marks; the time a large one takes."""
    with ProcessPoolExecutor(2) as pool:
        every = list(pool.map(_miss, range(PHOTOGRAPHS)))
        charts = list(pool.map(_own, range(CHARTS)))
    own, lit = (np.concatenate([x[i] for x in charts]) for i in range(2))
    read = [x for x in every if x is not None]
    depth = np.concatenate([x[1] for x in read])
    here = scene(3)
    names = [str(i + 1) for i in range(96)]
    layout = lay_out("A4", names)
    reflects = colours(np.random.default_rng(0), 96, 92)
    shown = page_of(layout, drawn(layout, "", {}), dict(zip(names, reflects, strict=True)), reflectance_from_lab(here.paper))
    taken = photograph(*shown, Shot(size=(3000, 4000)))
    begun = time.perf_counter()
    read_sheet(open_picture(taken), layout, here.paper)
    took = time.perf_counter() - begun
    rows = [Row(f"swatch sheets found, of {PHOTOGRAPHS} photographs", 100 * len(read) / PHOTOGRAPHS, "%", 99, True)]
    for i, said in enumerate(SAID):
        away = np.concatenate([x[0][i] for x in read])
        ratio = float(np.median(away[depth < 48]) / np.median(away[depth > 65]))
        rows.append(Row(f"patches, {said}: median", float(np.median(away)), "ΔE00", 1.5))
        rows.append(Row(f"patches, {said}: 90th percentile", float(np.quantile(away, 0.9)), "ΔE00", 3.0))
        rows.append(Row(f"patches, {said}: below L* 48 against above 65", ratio, "x", 1.3))
    return [
        *rows,
        Row(f"charts without marks, {CHARTS} photographs, median", float(np.median(own)), "ΔE00", 2.0),
        Row("the same, the light said", float(np.median(lit)), "ΔE00", 2.0),
        Row("12 megapixels, 96 cells read", took, "s", 3),
    ]
