"""Endpoints for pictures."""

from typing import Any, Literal
from uuid import UUID

from django.http import FileResponse, HttpRequest, HttpResponse
from ninja import File, Router, Schema, Status
from ninja.files import UploadedFile

from caltin_site.ownership import mine
from caltin_site.references import services
from caltin_site.references.models import Picture
from caltin_site.shapes import JSON, Tone

router = Router(tags=["references"])


class PictureOut(Schema):
    """A picture's size and what was read of it as a whole."""

    id: UUID
    name: str
    width: int
    height: int
    reading: JSON


class ReadOut(Schema):
    """The tone of a disc, in numbers and words."""

    tone: Tone
    words: str
    against_words: str
    undertone: str
    spread: float
    evenness: str


def evenness(spread: float) -> str:
    """How even a disc is, in words; common practice."""
    return next(word for bound, word in ((1.5, "even"), (3.5, "nearly even"), (7, "mixed"), (1e9, "very mixed")) if spread <= bound)


@router.post("/pictures", response={201: PictureOut})
def upload(request: HttpRequest, picture: File[UploadedFile]) -> Any:
    """Take a picture in."""
    return Status(201, services.take_in(request.user, picture.name or "", picture.read()))


@router.get("/pictures/{id}", response=PictureOut)
def picture(request: HttpRequest, id: UUID) -> Picture:
    """A picture's size and reading."""
    return mine(Picture, request.user, id)


@router.delete("/pictures/{id}", response={204: None})
def delete(request: HttpRequest, id: UUID) -> Any:
    """Delete a picture that no study uses."""
    services.delete_unused(mine(Picture, request.user, id))
    return Status(204, None)


@router.get("/pictures/{id}/{size}.jpg", include_in_schema=False)
def file(request: HttpRequest, id: UUID, size: Literal["view", "thumbnail"]) -> HttpResponse:
    """The picture itself, to its owner only."""
    response = FileResponse(services.file_of(request.user, id, size).open("rb"), content_type="image/jpeg")
    response.headers["Cache-Control"] = "private, max-age=31536000, immutable"
    return response  # type: ignore[return-value]
