"""The tone of a place in a picture, and the values of the whole of it."""

from dataclasses import dataclass

import cv2
import numpy as np
from scipy.ndimage import gaussian_filter

from caltin_core.colour.difference import delta_e_2000
from caltin_core.colour.spaces import xyz50_from_srgb
from caltin_core.colour.tables import Floats
from caltin_core.colour.value import lightness_of_value, munsell_value
from caltin_core.errors import BadRequest
from caltin_core.reference.develop import PLAIN, Develop, balanced_by
from caltin_core.reference.picture import Pixels

WHITE_DISC = 5.0
BLUR = 0.005
# The whole of a large picture is read through a proxy of this many pixels on its longer side.
PROXY = 1600


@dataclass(frozen=True)
class Tone:
    """A disc's median Lab (3,), and how even it is: the median ΔE00 of its pixels to that."""

    lab: Floats
    spread: float


@dataclass(frozen=True)
class Zone:
    """One step of value: its middle on the Munsell scale, its median Lab (3,) and its share of the picture."""

    value: float
    lab: Floats
    share: float


@dataclass(frozen=True)
class Place:
    """A pixel of the upright picture and the Lab (3,) there."""

    x: int
    y: int
    lab: Floats


def disc(pixels: Pixels, x: float, y: float, radius: float) -> Floats:
    """The sRGB pixels (n, 3), 0-1, whose centres lie within `radius` of (x, y); at least the one there.

    Raises BadRequest when the place lies outside the picture.
    """
    height, width = pixels.shape[:2]
    for name, at, size in (("x", x, width), ("y", y, height)):
        if not 0 <= at <= size - 1:
            raise BadRequest(name, f"{at:g} lies outside the picture, which runs from 0 to {size - 1}")
    left, top = max(0, int(np.ceil(x - radius))), max(0, int(np.ceil(y - radius)))
    cut = pixels[top : int(np.floor(y + radius)) + 1, left : int(np.floor(x + radius)) + 1]
    rows, columns = np.ogrid[top : top + cut.shape[0], left : left + cut.shape[1]]
    inside = (columns - x) ** 2 + (rows - y) ** 2 <= radius**2
    found = cut[inside] if inside.size else cut.reshape(-1, 3)
    if found.size == 0:
        found = pixels[round(y), round(x)][None]
    return found.astype(float) / 255


def balance(pixels: Pixels, x: float, y: float) -> Floats:
    """The matrix (3, 3) on D50 XYZ that makes the disc of 5 pixels at (x, y) neutral by Bradford, its Y kept."""
    return balanced_by(xyz50_from_srgb(disc(pixels, x, y, WHITE_DISC)).mean(axis=0))


def tone(pixels: Pixels, x: float, y: float, radius: float, develop: Develop = PLAIN) -> Tone:
    """Per-channel Lab median of the pixels within `radius` of (x, y), and their spread."""
    lab = develop.lab(disc(pixels, x, y, radius))
    middle = np.median(lab, axis=0)
    return Tone(middle, float(np.median(delta_e_2000(middle, lab))))


def proxy(pixels: Pixels, longest: int = PROXY) -> Pixels:
    """The picture itself, or a copy averaged down so that its longer side is at most `longest` pixels."""
    if max(pixels.shape[:2]) <= longest:
        return pixels
    scale = longest / max(pixels.shape[:2])
    size = (max(1, round(pixels.shape[1] * scale)), max(1, round(pixels.shape[0] * scale)))
    return np.asarray(cv2.resize(np.asarray(pixels), size, interpolation=cv2.INTER_AREA), dtype=np.uint8)


def zones(pixels: Pixels, steps: int, develop: Develop = PLAIN) -> list[Zone]:
    """The whole picture in equal steps of Munsell value, darkest first; an empty step is its neutral grey."""
    lab = develop.of_pixels(proxy(pixels).reshape(-1, 3)).astype(float)
    step = np.minimum((munsell_value(lab) * steps / 10).astype(int), steps - 1)
    out = []
    for index in range(steps):
        mine = lab[step == index]
        value = 10 * (index + 0.5) / steps
        middle = np.median(mine, axis=0) if len(mine) else np.array([float(lightness_of_value(np.array(value))), 0.0, 0.0])
        out.append(Zone(value, middle, len(mine) / len(lab)))
    return out


def histogram(pixels: Pixels, bins: int = 60, develop: Develop = PLAIN) -> Floats:
    """Share of the picture (bins,) in equal bins of Munsell value from 0 to 10."""
    lab = develop.of_pixels(proxy(pixels, 500).reshape(-1, 3)).astype(float)
    counts, _ = np.histogram(munsell_value(lab), bins=bins, range=(0, 10))
    out: Floats = counts / counts.sum()
    return out


def extremes(pixels: Pixels, develop: Develop = PLAIN, longest: int = PROXY) -> tuple[Place, Place]:
    """The darkest and the lightest place after a blur of 0.5 % of the width, through a proxy `longest` pixels long."""
    small = proxy(pixels, longest)
    scale = pixels.shape[1] / small.shape[1]
    xyz = xyz50_from_srgb(small.astype(float) / 255)
    soft = gaussian_filter(xyz, sigma=(BLUR * small.shape[1], BLUR * small.shape[1], 0), mode="nearest")
    found = []
    for flat in (int(np.argmin(soft[:, :, 1])), int(np.argmax(soft[:, :, 1]))):
        row, column = np.unravel_index(flat, soft.shape[:2])
        x, y = (int((int(v) + 0.5) * scale) for v in (column, row))
        found.append(Place(min(x, pixels.shape[1] - 1), min(y, pixels.shape[0] - 1), develop.of_xyz(soft[row, column])))
    return found[0], found[1]
