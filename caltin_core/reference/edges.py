"""Where two areas meet: a hard, a soft or a lost edge, and how wide it is on the paper."""

from dataclasses import dataclass
from typing import Literal

import numpy as np
from scipy.ndimage import map_coordinates

from caltin_core.colour.difference import delta_e_2000
from caltin_core.colour.tables import Floats
from caltin_core.reference.areas import Labels
from caltin_core.skin.find import blurred

EdgeKind = Literal["hard", "soft", "lost"]

# Common practice: an edge narrower than this on the paper is drawn as a line between two tones; a step smaller than this
# is not seen as an edge at all.
HARD_MM, LOST_DE00 = 2.0, 4.0
_SHORTEST = 6
# How far to either side of a border the picture is looked at, in map pixels, and at how many places.
_FAR, _PLACES = 14, 160
# So many steps at either end of a profile are what lies there; as many next to its middle are always looked at.
_END = 4
_SOFTEN = 0.8


@dataclass(frozen=True)
class Edge:
    """The border of two labels: its kind, width in millimetres on the paper, step in ΔE00, and length in map pixels."""

    one: int
    other: int
    kind: EdgeKind
    width_mm: float
    step: float
    length: int


def edges(labels: Labels, lab: Floats, mm_per_pixel: float) -> list[Edge]:
    """Every border of a map (h, w) over its picture, D50 CIELAB (h, w, 3), the longest first.

    The width of an edge is that from a tenth to nine tenths of its change.
    """
    soft = blurred(lab, _SOFTEN)
    found: dict[tuple[int, int], list[np.ndarray]] = {}
    height, width = labels.shape
    for dy, dx in ((0, 1), (1, 0)):
        one, other = labels[: height - dy, : width - dx].astype(int), labels[dy:, dx:].astype(int)
        ys, xs = np.nonzero((one != other) & (one > 0) & (other > 0))
        pair = np.minimum(one[ys, xs], other[ys, xs]) * 256 + np.maximum(one[ys, xs], other[ys, xs])
        places = np.column_stack([ys + dy / 2, xs + dx / 2])
        for key in np.unique(pair).tolist():
            found.setdefault((key // 256, key % 256), []).append(places[pair == key])
    joined = {pair: np.concatenate(parts) for pair, parts in found.items()}
    out = [_edge(pair, at, labels, soft, mm_per_pixel) for pair, at in joined.items() if len(at) >= _SHORTEST]
    return sorted(out, key=lambda e: -e.length)


def _edge(pair: tuple[int, int], places: np.ndarray, labels: Labels, lab: Floats, mm: float) -> Edge:
    """Read one border: the picture's profile across it, taken at many places and averaged."""
    some = places[:: max(1, len(places) // _PLACES)]
    side = blurred(labels == pair[1], 3.0) - blurred(labels == pair[0], 3.0)
    slopes = np.stack([map_coordinates(np.asarray(g), some.T, order=1) for g in np.gradient(side)], axis=1)
    size = np.linalg.norm(slopes, axis=1)
    some, slopes = some[size > 1e-6], slopes[size > 1e-6] / size[size > 1e-6, None]
    if not len(some):
        return Edge(*pair, "lost", 0.0, 0.0, len(places))
    steps = np.arange(-_FAR, _FAR + 0.5, 0.5)
    at = some[:, None, :] + steps[None, :, None] * slopes[:, None, :]
    where = at.reshape(-1, 2).T
    seen = np.stack([map_coordinates(np.asarray(lab[..., c]), where, order=1, mode="nearest") for c in range(3)], axis=-1)
    inside = _within(map_coordinates(labels, where, order=0, mode="constant").reshape(len(some), len(steps)), pair)
    steps, inside = steps[kept := inside.sum(axis=0) > len(some) / 2], inside[:, kept]
    seen = np.where(inside[..., None], seen.reshape(len(some), -1, 3)[:, kept], np.nan)
    profile = np.nanmedian(seen, axis=0)
    one, other = profile[:_END].mean(axis=0), profile[-_END:].mean(axis=0)
    step = float(delta_e_2000(one, other))
    if step < LOST_DE00:
        return Edge(*pair, "lost", 0.0, step, len(places))
    line = other - one
    done = np.maximum.accumulate(np.clip((profile - one) @ line / float(line @ line), 0, 1))
    inner, outer = (float(np.interp(share, done, steps)) for share in (0.1, 0.9))
    # The blur that keeps noise out has widened every edge: by this much from a tenth to nine tenths.
    wide = np.sqrt(max((outer - inner) ** 2 - (2.56 * _SOFTEN) ** 2, 0.25)) * mm
    return Edge(*pair, "hard" if wide < HARD_MM else "soft", float(wide), step, len(places))


def _within(labels: np.ndarray, pair: tuple[int, int]) -> np.ndarray:
    """Of profiles (places, steps) of labels across a border, what lies in either area all the way from it: behind a brow there is
    skin again."""
    middle = labels.shape[1] // 2
    out: np.ndarray = labels == np.where(np.arange(labels.shape[1]) < middle, *pair)
    # A border runs between pixels, and what its profile shows there is both.
    out[:, middle - _END : middle + _END + 1] = True
    out[:, middle:] = np.logical_and.accumulate(out[:, middle:], axis=1)
    out[:, middle::-1] = np.logical_and.accumulate(out[:, middle::-1], axis=1)
    return out
