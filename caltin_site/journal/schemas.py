"""What the log looks like from outside."""

from datetime import datetime
from typing import Annotated, Literal
from uuid import UUID

from ninja import Schema
from pydantic import Field

from caltin_core.contract.shapes import ActShape
from caltin_site.shapes import Strict
from caltin_site.studies.state import LAYERS_MOST, PlaceId

MarkKind = Literal["done", "wrong", "lifted", "back"]


class LaidOut(Strict):
    """One layer that lies on a place, and the number it has there."""

    place: PlaceId
    number: Annotated[int, Field(ge=0, lt=LAYERS_MOST)]
    layer: ActShape


class MarkIn(Strict):
    """A mark to add to the log, under the client's own id: layers laid as meant, laid in error or lifted, or a mark taken back."""

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
