"""What is drawn on a true-size page: the picture, its values, its outline or its lines made pale, and the grid over it."""

from collections.abc import Callable
from dataclasses import dataclass

import cv2
import numpy as np
from PIL import Image, ImageDraw, ImageFont

from caltin_core.colour.tables import Floats
from caltin_core.reference.line_art import pale
from caltin_core.reference.picture import Pixels
from caltin_core.reference.seeing import values
from caltin_core.reference.sheet import BARE, PAGES, Placement, Tile, grid_lines, tiles

KINDS = ("picture", "values", "outline", "pale", "grid")
DOTS_PER_MM = 200 / 25.4
_INK, _FAINT = (70, 70, 70), (150, 150, 150)
_CHECK_MM = 50.0
_OUTLINE_AT = 900


@dataclass(frozen=True)
class Over:
    """What is drawn over the picture: a grid of `cell` mm, diagonals, a centre cross, an eye line (share of the height)."""

    cell: float | None = None
    diagonals: bool = False
    cross: bool = False
    eye_line: float | None = None


def outline(lab: Floats) -> Pixels:
    """The picture's outlines in grey on white: edges of its great masses (Canny 1986), for tracing."""
    scale = min(1.0, _OUTLINE_AT / max(lab.shape[:2]))
    calm = cv2.resize(np.clip(lab[..., 0] * 2.55, 0, 255).astype(np.uint8), None, fx=scale, fy=scale, interpolation=cv2.INTER_AREA)
    for _ in range(3):
        calm = cv2.bilateralFilter(calm, 9, 28, 5)
    slope = np.hypot(cv2.Sobel(calm, cv2.CV_32F, 1, 0), cv2.Sobel(calm, cv2.CV_32F, 0, 1))
    strong = max(float(np.quantile(slope, 0.93)), 20.0)
    lines = cv2.Canny(calm, 0.45 * strong, strong, L2gradient=True)
    grown = cv2.resize(cv2.GaussianBlur(lines, (0, 0), 0.8), (lab.shape[1], lab.shape[0]), interpolation=cv2.INTER_CUBIC)
    grey = np.where(np.asarray(grown) > 90, 90, 255).astype(np.uint8)
    return np.repeat(grey[..., None], 3, axis=2)


def drawn(kind: str, pixels: Pixels, lab: Floats) -> Pixels | None:
    """The picture as a kind of page shows it, or None for a page of lines alone."""
    if kind == "grid":
        return None
    if kind == "values":
        return values(lab, 5).pixels
    return outline(lab) if kind == "outline" else pale(pixels) if kind == "pale" else pixels


def pages(
    image: Pixels | None, aspect: float, placement: Placement, over: Over, page: str, mirrored: bool = False
) -> list[Image.Image]:
    """The pages of a true-size print, `DOTS_PER_MM` dots to the millimetre; save them as one PDF at 200 dots per inch."""
    if image is not None and mirrored:
        image = image[:, ::-1]
    cut = tiles(placement.width, placement.height, page)
    size = PAGES[page] if cut[0].width <= cut[0].height else PAGES[page][::-1]
    whole = Image.fromarray(image) if image is not None else None
    return [_tile(whole, aspect, placement, over, tile, size, len(cut)) for tile in cut]


def _dots(mm: float) -> int:
    return round(mm * DOTS_PER_MM)


def _tile(
    image: Image.Image | None, aspect: float, at: Placement, over: Over, tile: Tile, size: tuple[float, float], many: int
) -> Image.Image:
    out = Image.new("RGB", (_dots(size[0]), _dots(size[1])), "white")
    draw = ImageDraw.Draw(out)

    def place(x: float, y: float) -> tuple[int, int]:
        return _dots(x - tile.left + BARE), _dots(y - tile.top + BARE)

    down = at.down(aspect)
    left, top = place(at.left, at.top)
    right, foot = place(at.left + at.across, at.top + down)
    if image is not None:
        out.paste(_part(image, (left, top, right, foot), out.size), (max(left, 0), max(top, 0)))
    _lines(draw, at, aspect, over, place)
    draw.rectangle([*place(0, 0), *place(at.width, at.height)], outline=_FAINT)
    _frame(draw, out.size, tile, many)
    return out


def _part(image: Image.Image, box: tuple[int, int, int, int], page: tuple[int, int]) -> Image.Image:
    """The part of the picture that falls on a page, resampled once."""
    left, top, right, foot = box
    wide, high = max(right - left, 1), max(foot - top, 1)
    x0, y0, x1, y1 = max(left, 0), max(top, 0), min(right, page[0]), min(foot, page[1])
    if x1 <= x0 or y1 <= y0:
        return Image.new("RGB", (1, 1), "white")
    scale = (image.width / wide, image.height / high)
    part = ((x0 - left) * scale[0], (y0 - top) * scale[1], (x1 - left) * scale[0], (y1 - top) * scale[1])
    return image.resize((x1 - x0, y1 - y0), Image.Resampling.BICUBIC, box=part)


def _lines(
    draw: ImageDraw.ImageDraw, at: Placement, aspect: float, over: Over, place: Callable[[float, float], tuple[int, int]]
) -> None:
    down = at.down(aspect)
    box = (at.left, at.top, at.left + at.across, at.top + down)
    if over.cell:
        uprights, levels = grid_lines(at, aspect, over.cell)
        for x in [*uprights, box[2]]:
            draw.line([place(x, box[1]), place(x, box[3])], fill=_INK, width=2)
        for y in [*levels, box[3]]:
            draw.line([place(box[0], y), place(box[2], y)], fill=_INK, width=2)
    if over.diagonals:
        draw.line([place(box[0], box[1]), place(box[2], box[3])], fill=_INK, width=2)
        draw.line([place(box[2], box[1]), place(box[0], box[3])], fill=_INK, width=2)
    if over.cross:
        x, y = (box[0] + box[2]) / 2, (box[1] + box[3]) / 2
        draw.line([place(x, box[1]), place(x, box[3])], fill=_INK, width=3)
        draw.line([place(box[0], y), place(box[2], y)], fill=_INK, width=3)
    if over.eye_line is not None:
        y = box[1] + over.eye_line * down
        draw.line([place(box[0], y), place(box[2], y)], fill=_INK, width=3)


def _frame(draw: ImageDraw.ImageDraw, size: tuple[int, int], tile: Tile, many: int) -> None:
    """Marks to join the pages at, and a bar to check the printer by."""
    bare = _dots(BARE)
    arm = _dots(5)
    for x in (bare, size[0] - bare):
        for y in (bare, size[1] - bare):
            draw.line([(x - arm, y), (x + arm, y)], fill=_FAINT)
            draw.line([(x, y - arm), (x, y + arm)], fill=_FAINT)
    font = ImageFont.load_default(_dots(2.6))
    y = size[1] - _dots(3)
    draw.line([(bare, y), (bare + _dots(_CHECK_MM), y)], fill=_INK, width=3)
    said = f"50 mm: print at 100 %, never fitted. Row {tile.row + 1}, column {tile.column + 1}, of {many} page" + "s" * (many > 1)
    draw.text((bare + _dots(_CHECK_MM + 3), y - _dots(1.8)), said, fill=_INK, font=font)
