"""Where the skin of a face or figure is, without any learned model.

Colour, texture and place each say how likely a pixel is skin; a cut through the picture's own colours
(Rother, Kolmogorov & Blake 2004, "GrabCut") then finds where it ends. Skin is smooth where hair, brows and beard
are not, and a plain ground behind the sitter is told apart by fitting it. The bounds are common practice.
"""

from dataclasses import dataclass

import cv2
import numpy as np
from numpy.typing import NDArray

from caltin_core.colour.tables import Bools, Floats

Mask = Bools

# The longer side, in pixels, of the picture that skin is looked for in.
LONGEST = 400
# A face or figure is mostly near the middle, a little above it: spread as a share of width and height.
_MIDDLE, _SPREAD = (0.5, 0.45), 0.22
# A touch says where, and the face goes on from there to any side.
_SPREAD_OF_TOUCH = 0.35
_LIKELY, _PLAIN, _OFF_GROUND = 0.25, 4.0, 8.0
_ROUGH = 0.09
_LEAST_SHARE = 0.004


@dataclass(frozen=True)
class Skin:
    """`mask` (h, w) of the skin, `rough` (h, w) of hair-like texture, `figure` (h, w) of what is not the plain ground
    (None where the ground is not plain), and how sure this is, 0-1."""

    mask: Mask
    rough: Mask
    figure: Mask | None
    confidence: float


def _ramp(x: Floats, low: float, high: float) -> Floats:
    out: Floats = np.clip((x - low) / (high - low), 0.0, 1.0)
    return out


def smoothed(lab: Floats) -> Floats:
    """The picture with pores and noise gone and edges kept, D50 CIELAB (h, w, 3) single precision."""
    return np.asarray(cv2.bilateralFilter(np.ascontiguousarray(lab, dtype=np.float32), 7, 12, 5), dtype=np.float32)


def blurred(image: Floats | Mask, sigma: float) -> Floats:
    """A picture (h, w) or (h, w, n) blurred by a Gaussian of `sigma` pixels, single precision."""
    return np.asarray(cv2.GaussianBlur(np.asarray(image, dtype=np.float32), (0, 0), sigma), dtype=np.float32)


def skin_likeness(lab: Floats) -> Floats:
    """How much each colour (…, 3) could be skin under some light, 0-1: from violet pink through orange to olive."""
    lightness, strength = lab[..., 0], np.hypot(lab[..., 1], lab[..., 2])
    turn = (np.degrees(np.arctan2(lab[..., 2], lab[..., 1])) - 300) % 360
    hue = np.where(turn < 60, 0.3 + 0.7 * turn / 60, 1 - _ramp(turn, 145, 175)) * (turn < 180)
    out: Floats = (
        hue * _ramp(strength, 3, 9) * (1 - _ramp(strength / np.maximum(lightness, 12), 1.0, 1.5)) * _ramp(lightness, 6, 14)
    )
    return out


def texture(lightness: Floats) -> Floats:
    """How rough each place is (h, w): contrast at the scale of hairs, against its own lightness."""
    fine = lightness - blurred(lightness, 1.6)
    out: Floats = np.sqrt(blurred(fine * fine, 3)) / (lightness + 12)
    return out


def _off_ground(lab: Floats) -> Floats | None:
    """Distance (h, w) from the plain ground behind the sitter, or None where the ground is not plain.

    The ground is a smooth quadratic in Lab through the top and the upper sides, fitted robustly.
    """
    height, width = lab.shape[:2]
    y, x = (v.astype(np.float32) for v in np.mgrid[0:height, 0:width])
    x, y = x / width * 2 - 1, y / height * 2 - 1
    basis = np.stack([np.ones_like(x), x, y, x * x, y * y, x * y], axis=-1)
    edge = np.zeros((height, width), dtype=bool)
    rim = max(2, width // 40)
    edge[:rim], edge[: height // 2, :rim], edge[: height // 2, -rim:] = True, True, True
    rows, seen = basis[edge], lab[edge]
    weight = np.ones(len(rows), dtype=np.float32)
    left = np.zeros(len(rows))
    fit = np.zeros((6, 3))
    for _ in range(8):
        fit = np.linalg.lstsq(rows * weight[:, None], seen * weight[:, None], rcond=None)[0]
        left = np.linalg.norm(seen - rows @ fit, axis=1)
        weight = 1 / (1 + (left / 3) ** 2)
    return np.linalg.norm(lab - basis @ fit, axis=-1) if float(np.median(left)) < _PLAIN else None


def biggest(mask: Mask, weight: Floats | None = None) -> Mask:
    """The connected part of a mask that is largest, or weighs most."""
    many, part = cv2.connectedComponents(mask.astype(np.uint8))
    if many < 2:
        return mask
    size = np.bincount(part.ravel(), weights=None if weight is None else weight.ravel(), minlength=many)
    size[0] = -1
    out: Mask = part == int(size.argmax())
    return out


def opened(mask: Mask, size: int) -> Mask:
    """A mask without specks and threads thinner than `size`."""
    kernel = cv2.getStructuringElement(cv2.MORPH_ELLIPSE, (size, size))
    out: Mask = cv2.morphologyEx(mask.astype(np.uint8), cv2.MORPH_OPEN, kernel) > 0
    return out


def closed(mask: Mask, size: int) -> Mask:
    """A mask with gaps narrower than `size` filled."""
    kernel = cv2.getStructuringElement(cv2.MORPH_ELLIPSE, (size, size))
    out: Mask = cv2.morphologyEx(mask.astype(np.uint8), cv2.MORPH_CLOSE, kernel) > 0
    return out


def _nearness(shape: tuple[int, ...], at: tuple[float, float], spread: float = _SPREAD) -> Floats:
    y, x = np.mgrid[0 : shape[0], 0 : shape[1]]
    away = ((x / shape[1] - at[0]) / spread) ** 2 + ((y / shape[0] - at[1]) / spread) ** 2
    out: Floats = np.exp(-away / 2)
    return out


def _cut(soft: Floats, mask: NDArray[np.uint8]) -> Mask:
    """GrabCut in Lab from a first guess."""
    scaled = soft * np.array([2, 2, 2], dtype=np.float32) + np.array([0, 128, 128], dtype=np.float32)
    pixels = np.clip(scaled, 0, 255).astype(np.uint8)
    cv2.setRNGSeed(1)
    cv2.grabCut(pixels, mask, (0, 0, 1, 1), np.zeros((1, 65)), np.zeros((1, 65)), 3, cv2.GC_INIT_WITH_MASK)
    out: Mask = (mask == cv2.GC_FGD) | (mask == cv2.GC_PR_FGD)
    return out


def _without_cloth(mask: Mask, soft: Floats, near: Floats) -> Mask:
    """Leave out colours unlike the skin's that lie away from the middle and below it: a collar, a scarf."""
    rows = np.nonzero(mask)
    colours = (soft[rows] * np.array([0.35, 1, 1])).astype(np.float32)
    if len(colours) < 60:
        return mask
    cv2.setRNGSeed(1)
    _, group, middle = cv2.kmeans(colours, 6, None, (3, 20, 0.5), 2, cv2.KMEANS_PP_CENTERS)  # type: ignore[call-overload]
    group = group.ravel()
    many = np.bincount(group, minlength=6)
    central = np.bincount(group, weights=near[rows], minlength=6) / np.maximum(many, 1)
    main = np.argsort(-many * central)[:2]
    apart = np.linalg.norm(middle[:, None, 1:] - middle[None, main, 1:], axis=2).min(axis=1)
    foot = np.quantile(rows[0][np.isin(group, main)], 0.8)
    low = np.bincount(group, weights=rows[0], minlength=6) / np.maximum(many, 1) > foot
    dropped = np.flatnonzero((apart > 14) & (central < 0.7 * central[main].max()) & low)
    out = mask.copy()
    out[rows] = ~np.isin(group, dropped)
    return out


def find_skin(lab: Floats, touched: tuple[float, float] | None = None) -> Skin:
    """The skin in a picture, D50 CIELAB (h, w, 3) about `LONGEST` pixels long.

    `touched` is a place (x, y), as shares of width and height, that the artist says is skin: it then leads, whatever
    its colour, so that a drawing in grey or a face by coloured light is found too.
    """
    soft = smoothed(lab)
    height, width = lab.shape[:2]
    roughness = texture(np.ascontiguousarray(lab[..., 0], dtype=np.float32))
    likely = skin_likeness(soft) * (1 - _ramp(roughness, 0.05, 0.11))
    near = _nearness(lab.shape, _MIDDLE)
    if touched is not None:
        x, y = min(int(touched[0] * width), width - 1), min(int(touched[1] * height), height - 1)
        here = np.median(soft[max(0, y - 4) : y + 5, max(0, x - 4) : x + 5].reshape(-1, 3), axis=0)
        apart = np.linalg.norm((soft - here) * np.array([0.2, 1, 1]), axis=-1)
        likely, near = np.exp(-((apart / 14) ** 2)), _nearness(lab.shape, touched, _SPREAD_OF_TOUCH)
    score = likely * near
    guess = np.full((height, width), cv2.GC_PR_BGD, dtype=np.uint8)
    guess[score > _LIKELY] = cv2.GC_PR_FGD
    rim = max(2, width // 50)
    guess[:rim], guess[:, :rim], guess[:, -rim:], guess[int(0.96 * height) :] = (cv2.GC_BGD,) * 4
    away = _off_ground(lab)
    if away is not None:
        guess[away < _PLAIN] = cv2.GC_BGD
    rough = blurred(roughness > _ROUGH, 2) >= 0.5
    figure = None if away is None else biggest(closed(away > _OFF_GROUND, 5))
    if (guess == cv2.GC_PR_FGD).mean() < _LEAST_SHARE:
        return Skin(np.zeros((height, width), dtype=bool), rough, figure, 0.0)
    mask = biggest(_cut(soft, guess), score)
    if away is not None:
        mask = biggest(opened(mask | ((away > _OFF_GROUND) & (score > 0.22)), 3), score)
    mask = biggest(opened(mask & ~rough, 5), score)
    if touched is None:
        mask = biggest(_without_cloth(mask, soft, near), near)
    share = float(mask.mean())
    if share < _LEAST_SHARE:
        return Skin(np.zeros((height, width), dtype=bool), rough, figure, 0.0)
    sure = float(likely[mask].mean()) * float(_ramp(np.array(share), 0.0, 0.05)) * float(near[mask].mean() ** 0.5)
    return Skin(mask, rough, figure, min(1.0, 1.4 * sure))
