"""Endpoints for kits and papers."""

from typing import Any
from uuid import UUID

import numpy as np
from django.conf import settings
from django.http import HttpRequest, HttpResponse
from django.utils.http import content_disposition_header
from ninja import File, Form, Router, Status
from ninja.files import UploadedFile
from pydantic import ValidationError

from caltin_core.charts.reader import take_reading
from caltin_core.colour.spectra import DARKEST, LIGHTEST
from caltin_core.contract.faults import fault_of
from caltin_core.contract.shapes import Illuminant, Medium
from caltin_core.errors import BadRequest
from caltin_core.rack.entries import Format
from caltin_core.rack.exchange import MOST_BYTES
from caltin_site.kits import charts, services
from caltin_site.kits import rack as rack_of
from caltin_site.kits.chart_schemas import CellOut, ChartAsked, ChartKept, FurtherOut, GridOut, NewSheet, SwatchSheetOut
from caltin_site.kits.models import Kit, SwatchSheet
from caltin_site.kits.schemas import (
    CoverageOut,
    FileOut,
    KitChange,
    KitOut,
    NearOut,
    NewKit,
    NewPaper,
    PaperChange,
    PaperData,
    PaperOut,
    RackOut,
    RackTold,
    ReaderOut,
    ReadingOut,
    ReplacementOut,
    RowAsked,
    RowOut,
    StateAsked,
    ToneAsked,
    ToneTold,
)
from caltin_site.kits.tones import lab_asked, tone_told
from caltin_site.ownership import mine
from caltin_site.shapes import Lab, Tone

router = Router(tags=["kits"])


@router.get("/rack", response=RackOut)
def rack(request: HttpRequest) -> RackOut:
    """All kits, papers and hands."""
    return services.rack(request.user)


@router.post("/kits", response={201: KitOut})
def new_kit(request: HttpRequest, body: NewKit) -> Any:
    """Begin a kit."""
    return Status(201, services.kit_out(services.begin_kit(request.user, body.name, body.colours, spectra=body.spectra)))


@router.post("/kits/file", response=FileOut)
def look_at_file(request: HttpRequest, file: File[UploadedFile], medium: Medium = "wax_pencil") -> FileOut:
    """What a file of colours would become; nothing is kept."""
    if (file.size or 0) > MOST_BYTES:
        raise BadRequest("file", f"the file has {(file.size or 0) / 1e6:.0f} MB; up to {MOST_BYTES / 1e6:.0f} can be read")
    return rack_of.looked_at(file.read(), medium)


@router.post("/kits/file/row", response=RowOut)
def look_at_row(request: HttpRequest, body: RowAsked, medium: Medium = "wax_pencil") -> RowOut:
    """One row of a file again, after its cells were mended."""
    return rack_of.looked_at_again(body.number, body.cells, medium)


@router.get("/kits/{id}", response=KitOut)
def kit(request: HttpRequest, id: UUID) -> KitOut:
    """A kit in its newest version."""
    return services.kit_out(mine(Kit, request.user, id).newest)


@router.put("/kits/{id}", response=KitOut)
def change_kit(request: HttpRequest, id: UUID, body: KitChange) -> KitOut:
    """Write a kit's next version."""
    return services.kit_out(services.change_kit(request.user, id, body.seen, body.name, body.colours, body.spectra))


@router.put("/kits/{id}/states", response=KitOut)
def set_state(request: HttpRequest, id: UUID, body: StateAsked) -> KitOut:
    """Say how full a stick is now."""
    return services.kit_out(services.set_state(request.user, id, body.colour, body.state))


@router.get("/kits/{id}/told", response=RackTold)
def rack_told(request: HttpRequest, id: UUID) -> RackTold:
    """Orders, pairs to beware of, gaps."""
    return rack_of.told(mine(Kit, request.user, id).newest_bare.pk)


@router.post("/kits/{id}/near", response=list[NearOut])
def near(request: HttpRequest, id: UUID, body: Lab) -> list[NearOut]:
    """The kit's colours nearest a tone first."""
    return rack_of.near_tone(mine(Kit, request.user, id).newest_bare.pk, body)


@router.get("/kits/{id}/without/{colour}", response=ReplacementOut)
def without(request: HttpRequest, id: UUID, colour: str) -> ReplacementOut:
    """How to do without a colour."""
    return rack_of.without(request.user, id, colour)


@router.get("/kits/{id}/coverage", response=CoverageOut)
def coverage(request: HttpRequest, id: UUID, paper: UUID, hand: UUID) -> CoverageOut:
    """What complexions a kit serves on a paper in a hand."""
    return rack_of.covered(request.user, id, paper, hand)


@router.get("/kits/{id}/file/{format}")
def carry_out(request: HttpRequest, id: UUID, format: Format) -> HttpResponse:
    """The kit as a file."""
    name, content = rack_of.carried_out(request.user, id, format)
    kind = {"csv": "text/csv", "json": "application/json"}.get(format, "text/plain")
    ending = {"cgats": "txt"}.get(format, format)
    out = HttpResponse(content, content_type=f"{kind}; charset=utf-8")
    out["Content-Disposition"] = content_disposition_header(True, f"{name}.{ending}") or "attachment"
    return out


@router.get("/kits/{id}/sheets", response=list[SwatchSheetOut])
def sheets(request: HttpRequest, id: UUID) -> list[SwatchSheetOut]:
    """The kit's printed sheets."""
    return charts.sheets_of(request.user, id)


@router.post("/kits/{id}/sheets", response={201: SwatchSheetOut})
def new_sheet(request: HttpRequest, id: UUID, body: NewSheet) -> Any:
    """Lay out the sheet that teaches most."""
    made = charts.begin_sheet(request.user, id, body)
    return Status(201, charts.sheet_out(made))


@router.get("/sheets/{id}/page.pdf", include_in_schema=False)
def sheet_page(request: HttpRequest, id: UUID) -> HttpResponse:
    """A sheet's page."""
    sheet = mine(SwatchSheet, request.user, id)
    out = HttpResponse(charts.page_of(sheet), content_type="application/pdf")
    out["Content-Disposition"] = content_disposition_header(False, f"{sheet.title}.pdf") or "inline"
    return out


@router.post("/sheets/{id}/photo", response=SwatchSheetOut)
def sheet_photo(
    request: HttpRequest, id: UUID, photo: File[UploadedFile], again: File[UploadedFile | None] = None,
    light: Form[Illuminant] = "D50",
) -> SwatchSheetOut:  # fmt: skip
    """Read a photograph of a sheet, taken in a light; a darker one of it tells how much contrast the camera adds."""
    sheet, second = mine(SwatchSheet, request.user, id), _picture(again, "again") if again else None
    return charts.sheet_out(charts.read_photo(sheet, _picture(photo), light, second))


@router.post("/charts", response=list[CellOut])
def own_chart(request: HttpRequest, photo: File[UploadedFile], chart: Form[str]) -> list[CellOut]:
    """Read a chart the artist has; `chart` is a ChartAsked in JSON. Nothing is kept."""
    try:
        asked = ChartAsked.model_validate_json(chart)
    except ValidationError as fault:
        raise fault_of(fault) from None
    return charts.read_own_chart(request.user, asked, _picture(photo))


@router.post("/charts/found", response=GridOut)
def chart_found(request: HttpRequest, photo: File[UploadedFile]) -> GridOut:
    """Where a chart lies in its photograph. Nothing is kept."""
    return charts.found_chart(_picture(photo))


@router.post("/kits/{id}/charts", response=KitOut)
def keep_chart(request: HttpRequest, id: UUID, body: ChartKept) -> KitOut:
    """Take a chart of one's own into the kit: colours, and patches to calibrate by."""
    return services.kit_out(charts.keep_chart(request.user, id, body))


@router.get("/kits/{id}/further", response=FurtherOut)
def further(request: HttpRequest, id: UUID, paper: UUID) -> FurtherOut:
    """What further rows of swatches on a paper would improve."""
    return charts.further(request.user, id, paper)


@router.get("/reader", response=ReaderOut)
def reader(request: HttpRequest) -> ReaderOut:
    """Whether there is a colour reader."""
    return ReaderOut(there=bool(settings.CALTIN_READER))


@router.post("/reader", response=ReadingOut)
def read_with_reader(request: HttpRequest) -> ReadingOut:
    """Read the place that the colour reader lies on."""
    if not settings.CALTIN_READER:
        raise BadRequest("reader", "no colour reader is set up: give its address in CALTIN_READER")
    found = take_reading(settings.CALTIN_READER)
    bands = np.clip(found.reflectance, DARKEST, LIGHTEST)
    return ReadingOut(tone=Tone.of(found.lab), spectrum=[round(float(v), 5) for v in bands], spread=round(found.spread, 2))


def _picture(file: UploadedFile, where: str = "photo") -> bytes:
    if (file.size or 0) > settings.UPLOAD_MOST_BYTES:
        raise BadRequest(where, "the picture is larger than 120 MB")
    content: bytes = file.read()
    return content


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


@router.post("/tone", response=ToneTold)
def tone(request: HttpRequest, body: ToneAsked) -> ToneTold:
    """What a colour that was typed or set by eye is as a tone."""
    return tone_told(lab_asked(body))
