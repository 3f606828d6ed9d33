"""What the log looks like from outside."""

from datetime import datetime
from typing import Annotated, Literal
from uuid import UUID

from ninja import Schema
from pydantic import Field

from caltin_core.contract.shapes import ActShape
from caltin_site.shapes import Lab, Strict, Tone
from caltin_site.studies.state import LAYERS_MOST, PlaceId

MarkKind = Literal["done", "wrong", "lifted", "dry", "back"]


class LaidOut(Strict):
    """One layer that lies on a place, and the number it has there."""

    place: PlaceId
    number: Annotated[int, Field(ge=0, lt=LAYERS_MOST)]
    layer: ActShape


class MarkIn(Strict):
    """A mark to add to the log, under the client's own id: layers laid as meant, laid in error or lifted, a colour run dry, or a
    mark taken back."""

    client_id: UUID
    kind: MarkKind
    colour: Annotated[str, Field(max_length=120)] = ""
    words: Annotated[str, Field(max_length=200)] = ""
    laid: Annotated[list[LaidOut], Field(max_length=400)] = []
    undoes: UUID | None = None
    minutes: Annotated[float, Field(gt=0, le=600)] | None = None


class MarkOut(Schema):
    """A mark in the log."""

    client_id: UUID
    kind: str
    colour: str
    words: str
    laid: list[LaidOut]
    undoes: UUID | None
    minutes: float | None
    made: datetime


class TakenOut(Schema):
    """What followed from a mark: the study's revision, and what was solved again, or empty."""

    revision: int
    said: str


class EntryIn(Strict):
    """Something to keep beside the log, under the client's own id: a note, a photograph, or what a place came out as."""

    client_id: UUID
    text: Annotated[str, Field(max_length=20_000)] = ""
    picture: UUID | None = None
    place: Annotated[str, Field(max_length=40)] = ""
    tone: Lab | None = None


class EntryOut(Schema):
    """What is kept; `called` is its place's name."""

    id: UUID
    text: str
    picture: UUID | None
    place: str
    called: str
    tone: Tone | None
    made: datetime


class SittingLogOut(Schema):
    """One sitting as it was: its hours, what was drawn and kept in it, and the changes made to the plan meanwhile."""

    began: datetime
    ended: datetime
    minutes: float
    marks: list[MarkOut]
    entries: list[EntryOut]
    changes: list[str]


class ValuesOut(Schema):
    """Munsell values, darkest and lightest."""

    dark: float
    light: float


class UsedOut(Schema):
    """A colour, its share of all that lies there, and of what was planned."""

    colour: str
    name: str
    solid: Tone
    share: float
    planned: float


class SpentOut(Schema):
    """Minutes at a place."""

    place: str
    called: str
    minutes: float


class ReviewOut(Schema):
    """The look back: ranges of value, colours, time, and what the hand tells; `habit` in L*, below 0 where it comes out darker,
    and whether that is more than chance."""

    planned: ValuesOut | None
    reached: ValuesOut | None
    used: list[UsedOut]
    spent: list[SpentOut]
    habit: float | None
    differs: bool
    learnt: str


class JournalOut(Schema):
    """A study's journal: sittings, oldest first; the look back once something is drawn; places whose outcome was told."""

    sittings: list[SittingLogOut]
    review: ReviewOut | None
    measured: list[str]


class FoundOut(Schema):
    """Where a search found its words."""

    study: UUID
    title: str
    what: str
    made: datetime
