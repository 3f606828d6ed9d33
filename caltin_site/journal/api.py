"""Endpoints for the log of what was drawn."""

from datetime import datetime
from typing import Annotated, Any, Literal
from uuid import UUID

from django.http import HttpRequest
from ninja import Router, Schema, Status
from pydantic import Field

from caltin_site.journal import services
from caltin_site.ownership import mine
from caltin_site.shapes import Strict
from caltin_site.studies.models import Study

router = Router(tags=["journal"])


class Mark(Strict):
    """A mark to add to the log, under the client's own id."""

    client_id: UUID
    kind: Literal["done", "back"]
    colour: Annotated[str, Field(max_length=120)]
    words: Annotated[str, Field(max_length=200)]
    tokens: Annotated[list[Annotated[str, Field(max_length=160)]], Field(min_length=1, max_length=60)]


class MarkOut(Schema):
    """A mark in the log."""

    client_id: UUID
    kind: str
    colour: str
    words: str
    tokens: list[str]
    made: datetime


@router.get("/studies/{id}/drawn", response=list[MarkOut])
def drawn(request: HttpRequest, id: UUID) -> Any:
    """The whole log, oldest first."""
    return mine(Study, request.user, id).drawn.order_by("made", "pk")


@router.post("/studies/{id}/drawn", response={204: None})
def mark(request: HttpRequest, id: UUID, body: Mark) -> Any:
    """Add a mark. Sending it again changes nothing."""
    study = mine(Study, request.user, id)
    services.log(study, body.client_id, body.kind, body.colour, body.words, body.tokens, request.user)
    return Status(204, None)
