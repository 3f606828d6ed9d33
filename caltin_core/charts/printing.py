"""The page of a printed swatch sheet, true to size."""

import io
from collections.abc import Mapping, Sequence

import cv2
import numpy as np
from PIL import Image, ImageDraw, ImageFont

from caltin_core.charts.layout import RING, Layout

DPI = 300
DOTS_PER_MM = DPI / 25.4
DICTIONARY = cv2.aruco.getPredefinedDictionary(cv2.aruco.DICT_4X4_50)
_INK, _PALE = 0, 150
_BAR = 50.0


def drawn(layout: Layout, title: str, words: Mapping[str, Sequence[str]]) -> Image.Image:
    """The page in grey at 300 dots per inch; `words` are what stands above each cell: its number and two lines."""
    out = Image.new("L", (_dots(layout.page[0]), _dots(layout.page[1])), 255)
    draw = ImageDraw.Draw(out)
    for mark in layout.marks:
        size = _dots(mark.size)
        image = cv2.aruco.generateImageMarker(DICTIONARY, mark.id, size)
        out.paste(Image.fromarray(np.asarray(image)), (_dots(mark.x), _dots(mark.y)))
    head, small, tiny = (ImageFont.load_default(_dots(size)) for size in (3.6, 2.5, 1.9))
    _fitted(draw, (RING, RING + 0.5), title, head, layout.page[0] - 2 * RING)
    for cell, box in layout.cells.items():
        draw.rectangle(_corners(box.x, box.y, box.w, box.h), outline=_INK if layout.frame else _PALE, width=2)
        number, *lines = words.get(cell, ("",))
        _fitted(draw, (box.x, box.y - 4.7), number, head, box.w + 3)
        after = min(draw.textlength(number + " ", font=head) / DOTS_PER_MM, box.w)
        for line, said in enumerate(lines[:2]):
            _fitted(draw, (box.x + after, box.y - 5.2 + 2.4 * line), said, tiny, box.w + 3 - after)
    for box in layout.white if layout.frame else ():
        draw.rectangle(_corners(box.x, box.y, box.w, box.h), outline=_INK, width=2)
    y = layout.page[1] - RING - 1.5
    draw.line([_at(RING, y), _at(RING + _BAR, y)], fill=_INK, width=4)
    said = "50 mm: print at 100 %, never fitted."
    said += " Cut out every window; lay it on the paper." if layout.frame else " Leave the strips between the cells bare."
    _fitted(draw, (RING + _BAR + 3, y - 1.6), said, small, layout.page[0] - 2 * RING - _BAR - 3)
    return out


def as_pdf(page: Image.Image) -> bytes:
    """A page as a PDF of its true size."""
    out = io.BytesIO()
    page.save(out, "PDF", resolution=DPI, quality=95)
    return out.getvalue()


def _dots(mm: float) -> int:
    return round(mm * DOTS_PER_MM)


def _at(x: float, y: float) -> tuple[int, int]:
    return _dots(x), _dots(y)


def _corners(x: float, y: float, w: float, h: float) -> list[tuple[int, int]]:
    return [_at(x, y), _at(x + w, y + h)]


def _fitted(
    draw: ImageDraw.ImageDraw, at: tuple[float, float], said: str, font: ImageFont.FreeTypeFont | ImageFont.ImageFont, width: float
) -> None:
    """Text cut with an ellipsis where it is longer than `width` mm."""
    room = width * DOTS_PER_MM
    if draw.textlength(said, font=font) > room:
        while said and draw.textlength(said + "…", font=font) > room:
            said = said[:-1]
        said = said.rstrip() + "…"
    draw.text(_at(*at), said, fill=_INK, font=font)
