"""The paper and the picture's place on it, in millimetres: grids, measuring, and the tiles of a true-size print."""

from collections.abc import Sequence
from dataclasses import dataclass
from math import atan2, ceil, degrees, hypot

from caltin_core.errors import BadRequest

# Width and height in millimetres (ISO 216; ANSI letter), and the strip most printers leave bare.
PAGES = {"A4": (210.0, 297.0), "letter": (215.9, 279.4)}
BARE, OVERLAP = 8.0, 6.0
# Sheets sold for drawing: a name, width and height in millimetres (ISO 216; ANSI letter; common boards and blocks).
SHEETS = (
    ("A5", 148.0, 210.0), ("A4", 210.0, 297.0), ("A3", 297.0, 420.0), ("A2", 420.0, 594.0), ("letter", 215.9, 279.4),
    ("30 × 40 cm", 300.0, 400.0), ("40 × 50 cm", 400.0, 500.0),
)  # fmt: skip
_LEAST, _MOST = 20.0, 2000.0
# Without any eye marked, the eyes of a portrait lie a little above the middle of the picture (common practice).
_USUAL_EYES = 0.4


@dataclass(frozen=True)
class Placement:
    """A sheet `width` by `height`, and the picture on it: its left and top edge and its width, all in millimetres."""

    width: float
    height: float
    left: float
    top: float
    across: float

    def __post_init__(self) -> None:
        for name in ("width", "height", "across"):
            if not _LEAST <= getattr(self, name) <= _MOST:
                raise BadRequest(name, f"this must lie between {_LEAST:g} and {_MOST:g} mm")
        for name in ("left", "top"):
            if not -_MOST <= getattr(self, name) <= _MOST:
                raise BadRequest(name, f"this must lie within {_MOST:g} mm of the sheet's corner")

    def down(self, aspect: float) -> float:
        """Height of the picture on the sheet; `aspect` is its height over its width."""
        return self.across * aspect


def centred(width: float, height: float, aspect: float, margin: float = 15.0) -> Placement:
    """The picture as large as the sheet takes it inside an even margin, in the middle."""
    margin = min(margin, 0.2 * min(width, height))
    across = min(width - 2 * margin, (height - 2 * margin) / aspect)
    return Placement(width, height, (width - across) / 2, (height - across * aspect) / 2, across)


def eye_line(eyes: Sequence[float]) -> float:
    """Where the eye line probably runs, as a share of the picture's height from its top; `eyes` are those marked there."""
    return sum(eyes) / len(eyes) if eyes else _USUAL_EYES


@dataclass(frozen=True)
class Span:
    """A measured distance: millimetres on the paper, how many units it is, and its angle against plumb in degrees
    (0 upright, positive leaning to the right)."""

    mm: float
    units: float | None
    plumb: float


def span(one: tuple[float, float], other: tuple[float, float], mm_per_pixel: float, unit: float | None = None) -> Span:
    """Measure between two pixels of the picture; `unit` is the length of the artist's unit in pixels."""
    dx, dy = other[0] - one[0], other[1] - one[1]
    length = hypot(dx, dy)
    if dy > 0 or (dy == 0 and dx < 0):
        dx, dy = -dx, -dy
    return Span(length * mm_per_pixel, length / unit if unit else None, degrees(atan2(dx, -dy)) if length else 0.0)


def grid_lines(placement: Placement, aspect: float, cell: float) -> tuple[list[float], list[float]]:
    """Where the lines of a square grid of `cell` millimetres stand on the sheet: x of the uprights, y of the levels."""
    if not 2 <= cell <= 500:
        raise BadRequest("cell", "a grid's cell must lie between 2 and 500 mm")
    down = placement.down(aspect)
    across = [placement.left + i * cell for i in range(int(placement.across / cell + 1e-9) + 1)]
    return across, [placement.top + i * cell for i in range(int(down / cell + 1e-9) + 1)]


@dataclass(frozen=True)
class Tile:
    """One printed page: which part of the sheet it shows (left, top, width, height in mm), its row and column."""

    left: float
    top: float
    width: float
    height: float
    row: int
    column: int


def tiles(width: float, height: float, page: str) -> list[Tile]:
    """The pages of a true-size print of a sheet, by rows; neighbours overlap by `OVERLAP` millimetres to be joined.

    Upright or lying, whichever takes fewer pages. Raises BadRequest for a page that is not in `PAGES`.
    """
    if page not in PAGES:
        raise BadRequest("page", f"there is no page “{page}”; there are {', '.join(PAGES)}")
    turned = (PAGES[page], PAGES[page][::-1])
    for wide, high in turned:
        # A sheet no larger than the page lies on it corner to corner; its outermost strip stays bare.
        if width <= wide + 0.01 and height <= high + 0.01:
            return [Tile(BARE, BARE, wide - 2 * BARE, high - 2 * BARE, 0, 0)]
    return min((_tiled(width, height, *size) for size in turned), key=len)


def _tiled(width: float, height: float, page_width: float, page_height: float) -> list[Tile]:
    wide, high = page_width - 2 * BARE, page_height - 2 * BARE
    columns = max(1, ceil((width - OVERLAP) / (wide - OVERLAP) - 1e-9))
    rows = max(1, ceil((height - OVERLAP) / (high - OVERLAP) - 1e-9))
    return [Tile(c * (wide - OVERLAP), r * (high - OVERLAP), wide, high, r, c) for r in range(rows) for c in range(columns)]
