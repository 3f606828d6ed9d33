"""What lies beyond the skin of a head and can be told without any learned model: hair, brows, eyes and mouth.

Hair is what belongs to the figure, has strands and joins on to the top of the skin; brows, eyes and mouth are gaps in the skin, an
eye the one that holds something paler and less red than the skin about it. The bounds are common practice; every finding asks.
"""

from collections.abc import Iterator
from dataclasses import dataclass

import cv2
import numpy as np

from caltin_core.colour.tables import Floats
from caltin_core.skin.find import Mask, Skin, biggest, blurred, closed, opened, texture

# Strands are rougher than this, and than so many times the skin itself.
_STRANDS, _AGAINST_SKIN = 0.03, 2.5
# Hair, and a gap, cover so much of the skin's area at least; the parts of an eye so much. What would leave less than this share of
# the skin bare is not hair.
_HAIR, _GAP, _PART, _BARE = 0.02, 0.006, 0.0008, 0.4
# The white of an eye keeps less of the red around it than this share, and more of its lightness than this. What is darker than the
# third share belongs to the iris, its pupil and the lashes. The white, and the dark, fill so much of an eye's gap at least.
_REDNESS, _LIT, _DARK, _WHITE, _BLACK = 0.6, 0.6, 0.6, 0.06, 0.1
# Skin with less a* than this does not tell what is less red than it.
_RED = 4.0
# Lips reach so far from their line, as a share of its length, which is so many pixels thick; they are redder by so much in a*, and
# each covers so much of the gap at least.
_LIPS, _LINE, _REDDER, _LIP = 0.3, 1.5, 2.0, 0.25
# A line of fewer pixels has no lips that can be told.
_LEAST = 12
# Gaps of one height, as a share of the head's; a brow is darker than the skin about it by so much, in L*.
_LEVEL, _BROW = 0.12, 12.0


@dataclass(frozen=True)
class Feature:
    """A place beyond the skin: where it is (h, w), its role, and what the artist is asked about it."""

    mask: Mask
    role: str
    asks: str


@dataclass(frozen=True)
class _Head:
    """Where the skin of a head lies: its top, left and right, and its height, in pixels."""

    top: float
    left: float
    right: float
    height: float

    @classmethod
    def of(cls, skin: Mask) -> "_Head":
        rows, columns = np.nonzero(skin)
        (top, foot), (left, right) = np.quantile(rows, [0.01, 0.99]), np.quantile(columns, [0.01, 0.99])
        return cls(float(top), float(left), float(right), max(float(foot - top), 1.0))


def hair_of(lab: Floats, skin: Skin) -> Mask:
    """The hair of a head (h, w), D50 CIELAB (h, w, 3): nothing where the ground behind it is not plain, or where there is none."""
    none: Mask = np.zeros(skin.mask.shape, dtype=bool)
    if skin.figure is None:
        return none
    head, many = _Head.of(skin.mask), int(skin.mask.sum())
    roughness = texture(np.ascontiguousarray(lab[..., 0], dtype=np.float32))
    bound = max(_STRANDS, _AGAINST_SKIN * float(np.median(roughness[skin.mask])))
    y, x = np.mgrid[0 : lab.shape[0], 0 : lab.shape[1]]
    beside = 0.5 * (head.right - head.left)
    about = (y < head.top + 0.75 * head.height) & (x > head.left - beside) & (x < head.right + beside)
    size = max(5, round(0.03 * head.height)) | 1
    rough = skin.figure & about & (blurred(roughness > bound, 2) > 0.5) & ~_gaps(skin.mask, head)
    strands = opened(closed(rough, 5), size)
    if not strands.any():
        return none
    # It hangs from the top of the head: gaps in the face, and a beard, do not.
    hair = biggest(strands, np.clip(head.top + 0.35 * head.height - y, 0, None) + 1e-6)
    joins = hair & (y < head.top + 0.2 * head.height)
    bare = int((skin.mask & ~hair).sum())
    return hair if hair.sum() > _HAIR * many and joins.any() and bare > _BARE * many else none


def hair_parts(lab: Floats, hair: Mask) -> Iterator[Feature]:
    """Hair as its light and its shade."""
    if hair.any():
        lightness = blurred(lab[..., 0], max(1.0, 0.006 * max(hair.shape)))
        middle = float(np.median(lightness[hair]))
        yield Feature(hair & (lightness > middle), "hair_in_light", "Is this hair?")
        yield Feature(hair & (lightness <= middle), "hair_in_shade", "Is this hair?")


def gaps_of(lab: Floats, skin: Mask) -> Iterator[Feature]:
    """Brows, eyes and mouth in a face's skin (h, w)."""
    head, many = _Head.of(skin), int(skin.sum())
    holes = _gaps(skin, head)
    parts, part, sizes, centres = cv2.connectedComponentsWithStats(holes.astype(np.uint8))
    large = [i for i in range(1, parts) if sizes[i, cv2.CC_STAT_AREA] >= _GAP * many]
    at = {i: float(centres[i][1] - head.top) / head.height for i in large}
    whites = {i: white for i in large if 0.15 < at[i] < 0.95 and (white := _white(lab, part == i, skin)).any()}
    eyes = min((at[i] for i in whites), default=0.42)
    for i in large:
        here = part == i
        if i in whites and at[i] - eyes <= _LEVEL:
            around = np.median(lab[_ring(here, skin)], axis=0)
            yield Feature(whites[i], "eye_white", "Is this the white of an eye?")
            dark = here & ~whites[i] & (lab[..., 0] < _DARK * around[0])
            yield Feature(dark, "iris", "Is this an iris, with its pupil and lashes?")
        elif not _wide(here):
            continue
        elif 0.15 < at[i] < eyes + _LEVEL:
            if float(np.median(lab[..., 0][here])) < float(np.median(lab[..., 0][_ring(here, skin)])) - _BROW:
                yield Feature(here, "brow", "Is this a brow or an eye?")
        elif max(0.6, eyes + _LEVEL) <= at[i] < 0.95:
            yield from _lips(lab, here)


def _gaps(skin: Mask, head: _Head) -> Mask:
    """What the skin of a face goes round."""
    out: Mask = closed(skin, round(0.14 * head.height) | 1) & ~skin
    return out


def worth(mask: Mask, skin: Mask) -> bool:
    """Whether a place is large enough, beside a face's skin, to be a zone."""
    return bool(mask.sum() > _PART * skin.sum())


def _ring(here: Mask, skin: Mask) -> Mask:
    """The skin about a gap."""
    size = max(3, round(0.4 * here.sum() ** 0.5)) | 1
    out: Mask = (cv2.dilate(here.astype(np.uint8), np.ones((size, size), np.uint8)) > 0) & skin
    return out if out.any() else skin


def _lips(lab: Floats, here: Mask) -> Iterator[Feature]:
    """The lips about the line of a mouth's gap: what is redder there than the skin above and below; the gap where nothing is."""
    whole, columns = Feature(here, "lower_lip", "Is this the mouth?"), np.flatnonzero(here.any(axis=0))
    if len(columns) < _LEAST:
        yield whole
        return
    left, right, y = int(columns[0]), int(columns[-1]), np.arange(len(here))[:, None]
    across = np.arange(left, right + 1)
    # The line is the darkest of every column; the lips are a lens about it, and skin lies a little above and below that.
    inside = np.where(here, lab[..., 0], np.inf)[:, across]
    line = np.poly1d(np.polyfit(across, inside.argmin(axis=0), 2))(across)
    lens = _LIPS * (right - left) * np.sqrt(np.clip(1 - (2 * (across - (left + right) / 2) / (right - left)) ** 2, 0, 1))
    beside = 1.3 * _LIPS * (right - left)
    red = blurred(lab[..., 1], 1.0)
    aside = [np.clip(np.rint(line + s * beside).astype(int), 0, len(here) - 1) for s in (-1, 1)]
    skin = blurred(np.mean([red[at, across] for at in aside], axis=0)[None], 0.1 * (right - left))[0]
    away = y - line[None]
    lips = (np.abs(away) < lens[None]) & (red[:, across] > skin[None] + _REDDER) & (np.abs(away) > _LINE)
    every = []
    for side in (away < 0, away > 0):
        mask: Mask = np.zeros(here.shape, dtype=bool)
        mask[:, across] = opened(lips & side, 3)
        every.append(mask)
    if min(mask.sum() for mask in every) < _LIP * here.sum():
        yield whole
        return
    yield Feature(every[0], "upper_lip", "Is this the upper lip?")
    yield Feature(every[1], "lower_lip", "Is this the lower lip?")


def _wide(here: Mask) -> bool:
    return bool(here.any(axis=0).sum() > 1.2 * here.any(axis=1).sum())


def _white(lab: Floats, here: Mask, skin: Mask) -> Mask:
    """What in a gap is paler and less red than the skin about it; nothing where there is hardly any.

    In warm light the white of an eye has a colour that skin may have: where only its round middle is a gap, it lies to either side.
    """
    around = np.median(lab[_ring(here, skin)], axis=0)
    aside = here
    if not _wide(here):
        size = int(here.any(axis=0).sum()) | 1
        aside = cv2.dilate(here.astype(np.uint8), np.ones((1, size), np.uint8)) > 0
    dark, light = np.quantile(lab[..., 0][here], [0.1, 0.95])
    least = max(_LIT * float(around[0]), float(dark + light) / 2)
    pale = (lab[..., 1] < _REDNESS * around[1]) & (lab[..., 0] > least)
    found = aside & (here | skin) & pale
    none: Mask = np.zeros(here.shape, dtype=bool)
    white, black = here & pale, here & (lab[..., 0] < _DARK * around[0])
    if around[1] < _RED or min(white.sum() / _WHITE, black.sum() / _BLACK) < here.sum() or not worth(found, skin):
        return none
    # It lies beside the iris, not above it as light on a brow does.
    rows = np.flatnonzero(black.any(axis=1))
    level = abs(float(np.nonzero(found)[0].mean()) - float(np.nonzero(black)[0].mean())) <= len(rows) / 2
    return found if level else none
