"""A picture as a study looks at it: developed and framed. Read once and kept in memory as long as it is looked at."""

from dataclasses import dataclass
from functools import lru_cache
from pathlib import Path
from typing import Any

import cv2
import numpy as np

from caltin_core.colour.tables import Floats
from caltin_core.colour.value import munsell_value
from caltin_core.reference import areas, seeing
from caltin_core.reference.cast import Cast, guess
from caltin_core.reference.develop import Develop
from caltin_core.reference.frame import Frame
from caltin_core.reference.line_art import is_line_art
from caltin_core.reference.picture import Pixels
from caltin_core.reference.points import BLUR
from caltin_core.skin.complexion import Complexion, measure
from caltin_core.skin.find import Skin, blurred
from caltin_core.skin.light import Light, lights
from caltin_site.references.models import Picture

# The developed picture is looked at closely; ways of seeing are for the whole, and answer at once.
SHARP, VIEW, OVERVIEW = 1000, 820, 640
LARGEST_PROXY = 4000
BINS = 60
# Pixels at an end of what the sensor or the file can tell; common practice.
_CLIPPED_LIGHT, _CLIPPED_DARK, _CLIPPED_LEAST = 253, 3, 0.002


@dataclass(frozen=True)
class Look:
    """What is looked at: the picture's file, how it is developed (`Develop`'s numbers in a row) and framed."""

    path: str
    develop: tuple[float, ...]
    frame: Frame

    @classmethod
    def of(cls, picture: Picture, develop: Develop, frame: Frame) -> "Look":
        """The look of a picture."""
        return cls(str(picture.folder / "pixels.npy"), (*develop.matrix.ravel().tolist(), develop.stops, develop.contrast), frame)

    def developed(self) -> Develop:
        """How it is developed."""
        return Develop(np.array(self.develop[:9]).reshape(3, 3), self.develop[9], self.develop[10])


@dataclass(frozen=True)
class Extent:
    """A histogram of values, and the extremes (x, y in the frame's pixels, L*): what every opening of a study needs."""

    histogram: tuple[float, ...]
    darkest: tuple[float, float, float]
    lightest: tuple[float, float, float]


@dataclass(frozen=True)
class Overview:
    """What is read of the whole beside its extent: what is clipped, the skin with its measures and lights, the cast."""

    clipped_light: float
    clipped_dark: float
    skin: Skin
    complexion: Complexion | None
    lights: tuple[Light, ...]
    cast: Cast
    line_art: bool


@lru_cache(maxsize=4)
def pixels_of(path: str) -> Pixels:
    """The pixels, read from the disk only where they are looked at."""
    return np.load(path, mmap_mode="r")


@lru_cache(maxsize=8)
def _proxy(path: str, longest: int) -> Pixels:
    """The whole picture averaged down."""
    small = Path(path).with_name("proxy.npy")
    # What was averaged down when the picture came in serves everything that is no larger.
    pixels = np.load(small) if small.exists() else pixels_of(path)
    if longest > max(pixels.shape[:2]):
        pixels = pixels_of(path)
    scale = longest / max(pixels.shape[:2])
    if scale >= 1:
        return np.asarray(pixels)
    size = (max(1, round(pixels.shape[1] * scale)), max(1, round(pixels.shape[0] * scale)))
    return np.asarray(cv2.resize(np.asarray(pixels), size, interpolation=cv2.INTER_AREA), dtype=np.uint8)


def _cut(look: Look, longest: int) -> Pixels:
    """The framed pixels, before they are developed."""
    whole = pixels_of(look.path)
    most = max(whole.shape[:2])
    # A tight crop is cut from a larger proxy, so that it stays as sharp as it can be.
    wanted = min(most, round(longest * most / max(look.frame.width, look.frame.height)), LARGEST_PROXY)
    source = _proxy(look.path, -(-wanted // 500) * 500)
    return np.asarray(look.frame.cut(source, source.shape[1] / whole.shape[1], longest), dtype=np.uint8)


@lru_cache(maxsize=6)
def lab_of(look: Look, longest: int = VIEW) -> Floats:
    """The framed, developed picture as D50 CIELAB (h, w, 3), at most `longest` pixels long."""
    return look.developed().of_pixels(_cut(look, longest))


@lru_cache(maxsize=4)
def map_lab(path: str, develop: tuple[float, ...]) -> Floats:
    """The whole developed picture in the size of its area map, which areas are read from."""
    whole = pixels_of(path)
    size = areas.map_size(whole.shape[1], whole.shape[0])
    small = np.asarray(cv2.resize(_proxy(path, 1500), size, interpolation=cv2.INTER_AREA), dtype=np.uint8)
    return Look(path, develop, Frame(size[0] / 2, size[1] / 2, 999, 999)).developed().of_pixels(small)


@lru_cache(maxsize=24)
def extent(look: Look) -> Extent:
    """How far a look's values reach."""
    lab = look.developed().of_pixels(_cut(look, OVERVIEW))
    value = munsell_value(lab[::2, ::2].reshape(-1, 3).astype(float))
    counts, _ = np.histogram(value, bins=BINS, range=(0, 10))
    soft = blurred(lab[..., 0], max(0.8, BLUR * lab.shape[1]))
    scale = look.frame.width / lab.shape[1]
    ends = []
    for flat in (int(soft.argmin()), int(soft.argmax())):
        y, x = np.unravel_index(flat, soft.shape)
        ends.append(((int(x) + 0.5) * scale, (int(y) + 0.5) * scale, float(soft[y, x])))
    return Extent(tuple(round(float(v), 6) for v in counts / counts.sum()), ends[0], ends[1])


@lru_cache(maxsize=12)
def overview(look: Look) -> Overview:
    """Everything else that is read of the whole of a look."""
    cut = _cut(look, OVERVIEW)
    lab = look.developed().of_pixels(cut)
    skin = areas.skin_of(lab)
    light, dark = float((cut.max(axis=2) >= _CLIPPED_LIGHT).mean()), float((cut.max(axis=2) <= _CLIPPED_DARK).mean())
    return Overview(
        light if light > _CLIPPED_LEAST else 0.0, dark if dark > _CLIPPED_LEAST else 0.0,
        skin, measure(lab, skin.mask), lights(lab, skin), guess(cut), is_line_art(lab),
    )  # fmt: skip


@lru_cache(maxsize=24)
def sight(look: Look, view: str, more: tuple[tuple[str, float | int], ...] = ()) -> seeing.Sight:
    """One way of seeing a look."""
    lab = lab_of(look, SHARP if view == "picture" else VIEW)
    mask = None
    if view in ("warmth", "hidden", "undertone", "melanin", "blood"):
        small = overview(look).skin.mask
        mask = np.asarray(cv2.resize(small.astype(np.uint8), (lab.shape[1], lab.shape[0]), interpolation=cv2.INTER_NEAREST)) > 0
    wanted: dict[str, Any] = dict(more)
    return seeing.see(view, lab, mask, **wanted)


def forget() -> None:
    """Let go of everything kept, after a picture was deleted."""
    for kept in (pixels_of, _proxy, lab_of, map_lab, extent, overview, sight):
        kept.cache_clear()
