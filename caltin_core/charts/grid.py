"""The rows and columns of a chart found by themselves: swatches stand out from the paper, and stand in a lattice."""

from collections import deque
from dataclasses import dataclass

import cv2
import numpy as np

from caltin_core.colour.tables import Floats
from caltin_core.errors import UnreadablePicture
from caltin_core.reference.picture import Pixels

_LONGEST = 1200
# An edge changes the colour by so much a pixel; pale swatches have faint edges, grainy ones faint edges within.
_STEEP = (0.8, 1.2, 1.8, 2.7, 4.0)
_FULL, _LEAST = 0.5, 1e-4
# A neighbour lies where it is expected, up to this share of a step; a swatch's size is within these shares of the usual.
_BESIDE, _SMALL, _LARGE = 0.3, 0.35, 2.2
_FEWEST = 4
_NOT_FOUND = "no regular rows of swatches can be made out: touch the four corners"


@dataclass(frozen=True)
class Grid:
    """A chart found: its corners in pixels, from the top left one clockwise, and how many rows and columns it has."""

    corners: tuple[tuple[float, float], ...]
    rows: int
    columns: int


def find_grid(pixels: Pixels) -> Grid:
    """The lattice of swatches in a photograph (H, W, 3) taken about upright.

    Each cell of the grid reaches halfway to its neighbours. Raises UnreadablePicture where no lattice can be made out.
    """
    scale = min(1.0, _LONGEST / max(pixels.shape))
    small = cv2.resize(pixels, None, fx=scale, fy=scale, interpolation=cv2.INTER_AREA)
    slope = _slope(np.asarray(small, dtype=np.uint8))
    found = [(middles, _lattice(middles)) for middles in (_swatches(slope, steep) for steep in _STEEP)]
    middles, at = max(found, key=lambda f: len(f[1]))
    rows = np.array(list(at.values()), dtype=float).reshape(-1, 2)
    if len(at) < _FEWEST or (np.ptp(rows, axis=0) < 1).any():
        raise UnreadablePicture("photo", _NOT_FOUND)
    there = middles[list(at)]
    plane, _ = cv2.findHomography(rows.astype(np.float32), there.astype(np.float32), cv2.RANSAC, 4.0)
    if plane is None:
        raise UnreadablePicture("photo", _NOT_FOUND)
    low, high = rows.min(axis=0) - 0.5, rows.max(axis=0) + 0.5
    flat = np.array([[low[0], low[1]], [high[0], low[1]], [high[0], high[1]], [low[0], high[1]]], dtype=np.float32)
    corners = cv2.perspectiveTransform(flat[None], np.asarray(plane))[0] / scale
    columns, lines = (round(v) for v in high - low)
    return Grid(tuple((float(x), float(y)) for x, y in corners), lines, columns)


def _swatches(slope: Floats, steep: float) -> Floats:
    """The middles (n, 2) of what looks like a swatch: even within, with an edge all round, full, and of the usual size."""
    even = (slope < steep).astype(np.uint8)
    _, _, stats, middles = cv2.connectedComponentsWithStats(even, connectivity=4)
    area = stats[1:, cv2.CC_STAT_AREA].astype(float)
    wide, high = (stats[1:, i].astype(float) for i in (cv2.CC_STAT_WIDTH, cv2.CC_STAT_HEIGHT))
    full = (area > _FULL * wide * high) & (area > _LEAST * even.size) & (np.maximum(wide, high) < 0.4 * max(even.shape))
    if not full.any():
        return np.empty((0, 2))
    usual = float(np.median(area[full]))
    out: Floats = middles[1:][full & (area > _SMALL * usual) & (area < _LARGE * usual)]
    return out


def _slope(small: Pixels) -> Floats:
    """How steeply the colour changes at every pixel (H, W), in units of 8-bit Lab a pixel."""
    lab = cv2.GaussianBlur(cv2.cvtColor(small, cv2.COLOR_RGB2LAB).astype(np.float32), (0, 0), 1.5)
    down, right = np.gradient(lab, axis=(0, 1))
    out: Floats = np.sqrt((down**2 + right**2).sum(axis=-1))
    return out


def _lattice(middles: Floats) -> dict[int, tuple[int, int]]:
    """The column and row of each swatch that can be reached from the middlemost by steps between neighbours."""
    if len(middles) < _FEWEST:
        return {}
    right, down = _steps(middles)
    if right is None or down is None:
        return {}
    first = int(np.argmin(np.linalg.norm(middles - np.median(middles, axis=0), axis=1)))
    at: dict[int, tuple[int, int]] = {first: (0, 0)}
    local = {first: (right, down)}
    taken = {(0, 0)}
    queue = deque([first])
    while queue:
        here = queue.popleft()
        column, row = at[here]
        across, along = local[here]
        for dc, dr, step in ((1, 0, across), (-1, 0, -across), (0, 1, along), (0, -1, -along)):
            place = (column + dc, row + dr)
            away = np.linalg.norm(middles - (middles[here] + step), axis=1)
            near = int(np.argmin(away))
            if place in taken or near in at or away[near] > _BESIDE * np.linalg.norm(step):
                continue
            moved = middles[near] - middles[here]
            at[near] = place
            local[near] = (moved * dc, along) if dc else (across, moved * dr)
            taken.add(place)
            queue.append(near)
    return at


def _steps(middles: Floats) -> tuple[Floats | None, Floats | None]:
    """The usual step to the right and down between neighbours; None where there is none."""
    apart = middles[None] - middles[:, None]
    far = np.linalg.norm(apart, axis=-1)
    np.fill_diagonal(far, np.inf)
    near = np.argsort(far, axis=1)[:, :4]
    steps = np.concatenate([apart[i, near[i]] for i in range(len(middles))])
    flat = np.abs(steps[:, 0]) > np.abs(steps[:, 1])
    return _usual(steps[flat], 0), _usual(steps[~flat], 1)


def _usual(steps: Floats, axis: int) -> Floats | None:
    if not len(steps):
        return None
    out: Floats = np.median(steps * np.sign(steps[:, axis : axis + 1]), axis=0)
    return out
