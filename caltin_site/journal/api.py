"""Endpoints for the log of what was drawn, and for the journal that grows out of it."""

from typing import Any
from uuid import UUID

from django.http import HttpRequest
from ninja import Router, Status

from caltin_site.journal import keeping, services
from caltin_site.journal.schemas import EntryIn, FoundOut, JournalOut, MarkIn, MarkOut, TakenOut
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


@router.get("/studies/{id}/journal", response=JournalOut)
def journal(request: HttpRequest, id: UUID) -> JournalOut:
    """A study's journal: sittings as they were, and the look back."""
    return keeping.journal_out(mine(Study, request.user, id))


@router.post("/studies/{id}/entries", response={201: JournalOut})
def keep(request: HttpRequest, id: UUID, body: EntryIn) -> Any:
    """Keep a note, a photograph or what a place came out as. Sending it again changes nothing."""
    study = mine(Study, request.user, id)
    keeping.keep(study, body)
    return Status(201, keeping.journal_out(study))


@router.delete("/entries/{id}", response={204: None})
def take_out(request: HttpRequest, id: UUID) -> Any:
    """Take an entry out, with its photograph."""
    keeping.delete(request.user, id)
    return Status(204, None)


@router.get("/journal", response=list[FoundOut])
def search(request: HttpRequest, q: str = "") -> Any:
    """Where these words stand in the journals of all studies."""
    return keeping.search(request.user, q[:200])
