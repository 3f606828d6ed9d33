"""A virtual camera that photographs a flat sheet: spectra in, a JPEG out, with the quirks of real ones.

Its sensitivities are not the eye's: overlapping bells with a leak, brought to sRGB by the matrix that suits ordinary
surfaces best in the light the camera believes in. The sheet lies in perspective under uneven light of any illuminant; the
lens bends and darkens its corners; the sensor adds noise; a tone curve and JPEG follow.
"""

from dataclasses import dataclass, replace

import cv2
import numpy as np
from PIL import Image
from scipy.ndimage import gaussian_filter

from caltin_core.charts.layout import Layout
from caltin_core.colour.spaces import SRGB_TO_XYZ50, adaptation, encode_srgb
from caltin_core.colour.spectra import reflectance_from_lab, weights
from caltin_core.colour.tables import ILLUMINANTS, WAVELENGTHS, Floats
from caltin_core.reference.picture import Pixels, write_jpeg

_DOTS = 10.0


@dataclass(frozen=True)
class Shot:
    """How a photograph was taken.

    `light`: an illuminant; `size`: width and height in pixels; `turn`, `tilt`, `lean`: degrees in the picture's plane and out
    of it; `fall`: by how much of its light the sheet's far side is darker; `vignette`: loss in the corners; `astray`: how far
    its white balance is off; `exposure`: of the paper against full white; `curve`: contrast beyond sRGB's; `noise`: of the
    sensor; `blur`: of the lens in pixels; `bend`: of the lens; `odd`: how far its sensitivities are from usual ones;
    `veil`: stray light in the lens; `quality`: of the JPEG. `seed` is the camera and the light about it, `take` one of its
    photographs there.
    """

    light: str = "D50"
    size: tuple[int, int] = (3000, 4000)
    turn: float = 0.0
    tilt: float = 0.0
    lean: float = 0.0
    fall: float = 0.15
    vignette: float = 0.15
    astray: float = 0.05
    exposure: float = 0.8
    curve: float = 0.0
    noise: float = 0.006
    blur: float = 0.8
    bend: float = 0.0
    odd: float = 0.6
    veil: float = 0.002
    quality: int = 92
    seed: int = 0
    take: int = 0


def any_shot(seed: int, size: tuple[int, int] = (3000, 4000)) -> Shot:
    """A photograph as an artist may take it: some light, some angle, some fall-off."""
    rng = np.random.default_rng(seed)
    light = str(rng.choice(["D50", "D65", "A", "LED-B3"], p=[0.4, 0.3, 0.15, 0.15]))
    return Shot(
        light, size, turn=float(rng.uniform(-25, 25) + 90 * rng.integers(0, 4)), tilt=float(rng.uniform(-22, 22)),
        lean=float(rng.uniform(-22, 22)), fall=float(rng.uniform(0, 0.4)), vignette=float(rng.uniform(0.05, 0.3)),
        astray=float(rng.uniform(0, 0.12)), exposure=float(rng.uniform(0.5, 0.9)), curve=float(rng.uniform(-0.05, 0.15)),
        noise=float(rng.uniform(0.003, 0.012)), blur=float(rng.uniform(0.6, 1.8)), bend=float(rng.uniform(-0.02, 0.02)),
        odd=float(rng.uniform(0.3, 1.2)), veil=float(rng.uniform(0, 0.006)), quality=int(rng.integers(80, 96)), seed=seed,
    )  # fmt: skip


def again(shot: Shot) -> Shot:
    """The same once more by the same camera: one to two stops darker, from a little aside, as sharp as it happens to be."""
    rng = np.random.default_rng((shot.seed, 1))
    return replace(
        shot, exposure=shot.exposure * 2 ** -float(rng.uniform(1, 2)), turn=shot.turn + float(rng.uniform(-8, 8)),
        tilt=shot.tilt + float(rng.uniform(-8, 8)), lean=shot.lean + float(rng.uniform(-8, 8)), blur=float(rng.uniform(0.6, 1.8)),
        take=shot.take + 1,
    )  # fmt: skip


def sensitivities(odd: float, rng: np.random.Generator) -> Floats:
    """Of red, green and blue (31, 3); the numbers are usual ones from memory."""
    peaks = np.array([600.0, 540.0, 460.0]) + rng.normal(0, 6 * odd, 3)
    widths = np.array([36.0, 42.0, 28.0]) * np.exp(rng.normal(0, 0.12 * odd, 3))
    bells = np.exp(-0.5 * ((WAVELENGTHS[:, None] - peaks) / widths) ** 2)
    out: Floats = bells + 0.03 * odd * bells.sum(axis=1, keepdims=True)
    return out


def page_of(layout: Layout, printed: Image.Image, cells: dict[str, Floats], paper: Floats) -> tuple[Pixels, float, Floats]:
    """What `photograph` takes: the map of a printed page on which `cells` (31,) were drawn, its dots to the millimetre, and
    the spectra: of the paper, of printer's black, and of every cell. A frame lies on its paper; its own is office white."""
    small = printed.resize((round(layout.page[0] * _DOTS), round(layout.page[1] * _DOTS)), Image.Resampling.BOX)
    office = reflectance_from_lab(np.array([94.0, 1.0, -4.0]))
    spectra = [office if layout.frame else paper, np.full(31, 0.035), paper]
    map_ = (np.asarray(small) < 110).astype(np.uint8)
    for box in layout.white if layout.frame else ():
        map_[_dots(box.y) : _dots(box.y + box.h), _dots(box.x) : _dots(box.x + box.w)] = 2
    for cell, reflects in cells.items():
        box = layout.cells[cell]
        map_[_dots(box.y) : _dots(box.y + box.h), _dots(box.x) : _dots(box.x + box.w)] = len(spectra)
        spectra.append(reflects)
    return map_, _DOTS, np.array(spectra)


def _dots(mm: float) -> int:
    return round(mm * _DOTS)


def photograph(map_: Pixels, dots_per_mm: float, spectra: Floats, shot: Shot, grain: float = 0.0) -> bytes:
    """A JPEG of a page: `map_` (h, w) says which of `spectra` (n, 31) each dot reflects; `grain` is its roughness as a share."""
    rng = np.random.default_rng(shot.seed)
    table = _as_seen(spectra, shot, rng).astype(np.float32)
    page = table[map_]
    if grain:
        rough = gaussian_filter(rng.normal(size=map_.shape).astype(np.float32), 0.12 * dots_per_mm)
        page = page * np.exp(grain * rough / max(float(rough.std()), 1e-9))[..., None]
    width, height = shot.size
    # The page is blurred before it is made smaller, as a lens does.
    plane = _plane(map_.shape, shot)
    shrink = float(np.sqrt(abs(np.linalg.det(plane[:2, :2]))))
    sigma = float(np.hypot(shot.blur, 0.4)) / max(shrink, 1e-6)
    soft = np.asarray(cv2.GaussianBlur(page, (0, 0), min(sigma, 12.0)), dtype=np.float32)
    seen = _through(soft, plane, shot, table.mean(axis=0) * 0.35)
    y, x = np.mgrid[0:height, 0:width].astype(np.float32)
    far = ((x - width / 2) ** 2 + (y - height / 2) ** 2) / (width**2 + height**2) * 4
    way = rng.uniform(0, 2 * np.pi)
    side = ((x / width - 0.5) * np.cos(way) + (y / height - 0.5) * np.sin(way)) + 0.5
    light = (1 - shot.fall * side) * (1 - shot.vignette * far)
    seen = (seen + shot.veil * table.max()) * light[..., None]
    seen = seen * shot.exposure
    noise = np.random.default_rng((shot.seed, shot.take)) if shot.take else rng
    seen = seen + noise.normal(0, 1, seen.shape).astype(np.float32) * shot.noise * np.sqrt(np.maximum(seen, 0) + 0.01)
    code = encode_srgb(np.clip(seen, 0, 1))
    code = code + shot.curve * (code - 0.5) * 4 * code * (1 - code)
    pixels = np.clip(np.rint(255 * code), 0, 255).astype(np.uint8)
    return write_jpeg(pixels, quality=shot.quality)


def corners_of(shape: tuple[int, ...], shot: Shot) -> Floats:
    """The pixels (4, 2) where a page's corners lie through a lens that does not bend, from its top left one on clockwise."""
    height, width = shape[:2]
    page = np.array([[0, 0, 1], [width, 0, 1], [width, height, 1], [0, height, 1]], dtype=float)
    there = page @ _plane(shape, shot).T
    out: Floats = there[:, :2] / there[:, 2:]
    return out


def _as_seen(spectra: Floats, shot: Shot, rng: np.random.Generator) -> Floats:
    """Linear sRGB (n, 3) that the camera makes of spectra (n, 31), a perfect white being 1 but for a balance astray."""
    senses = sensitivities(shot.odd, rng) * ILLUMINANTS[shot.light][:, None]
    senses = senses / senses.sum(axis=0)
    # What the camera's maker tuned it on: ordinary surfaces, seen by the eye in the same light and adapted to D50.
    labs = np.column_stack([rng.uniform(20, 92, 160), rng.normal(4, 22, 160), rng.normal(8, 24, 160)])
    known = reflectance_from_lab(labs)
    eye, white = weights(shot.light)
    xyz = known @ eye @ adaptation(white, weights("D50")[1]).T
    aim = xyz @ np.linalg.inv(SRGB_TO_XYZ50).T
    raw = known @ senses
    matrix, *_ = np.linalg.lstsq(raw, aim, rcond=None)
    matrix = matrix / matrix.sum(axis=0)
    gains = np.exp(rng.normal(0, shot.astray, 3))
    out: Floats = np.maximum((spectra @ senses * gains / gains[1]) @ matrix, 0)
    return out


def _plane(shape: tuple[int, ...], shot: Shot) -> Floats:
    """Where the page's dots lie in the picture (3, 3): turned, tilted and leaned, as large as the picture takes it."""
    height, width = shape[:2]
    turn, tilt, lean = np.radians([shot.turn, shot.tilt, shot.lean])
    corners = np.array([[-width, -height], [width, -height], [width, height], [-width, height]]) / (2 * max(width, height))
    flat = corners @ np.array([[np.cos(turn), np.sin(turn)], [-np.sin(turn), np.cos(turn)]])
    solid = np.column_stack([flat, np.zeros(4)])
    about_x = np.array([[1, 0, 0], [0, np.cos(tilt), -np.sin(tilt)], [0, np.sin(tilt), np.cos(tilt)]])
    about_y = np.array([[np.cos(lean), 0, np.sin(lean)], [0, 1, 0], [-np.sin(lean), 0, np.cos(lean)]])
    solid = solid @ (about_y @ about_x).T
    seen = solid[:, :2] / (1 + 0.5 * solid[:, 2:])
    low, high = seen.min(axis=0), seen.max(axis=0)
    scale = 0.92 * float(min(np.array(shot.size) / (high - low)))
    there = (seen - (low + high) / 2) * scale + np.array(shot.size) / 2
    page = np.array([[0, 0], [width, 0], [width, height], [0, height]], dtype=np.float32)
    return np.asarray(cv2.getPerspectiveTransform(page, there.astype(np.float32)), dtype=float)


def _through(page: Floats, plane: Floats, shot: Shot, table_top: Floats) -> Floats:
    """The page seen through the lens (height, width, 3), on a table."""
    width, height = shot.size
    y, x = np.mgrid[0:height, 0:width].astype(np.float32)
    middle = np.array([width / 2, height / 2], dtype=np.float32)
    out = np.stack([x, y], axis=-1) - middle
    far = (out**2).sum(axis=-1, keepdims=True) / float((middle**2).sum())
    # The lens bends outwards; where a pixel came from is found by going back once and once more.
    straight = out / (1 + shot.bend * far)
    straight = out / (1 + shot.bend * (straight**2).sum(axis=-1, keepdims=True) / float((middle**2).sum()))
    at = straight + middle
    back = np.linalg.inv(plane)
    z = at[..., 0] * back[2, 0] + at[..., 1] * back[2, 1] + back[2, 2]
    where = [((at[..., 0] * back[i, 0] + at[..., 1] * back[i, 1] + back[i, 2]) / z).astype(np.float32) for i in (0, 1)]
    seen = cv2.remap(page, where[0], where[1], cv2.INTER_LINEAR, borderMode=cv2.BORDER_CONSTANT, borderValue=table_top.tolist())
    return np.asarray(seen)
