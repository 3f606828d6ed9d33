"""Small builders for the core's tests. All kits here are made up."""

import numpy as np

from caltin_core.colour.spectra import reflectance_from_lab
from caltin_core.media.colourants import Ground, Swatch
from caltin_core.media.hand import PRESSURES
from caltin_core.media.layers import PRESSED, STROKES, Lay, Stroke, as_coat
from caltin_core.media.workbench import Workbench
from demo.kits import WAX_24

WHITE_LAB = (95.0, 0.0, 2.0)


def ground(tooth="vellum", lab=WHITE_LAB):
    return Ground(reflectance_from_lab(np.array(lab)), tooth)


def swatch(id, lab, medium="wax_pencil", on=None, **more):
    return Swatch(id, reflectance_from_lab(np.array(lab, dtype=float)), medium, on or ground(), **more)


PLAIN = {
    "white": (96, 0, 1), "cream": (90, 1, 18), "yellow": (84, 4, 76), "ochre": (62, 14, 46), "orange": (66, 38, 56),
    "pink": (64, 44, 8), "red": (46, 56, 36), "violet": (40, 26, -30), "blue": (34, 6, -46), "green": (46, -34, 22),
    "brown": (31, 18, 21), "black": (22, 0, 0),
}  # fmt: skip


def plain_bench(tooth="vellum", medium="wax_pencil"):
    """Twelve colours of plain names."""
    return Workbench(tuple(swatch(name, lab, medium) for name, lab in PLAIN.items()), ground(tooth))


def demo_bench():
    return Workbench(tuple(swatch(id, lab, name=name) for id, name, lab in WAX_24), ground())


def random_bench(rng, many, blacks=1):
    """A random kit that looks like a pencil box: mostly warm, some of everything, `blacks` blacks."""
    out = [swatch(f"black{i}", (23.0 + i, 0.0, 0.0)) for i in range(blacks)]
    while len(out) < many:
        lightness = rng.uniform(24, 94)
        chroma = rng.uniform(3, min(60.0, 1.1 * lightness, 1.6 * (110 - lightness)))
        hue = np.radians(rng.uniform(20, 90) if rng.random() < 0.6 else rng.uniform(0, 360))
        out.append(swatch(f"c{len(out)}", (lightness, chroma * np.cos(hue), chroma * np.sin(hue))))
    return Workbench(tuple(out), ground())


def random_stack(rng, bench, layers=None):
    """A random legal stack under the default rules: at most 5 layers, 4 colours, black only as the last."""
    blacks = {i for i, s in enumerate(bench.swatches) if s.is_black}
    while True:
        many = layers or int(rng.integers(1, 6))
        colours = [int(c) for c in rng.integers(len(bench.swatches), size=many)]
        if len(set(colours)) <= 4 and not blacks & set(colours[:-1]):
            strokes = [STROKES[int(rng.integers(PRESSED))] for _ in colours]
            kinds = [bench.swatches[c].kind for c in colours]
            return [Lay(c, s if k == "film" else as_coat(s)) for c, s, k in zip(colours, strokes, kinds, strict=True)]


def stack(bench, text):
    """Layers from words: ``"brown light 2, cream burnish 1 turned side"``."""
    index = {s.id: i for i, s in enumerate(bench.swatches)}
    out = []
    for words in text.split(","):
        colour, pressure, passes, *rest = words.split()
        assert pressure in PRESSURES
        out.append(Lay(index[colour], Stroke(pressure, int(passes), "side" if "side" in rest else "sharp", "turned" in rest)))
    return out
