"""Where the light comes from, read from the shading of a head.

The head is taken for an upright ellipsoid about the skin that is seen; its shading is fitted with the harmonics that
make up Lambertian reflection (Basri & Jacobs 2003; Ramamoorthi & Hanrahan 2001), whose first order points at the
light. Two lights of unlike colour are parted first, by how warm each place is.
"""

from dataclasses import dataclass

import numpy as np

from caltin_core.colour.spaces import XYZ50_TO_SRGB, xyz_from_lab
from caltin_core.colour.tables import Floats
from caltin_core.colour.words import warmth
from caltin_core.skin.find import Skin, biggest, blurred, closed, opened

_LUMINANCE = np.array([0.2126, 0.7152, 0.0722])
# Hair hides the top of a head and the skin seen ends at the chin: the head is taller than what is seen of it, while
# attached shadows pull a fit of the first order level. The first order on the tall ellipsoid and the second on the
# plain one err to opposite sides, and the light is taken half way between.
_TALLER = 1.35
# A fit that leaves more than this unexplained says nothing; two lights must each explain more than this.
_WEAK, _ONE, _TWO = 0.2, 0.4, 0.5
# Two lights are told apart where red to blue varies over the skin by this factor, and they stand so far apart.
_UNLIKE, _BETWEEN = 3.5, 60.0
_LEAST_PIXELS, _MOST_PIXELS = 300, 5000


@dataclass(frozen=True)
class Light:
    """One light: where it comes from in the picture plane (degrees anticlockwise, 0 from the right, 90 from above), how
    sure that is (0-1), its tint in a word, and how warm it is against the others."""

    direction: float
    confidence: float
    tint: str
    warmth: float


def _normals(skin: Skin) -> tuple[Floats, tuple[np.ndarray, np.ndarray]]:
    """Normals (n, 3) of an ellipsoid about the head at each pixel of the skin, x right, y down, z to the viewer."""
    rows, columns = np.nonzero(skin.mask)
    height, width = skin.mask.shape
    y, x = np.mgrid[0:height, 0:width]
    beard = skin.rough & (y > np.median(rows)) & (x > np.quantile(columns, 0.02)) & (x < np.quantile(columns, 0.98))
    head = closed(biggest(opened(closed(skin.mask | beard, 9), 9)), 25) | skin.mask
    ys, xs = np.nonzero(head)
    middle = np.array([xs.mean(), ys.mean()])
    values, axes = np.linalg.eigh(np.cov(np.stack([xs, ys])))
    half = 2 * np.sqrt(np.maximum(values, 1.0))
    inside = (np.column_stack([columns, rows]) - middle) @ axes / half
    size = np.linalg.norm(inside, axis=1)
    inside *= (np.minimum(size, 0.98) / np.maximum(size, 1e-6))[:, None]
    depth = np.sqrt(1 - (inside**2).sum(axis=1))
    slope = (inside / half) @ axes.T * half.mean()
    normals = np.column_stack([slope, depth])
    return _unit(normals), (rows, columns)


def _unit(vectors: Floats) -> Floats:
    out: Floats = vectors / np.linalg.norm(vectors, axis=1, keepdims=True)
    return out


def _harmonics(normals: Floats, order: int) -> Floats:
    x, y, z = normals.T
    first = [np.ones_like(x), x, y, z]
    second = [x * y, x * z, y * z, x * x - y * y, 3 * z * z - 1] if order == 2 else []
    return np.column_stack(first + second)


def _fit(basis: Floats, seen: Floats) -> tuple[float, float]:
    """Direction in degrees and explained share of a robust fit (weights after Cauchy)."""
    weight: Floats = np.ones(len(seen))
    left: Floats = np.zeros(len(seen))
    fit: Floats = np.zeros(basis.shape[1])
    for _ in range(16):
        fit = np.linalg.lstsq(basis * weight[:, None], seen * weight, rcond=None)[0]
        left = seen - basis @ fit
        scale = 1.5 * 1.48 * float(np.median(np.abs(left))) + 1e-6
        weight = 1 / np.sqrt(1 + (left / scale) ** 2)
    about = seen - np.average(seen, weights=weight)
    explained = 1 - float((weight * left**2).sum() / max(float((weight * about**2).sum()), 1e-12))
    return float(np.degrees(np.arctan2(-fit[2], fit[1])) % 360), explained


def lights(lab: Floats, skin: Skin) -> tuple[Light, ...]:
    """The lights on the skin, the key first, of D50 CIELAB (h, w, 3); none where there is too little skin or shading."""
    if int(skin.mask.sum()) < _LEAST_PIXELS:
        return ()
    soft = blurred(lab, 2).astype(float)
    normals, rows = _normals(skin)
    every = max(1, len(normals) // _MOST_PIXELS)
    normals, rows = normals[::every], (rows[0][::every], rows[1][::every])
    linear = np.maximum(xyz_from_lab(soft[rows]) @ XYZ50_TO_SRGB.T, 0)
    luminance = linear @ _LUMINANCE
    red_to_blue = np.quantile(linear[:, 0] / (linear[:, 2] + 1e-4), [0.05, 0.95])
    warm, cool = linear[:, 0] - red_to_blue[0] * linear[:, 2], linear[:, 2] - linear[:, 0] / red_to_blue[1]
    plain = _harmonics(_unit(normals * np.array([1, 1 / _TALLER, 1])), 1)
    first, explained = _fit(plain, luminance)
    found = [(_fit(plain, part), part) for part in (warm, cool)]
    between = abs((found[0][0][0] - found[1][0][0] + 180) % 360 - 180)
    unlike = red_to_blue[1] > _UNLIKE * red_to_blue[0] and between > _BETWEEN
    if (explained < _ONE or unlike) and all(share > _TWO for (_, share), _ in found):
        out = []
        for (direction, share), part in found:
            lit = part >= np.quantile(part, 0.8)
            out.append((float(luminance[lit].mean()), Light(direction, _sure(share), *_tint(soft[rows][lit]))))
        return tuple(light for _, light in sorted(out, key=lambda item: -item[0]))
    second, share = _fit(_harmonics(normals, 2), luminance)
    if share < _WEAK:
        return ()
    turns = np.radians([first, second])
    direction = float(np.degrees(np.arctan2(np.sin(turns).sum(), np.cos(turns).sum())) % 360)
    sure = _sure(share) * float(max(np.cos(turns[0] - turns[1]), 0.0))
    lit = luminance >= np.quantile(luminance, 0.8)
    return (Light(direction, sure * _evenly(luminance), *_tint(soft[rows][lit])),)


def _sure(explained: float) -> float:
    return float(np.clip((explained - 0.3) / 0.5, 0.0, 1.0))


def _evenly(luminance: Floats) -> float:
    """Less sure where light and shadow lie close together, as under an overcast sky."""
    low, high = np.quantile(luminance, [0.15, 0.9])
    return float(np.clip((high / max(low, 1e-4) - 1.5) / 2.0, 0.0, 1.0))


def _tint(lit: Floats) -> tuple[str, float]:
    """The tint of a light, from the brightest of what it falls on, as a word and as warmth in C*ab; common practice."""
    swing = float(warmth(np.median(lit[lit[:, 0] >= np.quantile(lit[:, 0], 0.9)], axis=0)))
    return ("warm" if swing > 12 else "cool" if swing < 3 else "neutral"), swing
