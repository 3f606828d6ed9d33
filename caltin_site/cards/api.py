"""Endpoints for what one takes along, and reads back."""

from pathlib import Path
from typing import Any
from uuid import UUID

from django.conf import settings
from django.http import FileResponse, Http404, HttpRequest, HttpResponse
from django.utils.text import slugify
from ninja import File, Query, Router, Status
from ninja.files import UploadedFile

from caltin_core.errors import BadRequest
from caltin_site.cards import pages, services, study_csv, study_json
from caltin_site.ownership import mine
from caltin_site.studies.models import Study
from caltin_site.studies.schemas import StudyOut
from caltin_site.studies.services import study_out

router = Router(tags=["cards"])


def _named(response: Any, study: Study, ending: str) -> HttpResponse:
    name = slugify(study.title) or "study"
    response.headers["Content-Disposition"] = f'attachment; filename="{name}.{ending}"'
    return response


@router.get("/studies/{id}/card.pdf", include_in_schema=False)
def card(request: HttpRequest, id: UUID, asked: Query[services.CardAsked]) -> HttpResponse:
    """A card of the present revision, once its job is done."""
    study = mine(Study, request.user, id)
    path = _made(study, asked)
    return _named(FileResponse(path.open("rb"), content_type="application/pdf"), study, f"{asked.kind}.pdf")


@router.get("/studies/{id}/card.png", include_in_schema=False)
def card_picture(request: HttpRequest, id: UUID, asked: Query[services.CardAsked], n: int = 1) -> HttpResponse:
    """A page of it as a picture."""
    study = mine(Study, request.user, id)
    content = services.picture_of_page(_made(study, asked), n)
    return _named(HttpResponse(content, content_type="image/png"), study, f"{asked.kind}-{n}.png")


def _made(study: Study, asked: services.CardAsked) -> Path:
    path = services.path_of(study, asked)
    if not path.exists():
        raise Http404
    return path


@router.get("/studies/{id}/palette.gpl", include_in_schema=False)
def palette(request: HttpRequest, id: UUID) -> HttpResponse:
    """The colours of its recipes as a palette."""
    study = mine(Study, request.user, id)
    return _named(HttpResponse(study_json.to_gpl(study), content_type="text/plain; charset=utf-8"), study, "gpl")


@router.get("/studies/{id}/page.pdf", include_in_schema=False)
def page(request: HttpRequest, id: UUID) -> HttpResponse:
    """The printed page last made, once its job is done."""
    study = mine(Study, request.user, id)
    path = pages.path_of(study)
    if not path.exists():
        raise Http404
    return _named(FileResponse(path.open("rb"), content_type="application/pdf"), study, "page.pdf")


@router.get("/studies/{id}/study.json", include_in_schema=False)
def as_json(request: HttpRequest, id: UUID) -> HttpResponse:
    """The study as JSON."""
    study = mine(Study, request.user, id)
    return _named(HttpResponse(study_json.to_json(study), content_type="application/json"), study, "json")


@router.get("/studies/{id}/recipes.csv", include_in_schema=False)
def as_csv(request: HttpRequest, id: UUID) -> HttpResponse:
    """Its places and recipes as CSV."""
    study = mine(Study, request.user, id)
    return _named(HttpResponse(study_csv.to_csv(study), content_type="text/csv; charset=utf-8"), study, "csv")


@router.post("/read-back", response={201: StudyOut})
def read_back(request: HttpRequest, file: File[UploadedFile]) -> Any:
    """A new study from a file that Caltin wrote."""
    if (file.size or 0) > settings.UPLOAD_MOST_BYTES:
        raise BadRequest("file", "the file is larger than 120 MB")
    name, content = Path(file.name or "study"), file.read()
    study = (
        study_csv.from_csv(request.user, name.stem, content)
        if name.suffix.lower() == ".csv"
        else study_json.from_json(request.user, content)
    )
    return Status(201, study_out(study))
