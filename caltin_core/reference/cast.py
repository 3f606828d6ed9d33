"""The colour cast of a picture: a guess what its neutrals look like, and how sure that is. Never applied by itself.

Greys of several lightnesses share one chromaticity, and so do the steps of a chart; where such a row is found it speaks.
Otherwise the whole picture is averaged with weight on its lights (shades of grey, Finlayson & Trezzi 2004), unsurely.
"""

from dataclasses import dataclass

import cv2
import numpy as np

from caltin_core.colour.difference import delta_e_2000
from caltin_core.colour.spaces import SRGB_TO_XYZ50, decode_srgb, lab_from_xyz
from caltin_core.colour.tables import Floats
from caltin_core.reference.picture import Pixels

LONGEST = 200
# A cast smaller than this is not worth a word; a guess less sure than this is not proposed.
CLEAR, SURE = 6.0, 0.35
_MINKOWSKI = 6
_NEAR, _LEVELS, _LEAST = 0.03, 8, 0.0015
_LIGHTEST, _DARKEST = 0.98, 0.012


@dataclass(frozen=True)
class Cast:
    """`xyz` (3,) of a white object as the picture has it, Y = 1 under D50; `lab` (3,) of it; `de00` from neutral; sureness 0-1."""

    xyz: Floats
    lab: Floats
    de00: float
    confidence: float

    @property
    def clear(self) -> bool:
        """Whether it is worth proposing."""
        return self.de00 > CLEAR and self.confidence >= SURE


def guess(pixels: Pixels) -> Cast:
    """The cast of a picture, sRGB bytes (h, w, 3)."""
    scale = LONGEST / max(pixels.shape[:2])
    small = pixels
    if scale < 1:
        size = (max(1, round(pixels.shape[1] * scale)), max(1, round(pixels.shape[0] * scale)))
        small = np.asarray(cv2.resize(pixels, size, interpolation=cv2.INTER_AREA), dtype=np.uint8)
    linear = decode_srgb(small.reshape(-1, 3) / 255.0)
    good = (linear.max(axis=1) < _LIGHTEST) & (linear.max(axis=1) > _DARKEST) & (linear.min(axis=1) > 1e-3)
    row, steps = _row_of_greys(linear[good]) if good.sum() > 50 else (None, 0)
    if row is not None:
        white, sure = row, float(np.clip((steps - 2) / 3, 0.0, 1.0))
    else:
        white, sure = (linear**_MINKOWSKI).mean(axis=0) ** (1 / _MINKOWSKI), 0.2
    xyz = np.maximum(white, 1e-4) @ SRGB_TO_XYZ50.T
    xyz = xyz / xyz[1]
    lab = lab_from_xyz(xyz)
    return Cast(xyz, lab, float(delta_e_2000(np.array([100.0, 0, 0]), lab)), sure)


def _row_of_greys(linear: Floats) -> tuple[Floats | None, int]:
    """The chromaticity (3,) that most separate levels of lightness share, and how many levels; near neutrals first.

    A level counts where many pixels lie close together there, as on a patch; shading alone spreads them evenly.
    """
    log = np.log(linear)
    chromaticity = np.stack([log[:, 0] - log[:, 1], log[:, 2] - log[:, 1]], axis=1)
    level = np.cbrt(linear @ SRGB_TO_XYZ50[1]) * 100
    bins = np.round(chromaticity / _NEAR).astype(int)
    cells, place = np.unique(bins, axis=0, return_inverse=True)
    place = place.ravel()
    many = np.bincount(place)
    order = np.argsort(-many)[:70]
    best: tuple[float, Floats | None, int] = (0.0, None, 0)
    for index in order.tolist():
        near = np.abs(chromaticity - cells[index] * _NEAR).max(axis=1) < 1.2 * _NEAR
        counts, _ = np.histogram(level[near], bins=50, range=(0, 100))
        peaks = _peaks(counts / len(linear))
        # Daylight and lamps lie along one line through neutral; a colour far off it is a thing, not a light.
        u, v = cells[index] * _NEAR
        off = abs(float(v) + 0.9 * float(u)) / 0.45
        size = float(np.hypot(u, v)) / 1.1
        score = len(peaks) * np.exp(-(off**2) - 0.5 * size**2)
        if len(peaks) >= 3 and score > best[0]:
            best = (score, np.exp(np.median(log[near] - log[near][:, 1:2], axis=0)), len(peaks))
    return best[1], best[2]


def _peaks(share: Floats) -> list[int]:
    """Levels (of equal bins of lightness) where pixels crowd together, with a gap between each two."""
    padded = np.pad(share, 1)
    here = padded[1:-1]
    crowded = (here > _LEAST) & (here >= padded[:-2]) & (here > padded[2:])
    out: list[int] = []
    for index in np.flatnonzero(crowded).tolist():
        if (
            not out
            or share[out[-1] + 1 : index].size == 0
            or share[out[-1] + 1 : index].min() < 0.35 * min(share[out[-1]], share[index])
        ):
            out.append(index)
    return out
