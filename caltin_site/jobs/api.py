"""Endpoints for long work."""

from typing import Any, Literal
from uuid import UUID

from django.http import HttpRequest
from ninja import Router, Schema, Status
from pydantic import Field

from caltin_site.cards.pages import PageAsked
from caltin_site.cards.services import CardAsked
from caltin_site.jobs import services
from caltin_site.jobs.models import Job
from caltin_site.journal.keeping import measured
from caltin_site.kits.models import Kit, Paper
from caltin_site.ownership import mine
from caltin_site.shapes import Strict
from caltin_site.studies.models import Study
from caltin_site.studies.recipe_schemas import StripAsked
from caltin_site.studies.strips import told

router = Router(tags=["jobs"])


class JobAsked(Strict):
    """Work to begin."""

    kind: Literal["match", "beside", "card", "page"]
    page: PageAsked | None = None
    card: CardAsked | None = None
    school: str = Field(default="", max_length=60)

    def asked(self) -> dict[str, Any]:
        """What the work is asked beside its study."""
        if self.kind == "beside":
            return {"school": self.school}
        given = {"page": self.page, "card": self.card}.get(self.kind)
        return given.model_dump() if given else {}


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


class StripOut(Schema):
    """How a strip differs from what was predicted, and the work of learning from it."""

    words: str
    job: JobOut


@router.post("/studies/{id}/jobs", response={202: JobOut})
def begin(request: HttpRequest, id: UUID, body: JobAsked) -> Any:
    """Begin work for a study; it supersedes unfinished work of its kind."""
    return Status(202, services.begin(mine(Study, request.user, id), body.kind, body.asked()))


@router.post("/studies/{id}/strips", response={202: StripOut})
def strip(request: HttpRequest, id: UUID, body: StripAsked) -> Any:
    """Learn from a scrap strip: how it differs from the prediction is told at once, the recipe is refitted as work."""
    study = mine(Study, request.user, id)
    words = told(study, body)
    return Status(202, {"words": words, "job": services.begin(study, "strip", body.model_dump(mode="json"))})


@router.post("/studies/{id}/learn", response={202: JobOut})
def learn(request: HttpRequest, id: UUID) -> Any:
    """Learn from what the places of a drawing came out as: kit, paper and hand are calibrated by them."""
    study = mine(Study, request.user, id)
    return Status(202, services.begin(study, "drawing", {"places": measured(study)}))


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
