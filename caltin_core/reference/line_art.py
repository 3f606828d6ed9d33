"""A drawing without tones: told apart from a photograph, its closed areas found, printed again pale."""

import cv2
import numpy as np

from caltin_core.colour.tables import Floats
from caltin_core.reference.areas import MOST_AREAS, Labels
from caltin_core.reference.picture import Pixels
from caltin_core.skin.find import Mask

_PAPER, _LINE = 82.0, 62.0
_MOSTLY_PAPER, _LEAST_LINE, _MOST_BETWEEN = 0.72, 0.002, 0.14
_GREY = 12.0
_SPECK = 0.0006


def is_line_art(lab: Floats) -> bool:
    """Whether a picture, D50 CIELAB (h, w, 3), is lines on bare paper: mostly light, some dark, little between, no colour."""
    lightness = lab[..., 0]
    paper, line = float((lightness > _PAPER).mean()), float((lightness < _LINE).mean())
    colourless = float((np.hypot(lab[..., 1], lab[..., 2]) < _GREY).mean())
    return paper > _MOSTLY_PAPER and line > _LEAST_LINE and 1 - paper - line < _MOST_BETWEEN and colourless > 0.97


def lines(lab: Floats, gap: int = 3) -> Mask:
    """The lines of a drawing (h, w), with gaps up to `gap` pixels closed."""
    size = gap + 2 - gap % 2 + 1
    dark = (lab[..., 0] < (_PAPER + _LINE) / 2).astype(np.uint8)
    out: Mask = cv2.morphologyEx(dark, cv2.MORPH_CLOSE, cv2.getStructuringElement(cv2.MORPH_ELLIPSE, (size, size))) > 0
    return out


def closed_areas(lab: Floats, gap: int = 3) -> Labels:
    """The areas that lines close in (h, w), the largest first; 0 is line, or open to the edge of the sheet."""
    free = ~lines(lab, gap)
    many, part, sizes, _ = cv2.connectedComponentsWithStats(free.astype(np.uint8), connectivity=4)
    open_to_edge = set(np.unique(np.concatenate([part[0], part[-1], part[:, 0], part[:, -1]])).tolist())
    found = [i for i in range(1, many) if i not in open_to_edge and sizes[i, cv2.CC_STAT_AREA] > _SPECK * free.size]
    found.sort(key=lambda i: -int(sizes[i, cv2.CC_STAT_AREA]))
    table = np.zeros(many, dtype=np.uint8)
    for label, index in enumerate(found[:MOST_AREAS], 1):
        table[index] = label
    out: Labels = table[part]
    return out


def pale(pixels: Pixels, share: float = 0.28) -> Pixels:
    """The same drawing with its lines in a pale grey, to print and draw over."""
    grey = cv2.cvtColor(pixels, cv2.COLOR_RGB2GRAY).astype(np.float32)
    light = np.rint(255 - share * (255 - grey)).astype(np.uint8)
    return np.repeat(light[..., None], 3, axis=2)
