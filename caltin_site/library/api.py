"""Endpoints for the library."""

from typing import Any
from uuid import UUID

from django.http import HttpRequest
from ninja import Query, Router, Status

from caltin_site.library import services
from caltin_site.library.models import Keepsake
from caltin_site.library.schemas import CarriedOut, CarryAsked, FromLibrary, KeepAsked, KeptOut, LibraryAsked, NameAsked, VersionOut
from caltin_site.ownership import mine
from caltin_site.studies.models import Study
from caltin_site.studies.schemas import StudyOut
from caltin_site.studies.services import study_out

router = Router(tags=["library"])


@router.get("/library", response=list[KeptOut])
def library(request: HttpRequest, asked: Query[LibraryAsked]) -> Any:
    """What is kept: near a tone, of a role, a medium, a class of ITA°, with these words."""
    return services.found(request.user, asked)


@router.post("/studies/{id}/library", response={201: KeptOut})
def keep(request: HttpRequest, id: UUID, body: KeepAsked) -> Any:
    """Keep recipes of a study, under a name or as the next version of something kept."""
    return Status(201, services.kept_out(services.keep(mine(Study, request.user, id), body)))


@router.post("/studies/{id}/from-library", response=StudyOut)
def take(request: HttpRequest, id: UUID, seen: int, body: FromLibrary) -> Any:
    """Take a kept recipe for a place."""
    return study_out(services.take(mine(Study, request.user, id), seen, body))


@router.get("/library/{id}/versions", response=list[VersionOut])
def versions(request: HttpRequest, id: UUID) -> Any:
    """Every version of something kept, newest first."""
    return services.versions_out(mine(Keepsake, request.user, id))


@router.put("/library/{id}", response=KeptOut)
def rename(request: HttpRequest, id: UUID, body: NameAsked) -> Any:
    """Another name and note."""
    return services.kept_out(services.rename(request.user, id, body.name, body.note))


@router.delete("/library/{id}", response={204: None})
def delete(request: HttpRequest, id: UUID) -> Any:
    """Take something out of the library for good."""
    services.delete(request.user, id)
    return Status(204, None)


@router.post("/library/{id}/carry", response=CarriedOut)
def carry(request: HttpRequest, id: UUID, body: CarryAsked) -> Any:
    """Something kept as it comes out with another kit, on another paper; what is lost is told."""
    return services.carry(request.user, id, body)


@router.post("/library/{id}/begin", response={201: StudyOut})
def begin(request: HttpRequest, id: UUID, body: CarryAsked) -> Any:
    """A study from tones with what was kept, carried there."""
    return Status(201, study_out(services.begin(request.user, id, body)))
