"""What swatch sheets and charts look like from outside."""

from datetime import datetime
from typing import Annotated, Literal
from uuid import UUID

from ninja import Schema
from pydantic import Field

from caltin_core.contract.shapes import Illuminant, Medium, Pressure
from caltin_core.media.layers import MAX_PASSES
from caltin_site.shapes import Lab, Strict


class CellOut(Schema):
    """A cell of a sheet or chart: what is laid there, and what was read, or why it should be done again."""

    cell: str
    words: str
    hex: str
    tone: Lab | None
    ok: bool
    why: str
    spread: float
    # Where it lies in the photograph of a chart of one's own, in pixels; empty on a printed sheet.
    outline: list[list[float]] = []


class GridOut(Schema):
    """A chart found in a photograph: its corners in pixels from the top left one clockwise (none where none was found), its
    rows and columns."""

    corners: list[list[float]]
    rows: int
    columns: int


class FurtherRowOut(Schema):
    """A row of swatches one might still lay, in words and cell by cell, the doubt of a likely recipe after it (ΔE00), and whether
    it is worth the work."""

    words: str
    cells: list[str]
    doubt: float
    worth: bool


class FurtherOut(Schema):
    """The doubt of a likely recipe now (ΔE00), and the rows that would lessen it most."""

    now: float
    rows: list[FurtherRowOut]


class SwatchSheetOut(Schema):
    """A printed sheet."""

    id: UUID
    title: str
    page: str
    frame: bool
    paper: UUID
    read: datetime | None
    control: bool
    drift: str
    cells: list[CellOut]


class NewSheet(Strict):
    """A sheet to lay out: so `many` cells, some of them blended or lifted with `acts`; a `control` of three; or the `row` that was
    told to teach much, by its words."""

    paper: UUID
    page: Literal["A4", "letter"] = "A4"
    frame: bool = False
    many: Annotated[int, Field(ge=1, le=96)] = 48
    acts: bool = False
    control: bool = False
    row: Annotated[str, Field(max_length=120)] = ""


class ChartAsked(Strict):
    """A chart of one's own: its corners in pixels from the top left one clockwise, its rows and columns, bare places, the middles
    of cells (“row.column”) that lie beside their place, and the light it was photographed in."""

    paper: UUID
    corners: Annotated[list[tuple[float, float]], Field(min_length=4, max_length=4)]
    rows: Annotated[int, Field(ge=1, le=40)]
    columns: Annotated[int, Field(ge=1, le=40)]
    bare: Annotated[list[tuple[float, float]], Field(max_length=40)] = []
    moved: Annotated[dict[str, tuple[float, float]], Field(max_length=1600)] = {}
    light: Illuminant = "D50"


class Way(Strict):
    """How a row of a chart was laid in a dry medium."""

    pressure: Pressure
    passes: Annotated[int, Field(ge=1, le=MAX_PASSES)]


class ChartKept(Strict):
    """A chart of one's own, read: what becomes of it in the kit whose version `seen` is.

    `tones` are its cells by rows, None where nothing could be read. Without `ways` every cell is the solid of a colour of its
    own; with them each column is one colour, its first row the solid, the rows below laid so (media in coats: a coat more
    in every row). `names` are those of the colours in that order; one without a name is left out, and one whose name and
    medium the kit has already is that colour measured anew.
    """

    seen: int
    paper: UUID
    medium: Medium
    columns: Annotated[int, Field(ge=1, le=40)]
    names: Annotated[list[Annotated[str, Field(max_length=80)]], Field(max_length=1600)]
    tones: Annotated[list[Lab | None], Field(min_length=1, max_length=1600)]
    ways: Annotated[list[Way], Field(max_length=39)] = []
