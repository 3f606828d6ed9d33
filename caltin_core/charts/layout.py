"""A printed swatch sheet in millimetres: numbered cells, bare places for the paper's white, and marks to find it by."""

from collections.abc import Sequence
from dataclasses import dataclass
from itertools import pairwise
from math import ceil

from caltin_core.errors import BadRequest
from caltin_core.reference.sheet import BARE, PAGES

# Marks are from OpenCV's dictionary of 50 marks of 4 × 4 fields, printed with a quiet zone around.
MARK, QUIET = 11.0, 2.0
RING = BARE + MARK + QUIET + 1.0
_TITLE, _FOOT = 9.0, 6.0
_GAP, _LABEL = 4.0, 6.5
# A swatch smaller than this cannot be laid evenly, nor a smaller window be cut (common practice).
_LEAST, _LEAST_WINDOW, _MOST = 9.0, 12.0, 26.0
_WINDOW = 12.0
_AMONG = 12
MOST_MARKS = 50


@dataclass(frozen=True)
class Box:
    """A rectangle on the page: millimetres from its top left corner."""

    x: float
    y: float
    w: float
    h: float

    def inset(self, share: float) -> "Box":
        """The middle of it: `share` of its size taken off every side."""
        return Box(self.x + share * self.w, self.y + share * self.h, self.w * (1 - 2 * share), self.h * (1 - 2 * share))


@dataclass(frozen=True)
class Mark:
    """A square mark: its number in the dictionary, its top left corner and size in millimetres."""

    id: int
    x: float
    y: float
    size: float


@dataclass(frozen=True)
class Layout:
    """A sheet as printed: page size, cells by their names, bare places and marks.

    `frame`: the cells and bare places are windows cut out of an ordinary print that is laid over the paper.
    """

    page: tuple[float, float]
    cells: dict[str, Box]
    white: tuple[Box, ...]
    marks: tuple[Mark, ...]
    frame: bool = False


def lay_out(page: str, cells: Sequence[str], frame: bool = False) -> Layout:
    """Place cells, as large as the page takes them, in the order given, by rows.

    Raises BadRequest for a page that is not in `PAGES`, a cell named twice, none, or more than the page takes.
    """
    if page not in PAGES:
        raise BadRequest("page", f"there is no page “{page}”; there are {', '.join(PAGES)}")
    if not cells:
        raise BadRequest("cells", "a sheet has at least one cell")
    for index, cell in enumerate(cells):
        if cell in cells[:index]:
            raise BadRequest(f"cells[{index}].cell", f"“{cell}” is there twice")
    width, height = PAGES[page]
    inner = Box(RING, RING + _TITLE, width - 2 * RING, height - 2 * RING - _TITLE - _FOOT)
    marks, ring = _ring(width, height, frame)
    # On a frame every twelfth place is a window to the bare paper.
    bare = ceil(len(cells) / _AMONG) if frame else 0
    places = _places(inner, len(cells) + bare, _LEAST_WINDOW if frame else _LEAST)
    at = {round((i + 0.5) * len(places) / bare) for i in range(bare)} if bare else set()
    taken = [box for i, box in enumerate(places) if i not in at][: len(cells)]
    left = [box for i, box in enumerate(places) if i in at]
    between = [] if frame else [beside(box) for box in taken]
    return Layout((width, height), dict(zip(cells, taken, strict=True)), (*ring, *left, *between), marks, frame)


def _ring(width: float, height: float, frame: bool) -> tuple[tuple[Mark, ...], tuple[Box, ...]]:
    """Marks along the edges of the page, and bare places between them."""
    near, far_x, far_y = BARE, width - BARE - MARK, height - BARE - MARK
    xs = [near + i * (far_x - near) / 3 for i in range(4)]
    ys = [near + i * (far_y - near) / 4 for i in range(5)]
    corners = [(x, near) for x in xs] + [(x, y) for y in ys[1:-1] for x in (near, far_x)] + [(x, far_y) for x in xs]
    marks = tuple(Mark(i, round(x, 2), round(y, 2), MARK) for i, (x, y) in enumerate(corners))
    long, broad = (_WINDOW, MARK) if frame else (16.0, MARK)
    across = [Box((a + b + MARK) / 2 - long / 2, y, long, broad) for y in (near, far_y) for a, b in pairwise(xs)]
    down = [Box(x, (a + b + MARK) / 2 - long / 2, broad, long) for x in (near, far_x) for a, b in pairwise(ys)]
    return marks, tuple(across + down)


def _places(inner: Box, count: int, least: float) -> list[Box]:
    """`count` boxes in rows, as large as they can be, a label's height above each."""
    best: tuple[float, int, float, float] | None = None
    for columns in range(1, count + 1):
        rows = ceil(count / columns)
        w, h = inner.w / columns - _GAP, inner.h / rows - _LABEL
        w, h = min(w, _MOST, 1.6 * h), min(h, _MOST, 1.6 * w)
        if min(w, h) >= least and (best is None or w * h > best[0]):
            best = (w * h, columns, w, h)
    if best is None:
        most = int(inner.w / (least + _GAP)) * int(inner.h / (least + _LABEL))
        raise BadRequest("cells", f"{count} cells do not fit on this page; it takes {most}")
    _, columns, w, h = best
    step_x, step_y = inner.w / columns, min(inner.h / ceil(count / columns), h + 3 * _LABEL)
    return [
        Box(
            round(inner.x + (i % columns) * step_x, 2),
            round(inner.y + (i // columns) * step_y + _LABEL, 2),
            round(w, 2),
            round(h, 2),
        )
        for i in range(count)
    ]


def beside(cell: Box) -> Box:
    """The bare strip at the right of a cell."""
    return Box(round(cell.x + cell.w + 0.7, 2), cell.y, _GAP - 1.4, cell.h)
