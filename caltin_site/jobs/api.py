"""Endpoints for long work."""

from typing import Any, Literal
from uuid import UUID

from django.http import HttpRequest
from ninja import Router, Schema, Status

from caltin_site.cards.pages import PageAsked
from caltin_site.jobs import services
from caltin_site.jobs.models import Job
from caltin_site.kits.models import Kit, Paper
from caltin_site.ownership import mine
from caltin_site.shapes import Strict
from caltin_site.studies.models import Study

router = Router(tags=["jobs"])


class JobAsked(Strict):
    """Work to begin."""

    kind: Literal["match", "card", "page"]
    page: PageAsked | None = None


class CalibrateAsked(Strict):
    """On which paper."""

    paper: UUID


class JobOut(Schema):
    """How far a piece of work is."""

    id: UUID
    kind: str
    state: str
    done: int
    of: int
    says: str


@router.post("/studies/{id}/jobs", response={202: JobOut})
def begin(request: HttpRequest, id: UUID, body: JobAsked) -> Any:
    """Begin work for a study; it supersedes unfinished work of its kind."""
    return Status(202, services.begin(mine(Study, request.user, id), body.kind, body.page.model_dump() if body.page else None))


@router.post("/kits/{id}/jobs", response={202: JobOut})
def calibrate(request: HttpRequest, id: UUID, body: CalibrateAsked) -> Any:
    """Calibrate a kit, its paper and the hand by all that was read on that paper; it supersedes unfinished work."""
    kit, paper = mine(Kit, request.user, id), mine(Paper, request.user, body.paper)
    return Status(202, services.begin(kit, "calibrate", {"paper": str(paper.pk)}))


@router.get("/jobs/{id}", response=JobOut)
def job(request: HttpRequest, id: UUID) -> Job:
    """How far it is."""
    return mine(Job, request.user, id)


@router.post("/jobs/{id}/stop", response=JobOut)
def stop(request: HttpRequest, id: UUID) -> Job:
    """Stop it."""
    services.stop(mine(Job, request.user, id))
    return mine(Job, request.user, id)
