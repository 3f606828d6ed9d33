"""Endpoints for kits and papers."""

from typing import Any
from uuid import UUID

from django.http import HttpRequest
from ninja import Router, Status

from caltin_core.colour.spaces import lab_from_hex
from caltin_core.errors import BadRequest
from caltin_site.kits import services
from caltin_site.kits.models import Kit
from caltin_site.kits.schemas import KitChange, KitOut, NewKit, NewPaper, PaperChange, PaperData, PaperOut, RackOut, ToneAsked
from caltin_site.ownership import mine
from caltin_site.shapes import Tone

router = Router(tags=["kits"])


@router.get("/rack", response=RackOut)
def rack(request: HttpRequest) -> RackOut:
    """All kits, papers and hands."""
    return services.rack(request.user)


@router.post("/kits", response={201: KitOut})
def new_kit(request: HttpRequest, body: NewKit) -> Any:
    """Begin a kit."""
    return Status(201, services.kit_out(services.begin_kit(request.user, body.name, body.colours)))


@router.get("/kits/{id}", response=KitOut)
def kit(request: HttpRequest, id: UUID) -> KitOut:
    """A kit in its newest version."""
    return services.kit_out(mine(Kit, request.user, id).newest)


@router.put("/kits/{id}", response=KitOut)
def change_kit(request: HttpRequest, id: UUID, body: KitChange) -> KitOut:
    """Write a kit's next version."""
    return services.kit_out(services.change_kit(request.user, id, body.seen, body.name, body.colours))


@router.post("/papers", response={201: PaperOut})
def new_paper(request: HttpRequest, body: NewPaper) -> Any:
    """Add a paper."""
    data = PaperData(tone=body.tone, tooth=body.tooth)
    return Status(201, services.paper_out(services.begin_paper(request.user, body.name, data)))


@router.put("/papers/{id}", response=PaperOut)
def change_paper(request: HttpRequest, id: UUID, body: PaperChange) -> PaperOut:
    """Write a paper's next version."""
    data = PaperData(tone=body.tone, tooth=body.tooth)
    return services.paper_out(services.change_paper(request.user, id, body.seen, body.name, data))


@router.post("/tone", response=Tone)
def tone(request: HttpRequest, body: ToneAsked) -> Tone:
    """What a typed hex is as a tone."""
    try:
        return Tone.of(lab_from_hex(body.hex))
    except ValueError as fault:
        raise BadRequest("hex", str(fault)) from None
