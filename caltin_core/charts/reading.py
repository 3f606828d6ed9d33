"""Read the patches of a chart off its photograph, as a colour reader would see them.

Everything is told against the bare paper beside it: the light's colour, its fall-off and the exposure cancel out in linear
light. What is left is how a camera sees otherwise than an eye, which bare paper cannot tell, but cells of known colour can.
"""

from collections.abc import Callable, Iterable, Mapping, Sequence
from dataclasses import dataclass, field, replace

import numpy as np

from caltin_core.charts.correction import SENSOR_TO_XYZ50, USUAL, XYZ50_TO_SENSOR, About, Correction, correction_of
from caltin_core.charts.geometry import Geometry, by_corners, by_marks, find_marks
from caltin_core.charts.illumination import Field, field_of
from caltin_core.charts.lamp import DAY, as_lit, by_day
from caltin_core.charts.layout import Box, Layout, Mark, beside
from caltin_core.charts.sampling import BLOCKS, Sampled, sampled
from caltin_core.colour.difference import delta_e_2000
from caltin_core.colour.spaces import lab_from_xyz, xyz_from_lab
from caltin_core.colour.tables import Bools, Floats
from caltin_core.errors import BadRequest, UnreadablePicture
from caltin_core.reference.picture import Pixels

# Nobody fills a cell to its border; and the border itself is printed.
_INSET, _INSET_BARE = 0.2, 0.14
_UNEVEN = 4.0
_BURNT = 0.02
_SHADED = 0.22
# An edge that takes so many millimetres to go from black to white is too soft for the cells' borders.
_SOFT = 2.0
_EVEN_ENOUGH = 1e-6
# A second photograph differs from the first by so many stops at least, or it tells nothing.
_STOPS = 0.4

# The light on a sheet, as a camera so corrected has seen it.
Light = Callable[[Correction], Field]


@dataclass(frozen=True)
class PatchRead:
    """One cell: D50 Lab (3,), how uneven it is (median ΔE00 of its parts), and why it should be done again, or empty."""

    cell: str
    lab: Floats
    spread: float
    why: str

    @property
    def ok(self) -> bool:
        """Whether it can be used."""
        return not self.why


@dataclass(frozen=True)
class Photograph:
    """A photograph of cells: what it shows of each, their middles (n, 2) on the page, and the light there."""

    seen: Sampled
    middles: Floats
    under: Light

    @classmethod
    def of(cls, pixels: Pixels, geometry: Geometry, cells: Iterable[Box], under: Light) -> "Photograph":
        """One whose cells lie by a geometry."""
        boxes = [b.inset(_INSET) for b in cells]
        return cls(sampled(pixels, geometry, boxes), _middles(boxes), under)

    def shares(self, camera: Correction, rows: Sequence[int]) -> Floats:
        """What some cells throw back of what bare paper does (m, 3), in a sensor's channels."""
        return camera.share(camera.light(self.seen.whole[rows]), self.under(camera).at(self.middles[rows]))

    def fit(self) -> Bools:
        """Which cells (n,) lie in it and are not burnt out."""
        return self.seen.inside & (self.seen.burnt <= _BURNT)


def read_sheet(
    pixels: Pixels, layout: Layout, paper: Floats, about: Sequence[About] = (), light: str = DAY, again: Pixels | None = None
) -> list[PatchRead]:
    """The cells of a printed sheet in the order of its layout; `paper` is the bare paper's Lab (3,), and what is `about` known of
    some cells tells how the camera sees, as does the same sheet photographed `again`, a stop or two darker. `light` is the one of
    ILLUMINANTS that it was photographed in.

    Raises UnreadablePicture where too few marks, or no bare paper, can be seen, or the second photograph is as bright as the first.
    """
    first, soft = _photograph(pixels, layout)
    try:
        second = _photograph(again, layout)[0] if again is not None else None
    except UnreadablePicture as fault:
        raise UnreadablePicture("again", f"the second photograph: {fault.what}") from None
    return _read(list(layout.cells), first, paper, light, "out of focus" if soft > _SOFT else "", about, second)


def _photograph(pixels: Pixels, layout: Layout) -> tuple[Photograph, float]:
    """A photograph of a printed sheet, and how soft it is in millimetres."""
    found = find_marks(pixels, layout)
    geometry = by_marks(pixels, layout, found)
    bare = sampled(pixels, geometry, [b.inset(_INSET_BARE) for b in layout.white])

    def windows(camera: Correction) -> Field:
        return _bare_field(_straight(bare, camera), layout.white, layout.page)

    light = _behind(pixels, geometry, layout, windows) if layout.frame else windows
    soft = _softness(pixels, geometry, [m for m in layout.marks if m.id in found])
    return Photograph.of(pixels, geometry, layout.cells.values(), light), soft


Spot = tuple[float, float]


@dataclass(frozen=True)
class OwnChart:
    """A chart without marks in its photograph: its four corners in pixels (from the top left one clockwise), rows and columns.

    `gap` is the bare share of a cell's step; `bare` are pixels of bare paper, where the gaps are not: without any, the light
    is taken from the gaps between the cells. Cells are named by row and column from 1; `moved` gives the middle, in pixels,
    of those that lie beside their place.
    """

    corners: Sequence[Spot]
    rows: int
    columns: int
    bare: Sequence[Spot] = ()
    gap: float = 0.12
    moved: Mapping[str, Spot] = field(default_factory=dict)

    def placed(self, pixels: Pixels) -> tuple[Geometry, dict[str, Box]]:
        """Where it lies in the picture, and its cells. Raises BadRequest where a moved cell is none of its own."""
        geometry = by_corners(pixels, self.corners, float(self.columns), float(self.rows))
        side = 1 - self.gap
        cells = {
            f"{r + 1}.{c + 1}": Box(c + self.gap / 2, r + self.gap / 2, side, side)
            for r in range(self.rows)
            for c in range(self.columns)
        }
        for cell, spot in self.moved.items():
            if cell not in cells:
                raise BadRequest("moved", f"this chart has no cell {cell}")
            x, y = _flat(geometry, [spot])[0]
            cells[cell] = Box(x - side / 2, y - side / 2, side, side)
        return geometry, cells

    def outlines(self, pixels: Pixels) -> dict[str, list[Spot]]:
        """The part of every cell that is read, as four corners in pixels."""
        geometry, cells = self.placed(pixels)
        out = {}
        for cell, box in cells.items():
            b = box.inset(_INSET)
            there = geometry.pixels(np.array([[b.x, b.y], [b.x + b.w, b.y], [b.x + b.w, b.y + b.h], [b.x, b.y + b.h]]))
            out[cell] = [(float(x), float(y)) for x, y in there]
        return out


def read_chart(pixels: Pixels, chart: OwnChart, paper: Floats, light: str = DAY) -> list[PatchRead]:
    """The cells of a chart of one's own, by rows; `paper` is the bare paper's Lab (3,), `light` the one it was photographed in."""
    geometry, cells = chart.placed(pixels)
    shown = Photograph.of(pixels, geometry, cells.values(), _chart_light(pixels, geometry, chart))
    return _read(list(cells), shown, paper, light, "")


def _flat(geometry: Geometry, spots: Sequence[Spot]) -> Floats:
    """Places on the chart (n, 2) of pixels."""
    flat = np.column_stack([np.array(spots, dtype=float), np.ones(len(spots))]) @ np.linalg.inv(geometry.plane).T
    out: Floats = flat[:, :2] / flat[:, 2:]
    return out


def _read(
    cells: Sequence[str], shown: Photograph, paper: Floats, light: str, soft: str,
    about: Sequence[About] = (), again: Photograph | None = None,
) -> list[PatchRead]:  # fmt: skip
    white = xyz_from_lab(as_lit(paper, light)) @ XYZ50_TO_SENSOR.T
    seen, every = shown.seen, range(len(cells))
    camera = _camera(cells, shown, white, light, about, again)
    looks = _lab(shown.shares(camera, every), white)
    lab, bare = by_day(looks, light), shown.under(camera)
    blocks = camera.share(camera.light(seen.blocks), bare.at(shown.middles)[:, None])
    parts = _lab(blocks, white)
    apart = delta_e_2000(looks[:, None], parts)
    shaded = bare.disagreement(shown.middles)
    whys = [soft or _why(seen, i, parts[i, :, 0], apart[i], float(shaded[i])) for i in every]
    return [PatchRead(cell, lab[i], float(np.median(apart[i])), whys[i]) for i, cell in enumerate(cells)]


def _camera(
    cells: Sequence[str], shown: Photograph, white: Floats, light: str, about: Sequence[About], again: Photograph | None
) -> Correction:
    """How the camera sees, by what is `about` known of some cells and by what two photographs show of all."""
    places = {cell: i for i, cell in enumerate(cells)}
    fit = shown.fit()
    told = [a for a in about if a.cell in places and fit[places[a.cell]]]
    rows = [places[a.cell] for a in told]
    usual = _lab(shown.shares(USUAL, rows), white)
    # What another light makes of a colour hardly hangs on the camera.
    turned = by_day(usual, light) - usual

    def known(camera: Correction) -> Floats:
        return _lab(shown.shares(camera, rows), white) + turned

    if again is None:
        return correction_of(known, told)
    both = np.flatnonzero(fit & again.fit()).tolist()
    stops = np.log2(shown.under(USUAL).at(shown.middles) / again.under(USUAL).at(again.middles))
    if not both or abs(np.median(stops)) < _STOPS:
        raise UnreadablePicture("again", "the second photograph is as bright as the first: take it a stop or two darker")

    def twice(camera: Correction) -> tuple[Floats, Floats]:
        return _lab(shown.shares(camera, both), white), _lab(again.shares(camera, both), white)

    return correction_of(known, told, twice)


def _why(seen: Sampled, i: int, lightness: Floats, apart: Floats, shaded: float) -> str:
    """Why a cell should be done again; empty where nothing speaks against it."""
    if not seen.inside[i]:
        return "outside the photograph"
    if seen.burnt[i] > _BURNT:
        return "glare, or burnt out: photograph it again in softer light"
    usual = float(np.quantile(apart, 0.75))
    if usual > _UNEVEN:
        block = lightness.reshape(BLOCKS, BLOCKS)
        tilt = max(float(np.abs(block.mean(axis=axis) - lightness.mean()).max()) for axis in (0, 1))
        return "a shadow or glare runs through it" if tilt > 3 * _UNEVEN else "it does not agree with itself: lay it again, evenly"
    if shaded > _SHADED:
        return "a shadow or glare lies beside it"
    return ""


def _lab(share: Floats, white: Floats) -> Floats:
    """D50 Lab (…, 3) of what is thrown back of what bare paper does (…, 3), in a sensor's channels; its own are `white` (3,)."""
    lab = lab_from_xyz(np.maximum(share * white @ SENSOR_TO_XYZ50.T, 0.0))
    return np.clip(lab, [0.0, -200.0, -200.0], [100.0, 200.0, 200.0])


def _middles(boxes: Sequence[Box]) -> Floats:
    return np.array([[b.x + b.w / 2, b.y + b.h / 2] for b in boxes])


def _bare_field(bare: Sampled, boxes: Sequence[Box], page: tuple[float, float]) -> Field:
    fit = bare.inside & (bare.whole.min(axis=1) > _EVEN_ENOUGH) & (bare.burnt < 0.5)
    if not fit.any():
        burnt = bool((bare.burnt >= 0.5).any())
        raise UnreadablePicture("photo", "the bare paper is burnt out: expose less" if burnt else "no bare paper can be seen")
    return field_of(_middles(boxes)[fit], bare.whole[fit], page)


def _straight(seen: Sampled, camera: Correction) -> Sampled:
    return replace(seen, whole=camera.light(seen.whole))


def _behind(pixels: Pixels, geometry: Geometry, layout: Layout, windows: Light) -> Light:
    """The light as the paper behind a frame would show it: its course from the frame, its level from the windows."""
    strips = [beside(b) for b in layout.cells.values()]
    printed = sampled(pixels, geometry, [b.inset(_INSET_BARE) for b in strips])

    def light(camera: Correction) -> Field:
        frame, behind = _bare_field(_straight(printed, camera), strips, layout.page), windows(camera)
        level = np.median(np.log(behind.at(behind.places)) - np.log(frame.at(behind.places)), axis=0)
        course = frame.course.copy()
        course[0] += level
        return Field(course, frame.size, frame.places, frame.left)

    return light


def _softness(pixels: Pixels, geometry: Geometry, marks: Sequence[Mark]) -> float:
    """Millimetres in which a mark's edge goes from a fifth to four fifths of its contrast: the median of all."""
    step = np.linspace(-1.4, 1.4, 57)
    widths = []
    for mark in marks:
        along = mark.y + mark.size * (np.arange(8) + 0.5) / 8
        line = np.stack([np.broadcast_to(mark.x + step, (8, step.size)), np.broadcast_to(along[:, None], (8, step.size))], axis=-1)
        at = np.rint(geometry.pixels(line)).astype(int)
        inside = (at >= 0).all() and (at[..., 0] < pixels.shape[1]).all() and (at[..., 1] < pixels.shape[0]).all()
        if not inside:
            continue
        profile = np.median(pixels[at[..., 1], at[..., 0]].mean(axis=-1), axis=0)
        low, high = profile[-8:].mean(), profile[:8].mean()
        between = (profile > low + 0.2 * (high - low)) & (profile < low + 0.8 * (high - low))
        widths.append(float(between.sum() * (step[1] - step[0])))
    return float(np.median(widths)) if widths else 0.0


def _chart_light(pixels: Pixels, geometry: Geometry, chart: OwnChart) -> Light:
    """The light on a chart without marks: from touched places, or from the gaps between its cells."""
    gap, rows, columns = chart.gap, chart.rows, chart.columns
    if chart.bare:
        size = 0.25 * gap
        boxes = [Box(x - size / 2, y - size / 2, size, size) for x, y in _flat(geometry, chart.bare)]
    else:
        size, along = 0.5 * gap, 1 - 2 * gap
        boxes = [Box(c - size / 2, r + gap, size, along) for r in range(rows) for c in range(1, columns)]
        boxes += [Box(c + gap, r - size / 2, along, size) for r in range(1, rows) for c in range(columns)]
    if not boxes:
        raise UnreadablePicture("bare", "there is no gap between the cells: touch the bare paper")
    bare = sampled(pixels, geometry, boxes)
    return lambda camera: _bare_field(_straight(bare, camera), boxes, (float(columns), float(rows)))
