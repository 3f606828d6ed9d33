"""What studies look like from outside."""

from datetime import datetime
from typing import Annotated, Literal
from uuid import UUID

from ninja import Schema
from pydantic import Field

from caltin_site.kits.schemas import HandOut, KitOut, PaperOut
from caltin_site.references.api import PictureOut
from caltin_site.shapes import Strict, Tone
from caltin_site.studies.ops import Op
from caltin_site.studies.state import State


class NewStudy(Strict):
    """A study to begin, from a picture or from chosen tones."""

    title: Annotated[str, Field(min_length=1, max_length=120)]
    picture: UUID | None = None
    kit: UUID
    paper: UUID
    hand: UUID


class PlannedTone(Schema):
    """The tone of one role in a planned light."""

    role: str
    role_name: str
    tone: Tone


class PlannedOut(Schema):
    """What a planned light shows: the roles' tones, the complexion as a ball (a PNG's data address), and where the key comes from
    in the plane of the picture, degrees anticlockwise from the right."""

    tones: list[PlannedTone]
    ball: str
    direction: float


class GoesWith(Schema):
    """The paper and the hand that go with a kit, where the artist has used or measured it with any."""

    paper: UUID | None = None
    hand: UUID | None = None


class StudyCard(Schema):
    """A study as the shelf shows it."""

    id: UUID
    title: str
    picture: UUID | None
    kit: str
    paper: str
    places: int
    drawn: int
    tones: list[Tone]
    changed: datetime


class PlaceOut(Schema):
    """A place with its tone read and as it will be aimed at, in words against the base."""

    id: str
    role: str
    role_name: str
    name: str
    called: str
    number: int
    x: float | None
    y: float | None
    radius: float | None
    tone: Tone
    target: Tone
    words: str
    against_base: str
    undertone: str
    evenness: str
    spread: float
    area: int | None
    flagged: str


class FrameOut(Schema):
    """The frame's matrix from its own pixels to the picture's, by rows, and its size."""

    matrix: list[float]
    width: float
    height: float


class SheetOut(Schema):
    """The sheet, the picture on it and the lines of its grid, in millimetres from the sheet's top left corner.

    `eyes` is where the eye line probably runs, a share of the picture's height.
    """

    width: float
    height: float
    left: float
    top: float
    across: float
    down: float
    uprights: list[float]
    levels: list[float]
    mm_per_pixel: float
    eyes: float


class RangeOut(Schema):
    """The picture's range and what can be shown, as knots of L* and as Munsell values, and what is given up for it."""

    on: bool
    hold: Literal["skin", "darks", "lights"]
    given_up: list[str]
    picture: list[float]
    shown: list[float]
    picture_values: list[float]
    shown_values: list[float]
    darkest_shown: float
    lightest_shown: float


class StudyOut(Schema):
    """A study in force."""

    id: UUID
    revision: int
    can_undo: bool
    can_redo: bool
    undo_label: str
    redo_label: str
    state: State
    picture: PictureOut | None
    kit: KitOut
    paper: PaperOut
    hand: HandOut
    places: list[PlaceOut]
    range: RangeOut
    sheet: SheetOut
    frame: FrameOut | None
    look: str
    changed: datetime


class ChangeAsked(Strict):
    """A change, with the revision it was made on."""

    seen: int
    op: Op


class Seen(Strict):
    """The revision seen."""

    seen: int
