"""Endpoints for the log of what was drawn."""

from typing import Any
from uuid import UUID

from django.http import HttpRequest
from ninja import Router

from caltin_site.journal import services
from caltin_site.journal.schemas import MarkIn, MarkOut, TakenOut
from caltin_site.ownership import mine
from caltin_site.studies.models import Study

router = Router(tags=["journal"])


@router.get("/studies/{id}/drawn", response=list[MarkOut])
def drawn(request: HttpRequest, id: UUID) -> Any:
    """The whole log, oldest first."""
    return mine(Study, request.user, id).drawn.order_by("made", "pk")


@router.post("/studies/{id}/drawn", response=TakenOut)
def mark(request: HttpRequest, id: UUID, body: MarkIn) -> TakenOut:
    """Add a mark. Sending it again changes nothing. Where something else lies there than was meant, the rest is solved again."""
    study = mine(Study, request.user, id)
    said = services.take(study, body)
    return TakenOut(revision=study.revision, said=said)


@router.post("/studies/{id}/go-on", response=TakenOut)
def go_on(request: HttpRequest, id: UUID) -> TakenOut:
    """Solve again whatever cannot go on as it is: what lies there is not what was meant, or a colour to come is not at hand."""
    study = mine(Study, request.user, id)
    said = services.go_on(study)
    return TakenOut(revision=study.revision, said=said)
