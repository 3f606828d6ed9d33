"""Where millimetres of a sheet lie in its photograph: by marks that can be found, or by four corners."""

from collections.abc import Sequence
from dataclasses import dataclass

import cv2
import numpy as np
from scipy.optimize import least_squares

from caltin_core.charts.layout import Layout, Mark
from caltin_core.charts.printing import DICTIONARY
from caltin_core.colour.tables import Floats
from caltin_core.errors import UnreadablePicture
from caltin_core.reference.picture import Pixels

# Marks are looked for at these lengths of the longer side, until most are found.
_LOOK_AT = (1800, 3200, 1200)
_FEWEST = 2
# Two marks tell the sheet's place only when they lie apart by this share of its diagonal.
_APART = 0.35
_BENT = 3
# A lens of ordinary make bends so little (common practice).
_USUAL_BEND = 0.03


@dataclass(frozen=True)
class Geometry:
    """Page millimetres to pixels: a homography (3, 3), then a lens that bends by `bend` at the picture's half diagonal."""

    plane: Floats
    bend: float
    middle: Floats
    reach: float

    def pixels(self, mm: Floats) -> Floats:
        """Pixels (…, 2) of places on the page (…, 2)."""
        flat = mm @ self.plane[:, :2].T + self.plane[:, 2]
        straight = flat[..., :2] / flat[..., 2:] - self.middle
        far = (straight**2).sum(axis=-1, keepdims=True) / self.reach**2
        out: Floats = self.middle + straight * (1 + self.bend * far)
        return out


def _of(plane: Floats, bend: float, pixels: Pixels) -> Geometry:
    height, width = pixels.shape[:2]
    return Geometry(plane, bend, np.array([width / 2, height / 2]), float(np.hypot(width, height) / 2))


def by_corners(pixels: Pixels, corners: Sequence[tuple[float, float]], width: float, height: float) -> Geometry:
    """By the pixels of a chart's corners, from its top left one on clockwise. Raises UnreadablePicture where they enclose
    nothing."""
    sides = np.array([[0, 0], [width, 0], [width, height], [0, height]], dtype=np.float32)
    there = np.array(corners, dtype=np.float32)
    area = cv2.contourArea(there)
    if area < 400 or not cv2.isContourConvex(there):
        raise UnreadablePicture("corners", "the four corners must go round the chart, one after another")
    return _of(np.asarray(cv2.getPerspectiveTransform(sides, there), dtype=float), 0.0, pixels)


def find_marks(pixels: Pixels, layout: Layout) -> dict[int, Floats]:
    """The corners (4, 2) in pixels of every mark of the sheet that can be seen, by its number."""
    grey = np.asarray(cv2.cvtColor(pixels, cv2.COLOR_RGB2GRAY), dtype=np.uint8)
    ours = {mark.id for mark in layout.marks}
    found: dict[int, Floats] = {}
    for longest in _LOOK_AT:
        scale = min(1.0, longest / max(grey.shape))
        small = cv2.resize(grey, None, fx=scale, fy=scale, interpolation=cv2.INTER_AREA) if scale < 1 else grey
        corners, ids, _ = _detector().detectMarkers(small)
        numbers = [int(v) for v in np.asarray(ids).ravel()] if ids is not None else []
        for id, corner in zip(numbers, corners, strict=True):
            if id in ours and id not in found:
                found[id] = _sharpened(grey, (corner[0] + 0.5) / scale - 0.5)
        if len(found) >= 0.8 * len(ours) or (scale == 1.0 and longest == max(_LOOK_AT)):
            break
    return found


def _detector() -> "cv2.aruco.ArucoDetector":
    looks = cv2.aruco.DetectorParameters()
    looks.cornerRefinementMethod = cv2.aruco.CORNER_REFINE_SUBPIX
    looks.adaptiveThreshWinSizeMax = 43
    looks.adaptiveThreshWinSizeStep = 8
    return cv2.aruco.ArucoDetector(DICTIONARY, looks)


def _sharpened(grey: Pixels, corners: Floats) -> Floats:
    """The same corners found again at full resolution."""
    field = float(np.linalg.norm(corners[1] - corners[0])) / 6
    reach = int(np.clip(0.4 * field, 2, 12))
    stop = (cv2.TERM_CRITERIA_EPS + cv2.TERM_CRITERIA_MAX_ITER, 30, 0.01)
    start = corners.astype(np.float32).reshape(4, 2).copy()
    fine = np.asarray(cv2.cornerSubPix(grey, start, (reach, reach), (-1, -1), stop), dtype=float).reshape(4, 2)
    return fine if np.abs(fine - corners).max() < 2 * reach else corners


def by_marks(pixels: Pixels, layout: Layout, found: dict[int, Floats]) -> Geometry:
    """By the marks found. Raises UnreadablePicture where they are too few to tell."""
    marks = [m for m in layout.marks if m.id in found]
    if len(marks) < _FEWEST or (len(marks) == _FEWEST and _span(marks) < _APART * float(np.hypot(*layout.page))):
        raise UnreadablePicture(
            "photo", f"{len(marks)} of the sheet's {len(layout.marks)} marks can be seen; three are needed, or two far apart"
        )
    page = np.concatenate([_corners(m) for m in marks])
    there = np.concatenate([found[m.id] for m in marks])
    near = 0.004 * max(pixels.shape)
    flat, _ = cv2.findHomography(page.astype(np.float32), there.astype(np.float32), cv2.RANSAC, near)
    if flat is None:
        raise UnreadablePicture("photo", "the marks found do not lie as they were printed; is this another sheet?")
    plane = np.asarray(flat, dtype=float)
    away = np.linalg.norm(_of(plane, 0.0, pixels).pixels(page) - there, axis=1)
    if np.median(away) > near:
        raise UnreadablePicture("photo", "the marks found do not lie as they were printed; is this another sheet?")
    return _bent(pixels, plane, page, there, near) if len(marks) >= _BENT else _of(plane, 0.0, pixels)


def _bent(pixels: Pixels, plane: Floats, page: Floats, there: Floats, near: float) -> Geometry:
    """Plane and lens together, so that the marks' corners are met best."""
    scale = np.abs(plane).ravel()[:8] + 1e-6

    def at(x: Floats) -> Geometry:
        return _of(np.append(plane.ravel()[:8] + x[:8] * scale, plane[2, 2]).reshape(3, 3), float(x[8]), pixels)

    def miss(x: Floats) -> Floats:
        return np.append((at(x).pixels(page) - there).ravel(), x[8] / _USUAL_BEND)

    fit = least_squares(miss, np.zeros(9), loss="soft_l1", f_scale=max(0.25 * near, 1.0))
    return at(fit.x)


def _corners(mark: Mark) -> Floats:
    return np.array([[mark.x, mark.y]]) + mark.size * np.array([[0.0, 0], [1, 0], [1, 1], [0, 1]])


def _span(marks: Sequence[Mark]) -> float:
    return float(np.hypot(marks[0].x - marks[1].x, marks[0].y - marks[1].y))
