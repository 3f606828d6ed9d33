"""The commands `sheet_print` and `sheet_read`."""

import base64
from collections.abc import Sequence
from pathlib import Path
from typing import Annotated, Literal

import numpy as np
from pydantic import BaseModel, Field

from caltin_core.charts.correction import About
from caltin_core.charts.layout import MOST_MARKS, Box, Layout, Mark, lay_out
from caltin_core.charts.printing import as_pdf, drawn
from caltin_core.charts.reading import read_sheet
from caltin_core.contract.command import Command
from caltin_core.contract.shapes import (
    AnyLayer,
    BlendShape,
    CoatShape,
    Coloured,
    Finite,
    Illuminant,
    LabOut,
    LayShape,
    LiftShape,
    RepeatShape,
    Shape,
    Surface,
    rounded,
)
from caltin_core.errors import BadRequest
from caltin_core.reference.picture import open_picture

Size = Annotated[Finite, Field(gt=0, le=2000)]
Place = Annotated[Finite, Field(ge=0, le=2000)]
_COUNT = ("", "", " twice", " three times", " four times", " five times", " six times")


class CellShape(Shape):
    """A cell to print: its name and what is to be laid in it."""

    cell: Annotated[str, Field(min_length=1, max_length=40)]
    layers: list[AnyLayer]


class SheetPrintRequest(Shape):
    """What `sheet_print` is asked; a `frame` is cut out and laid over a paper that no printer takes."""

    title: Annotated[str, Field(max_length=200)]
    page: Literal["A4", "letter"]
    cells: Annotated[list[CellShape], Field(min_length=1, max_length=1000)]
    frame: Annotated[bool, Field(strict=True)] = False


class BoxShape(Shape):
    """A rectangle in millimetres from the page's top left corner."""

    x: Place
    y: Place
    w: Size
    h: Size


class CellBox(BoxShape):
    """Where a cell is."""

    cell: Annotated[str, Field(min_length=1)]


class MarkShape(Shape):
    """Where a mark is, and its number in the dictionary."""

    id: Annotated[int, Field(ge=0, lt=MOST_MARKS, strict=True)]
    x: Place
    y: Place
    size: Size


class SheetShape(Shape):
    """A sheet as printed; `white` are places left bare."""

    page: tuple[Size, Size]
    cells: Annotated[list[CellBox], Field(min_length=1)]
    white: Annotated[list[BoxShape], Field(min_length=1)]
    marks: Annotated[list[MarkShape], Field(min_length=2)]
    frame: Annotated[bool, Field(strict=True)] = False


class SheetPrintAnswer(Shape):
    """The sheet, to be kept for reading it, and its page."""

    sheet: SheetShape
    pdf: str


class AboutShape(Coloured):
    """What a cell should about be, within so many ΔE00 (one standard deviation)."""

    cell: Annotated[str, Field(min_length=1)]
    within: Annotated[Finite, Field(ge=0.1, le=50)] = 4.0


class SheetReadRequest(Shape):
    """What `sheet_read` is asked. `about`: cells known roughly, and `again`: the same sheet photographed a stop or two darker, by
    which it is told how the camera sees; `light`: the one it was photographed in."""

    photo: str
    sheet: SheetShape
    surface: Surface
    about: list[AboutShape] = []
    light: Illuminant = "D50"
    again: str | None = None


class PatchReadShape(Shape):
    """A cell as read; without `ok` it should be done again, and why."""

    cell: str
    lab: LabOut
    spread: float
    ok: bool
    why: str | None = None


class SheetReadAnswer(Shape):
    """What `sheet_read` answers."""

    patches: list[PatchReadShape]


def sheet_shape(layout: Layout) -> SheetShape:
    """A layout as the contract writes it."""
    return SheetShape(
        page=layout.page,
        cells=[CellBox(cell=name, x=b.x, y=b.y, w=b.w, h=b.h) for name, b in layout.cells.items()],
        white=[BoxShape(x=round(b.x, 2), y=round(b.y, 2), w=round(b.w, 2), h=round(b.h, 2)) for b in layout.white],
        marks=[MarkShape(id=m.id, x=m.x, y=m.y, size=m.size) for m in layout.marks],
        frame=layout.frame,
    )


def layout_of(sheet: SheetShape) -> Layout:
    """What `sheet_shape` wrote."""
    return Layout(
        sheet.page,
        {c.cell: Box(c.x, c.y, c.w, c.h) for c in sheet.cells},
        tuple(Box(b.x, b.y, b.w, b.h) for b in sheet.white),
        tuple(Mark(m.id, m.x, m.y, m.size) for m in sheet.marks),
        sheet.frame,
    )


def layer_words(layer: BaseModel) -> str:
    """A layer as it stands above its cell."""
    if isinstance(layer, LayShape):
        side, turned = " side" * (layer.point == "side"), " turned" * layer.turned
        return f"{layer.colour}: {layer.passes} × {layer.pressure}{side}{turned}"
    if isinstance(layer, CoatShape):
        return f"{layer.colour}: {layer.passes} × {'wet ' * layer.wet}coat"
    if isinstance(layer, BlendShape):
        return f"blend: {layer.blend}"
    if isinstance(layer, LiftShape):
        return f"lift: {layer.lift}"
    assert isinstance(layer, RepeatShape)
    return "; ".join(layer_words(x) for x in layer.repeat) + _COUNT[layer.times]


def label_lines(layers: Sequence[str]) -> tuple[str, str]:
    """Two lines above a cell: the layers in their order, as many as there are."""
    first, *rest = [*layers, ""] if layers else ["bare", ""]
    return first, " + ".join(x for x in rest if x)


def print_sheet(request: SheetPrintRequest) -> SheetPrintAnswer:
    """Lay the sheet out and draw its page."""
    layout = lay_out(request.page, [c.cell for c in request.cells], request.frame)
    words = {c.cell: (c.cell, *label_lines([layer_words(x) for x in c.layers])) for c in request.cells}
    page = as_pdf(drawn(layout, request.title, words))
    return SheetPrintAnswer(sheet=sheet_shape(layout), pdf=base64.b64encode(page).decode("ascii"))


def _about(request: SheetReadRequest) -> list[About]:
    there = {c.cell for c in request.sheet.cells}
    for i, a in enumerate(request.about):
        if a.cell not in there:
            raise BadRequest(f"about[{i}].cell", f"the sheet has no cell “{a.cell}”")
        if any(a.cell == b.cell for b in request.about[:i]):
            raise BadRequest(f"about[{i}].cell", f"“{a.cell}” is there twice")
    return [About(a.cell, a.as_lab(f"about[{i}]"), a.within) for i, a in enumerate(request.about)]


def read(request: SheetReadRequest) -> SheetReadAnswer:
    """Read the sheet off its photograph."""
    pixels = open_picture(Path(request.photo), "photo")
    again = open_picture(Path(request.again), "again") if request.again is not None else None
    paper = np.asarray(request.surface.as_lab("surface"))
    seen = read_sheet(pixels, layout_of(request.sheet), paper, _about(request), request.light, again)
    return SheetReadAnswer(
        patches=[
            PatchReadShape(cell=p.cell, lab=rounded(p.lab), spread=round(p.spread, 4), ok=p.ok, why=p.why or None) for p in seen
        ]
    )


COMMANDS = {
    "sheet_print": Command(SheetPrintRequest, SheetPrintAnswer, print_sheet),
    "sheet_read": Command(SheetReadRequest, SheetReadAnswer, read),
}
