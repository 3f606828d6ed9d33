"""Endpoints for studies."""

from typing import Annotated, Any
from uuid import UUID

import numpy as np
from django.http import HttpRequest, HttpResponse
from ninja import Query, Router, Schema, Status

from caltin_core.contract.shapes import Illuminant
from caltin_core.media.lights import LIGHTS, USUAL
from caltin_core.media.usual_sheets import USUAL_SHEETS
from caltin_core.recipes.coverage import complexions
from caltin_core.recipes.faults import COMPLAINTS
from caltin_core.reference.develop import USUAL_LIGHTS
from caltin_core.reference.edges import EdgeKind
from caltin_core.reference.picture import write_jpeg
from caltin_core.reference.roles import ROLES
from caltin_core.reference.sheet import SHEETS
from caltin_core.skin.planned import THINGS
from caltin_site.ownership import mine
from caltin_site.references.api import ReadOut
from caltin_site.shapes import Lab, Tone
from caltin_site.studies import curing, history, planned, reading, services, unused
from caltin_site.studies import schools as own
from caltin_site.studies.models import OwnSchool, Study
from caltin_site.studies.reading_schemas import ApartOut, AreasOut, OverviewOut, PlaceAsked, SightOut, SpanAsked, SpanOut, View
from caltin_site.studies.recipe_schemas import (
    CrossingOut,
    CureAsked,
    CuresOut,
    InLightOut,
    MatchesOut,
    PredictAsked,
    RampOut,
    RecipeOut,
    SchoolOut,
    SchoolsOut,
    UnderOut,
    WayOut,
)
from caltin_site.studies.schemas import ChangeAsked, GoesWith, NewStudy, PlannedOut, Seen, StudyCard, StudyOut
from caltin_site.studies.state import PlannedState, SchoolState

router = Router(tags=["studies"])


class RoleOut(Schema):
    """A role one can give a place."""

    slug: str
    name: str
    group: str
    line_tone: Lab


class UsualLight(Schema):
    """A light one usually meets."""

    kelvin: int
    name: str


class UsualSheet(Schema):
    """A sheet sold for drawing, in millimetres."""

    name: str
    width: float
    height: float


class ViewingLight(Schema):
    """A light a drawing is looked at in."""

    illuminant: Illuminant
    name: str


class UsualComplexion(Schema):
    """A complexion in plain light, by its undertone."""

    undertone: str
    tone: Tone


class UsualThing(Schema):
    """A thing beside a sitter that throws light back."""

    name: str
    tone: Lab


class UsualPaper(Schema):
    """A sheet's usual tone."""

    name: str
    tone: Tone


class UsualOut(Schema):
    """What an artist mostly chooses from; anything between may be typed. Complexions come the lightest first, within a depth from
    ruddy to olive; `planned` is a light to begin planning with."""

    complexions: list[UsualComplexion]
    things: list[UsualThing]
    planned: PlannedState
    lights: list[UsualLight]
    viewing: list[ViewingLight]
    sheets: list[UsualSheet]
    papers: list[UsualPaper]
    complaints: list[str]


@router.get("/roles", response=list[RoleOut])
def roles(request: HttpRequest) -> Any:
    """The roles, in the order an artist goes through them."""
    return [RoleOut(slug=r.slug, name=r.name, group=r.group, line_tone=Lab.of(np.array(r.line_tone))) for r in ROLES]


@router.get("/usual", response=UsualOut)
def usual(request: HttpRequest) -> Any:
    """Usual lights, of the sitter and of the finished drawing, and sheets."""
    return UsualOut(
        lights=[UsualLight(kelvin=k, name=name) for k, name in USUAL_LIGHTS],
        viewing=[ViewingLight.model_validate({"illuminant": light, "name": LIGHTS[light]}) for light in USUAL],
        sheets=[UsualSheet(name=name, width=w, height=h) for name, w, h in SHEETS],
        papers=[UsualPaper(name=name, tone=Tone.of(np.array(lab))) for name, lab in USUAL_SHEETS.items()],
        complaints=list(COMPLAINTS),
        complexions=[UsualComplexion(undertone=name, tone=Tone.of(lab)) for name, lab in complexions()],
        planned=PlannedState(base=Lab.of(complexions()[len(complexions()) // 2][1])),
        things=[UsualThing(name=name, tone=Lab.of(np.array(lab))) for name, lab in THINGS.items()],
    )


@router.post("/planned-light", response=PlannedOut)
def planned_light(request: HttpRequest, body: PlannedState) -> PlannedOut:
    """What a planned light shows; nothing is kept."""
    return planned.planned_out(body)


@router.get("/schools", response=SchoolsOut)
def schools(request: HttpRequest) -> SchoolsOut:
    """All schools, one's own among them, and what their stages may name."""
    return own.schools_out(request.user)


@router.post("/schools", response={201: SchoolOut})
def new_school(request: HttpRequest, body: SchoolState) -> Any:
    """Save a school of one's own."""
    return Status(201, own.own_out(own.save_school(request.user, body)))


@router.put("/schools/{id}", response=SchoolOut)
def change_school(request: HttpRequest, id: UUID, body: SchoolState) -> SchoolOut:
    """Change a school of one's own; studies keep it as it was when they chose it."""
    return own.own_out(own.save_school(request.user, body, id))


@router.delete("/schools/{id}", response={204: None})
def delete_school(request: HttpRequest, id: UUID) -> Any:
    """Delete a school of one's own; studies that chose it keep it."""
    mine(OwnSchool, request.user, id).delete()
    return Status(204, None)


@router.get("/studies", response=list[StudyCard])
def shelf(request: HttpRequest) -> Any:
    """All studies, the last touched first."""
    return services.shelf(request.user)


@router.post("/studies", response={201: StudyOut})
def begin(request: HttpRequest, body: NewStudy) -> Any:
    """Begin a study."""
    return Status(201, services.study_out(services.begin(request.user, body)))


@router.get("/kits/{id}/goes-with", response=GoesWith)
def goes_with(request: HttpRequest, id: UUID, paper: UUID | None = None) -> GoesWith:
    """The paper and the hand that go with a kit; the hand alone where the paper is said."""
    return services.goes_with(request.user, id, paper)


@router.post("/kits/{id}/throw-away", response={204: None})
def throw_away_kit(request: HttpRequest, id: UUID) -> Any:
    """Really delete a kit that nothing was made with."""
    unused.throw_away_kit(request.user, id)
    return Status(204, None)


@router.post("/papers/{id}/throw-away", response={204: None})
def throw_away_paper(request: HttpRequest, id: UUID) -> Any:
    """Really delete a paper that nothing was made with."""
    unused.throw_away_paper(request.user, id)
    return Status(204, None)


@router.get("/studies/{id}", response=StudyOut)
def study(request: HttpRequest, id: UUID) -> StudyOut:
    """A study in force."""
    return services.study_out(mine(Study, request.user, id))


@router.post("/studies/{id}/copy", response={201: StudyOut})
def copy(request: HttpRequest, id: UUID) -> Any:
    """Another study of the same picture, as this one stands."""
    return Status(201, services.study_out(services.copy(request.user, id)))


@router.delete("/studies/{id}", response={204: None})
def delete(request: HttpRequest, id: UUID) -> Any:
    """Really delete a study and all that belongs to it."""
    services.delete(request.user, id)
    return Status(204, None)


@router.post("/studies/{id}/changes", response=StudyOut)
def change(request: HttpRequest, id: UUID, body: ChangeAsked) -> StudyOut:
    """Write one change; 409 when the revision seen is not the one in force."""
    return services.study_out(services.change(request.user, id, body.seen, body.op))


@router.post("/studies/{id}/undo", response=StudyOut)
def undo(request: HttpRequest, id: UUID, body: Seen) -> StudyOut:
    """Take the last change back."""
    return services.study_out(history.step(request.user, id, body.seen, -1))


@router.post("/studies/{id}/redo", response=StudyOut)
def redo(request: HttpRequest, id: UUID, body: Seen) -> StudyOut:
    """Bring a change back again."""
    return services.study_out(history.step(request.user, id, body.seen, 1))


@router.get("/studies/{id}/matches", response=MatchesOut)
def matches(request: HttpRequest, id: UUID) -> Any:
    """What is known of every place's recipes; start a match job for those missing."""
    return services.matches_out(mine(Study, request.user, id))


@router.get("/studies/{id}/light/{illuminant}", response=InLightOut)
def light(request: HttpRequest, id: UUID, illuminant: Illuminant) -> InLightOut:
    """Every place's recipe in another light."""
    return services.in_light(mine(Study, request.user, id), illuminant)


@router.post("/studies/{id}/predict", response=RecipeOut)
def predict(request: HttpRequest, id: UUID, body: PredictAsked) -> Any:
    """Predict layers for a place, without storing anything."""
    return services.predicted(services.aim(mine(Study, request.user, id)), body.place, body.layers, "own")


@router.get("/studies/{id}/matches/{school}", response=MatchesOut)
def beside(request: HttpRequest, id: UUID, school: str) -> Any:
    """What is known of every place's recipes as another school would have them."""
    study = mine(Study, request.user, id)
    return services.matches_out(study, own.under_school(study, school))


@router.get("/studies/{id}/ways", response=list[WayOut])
def ways(request: HttpRequest, id: UUID, place: str) -> list[WayOut]:
    """Ways to a place's tone that differ in kind."""
    return curing.ways_out(mine(Study, request.user, id), place)


@router.get("/studies/{id}/edges", response=list[CrossingOut])
def edges(request: HttpRequest, id: UUID, place: str, to: str = "", kind: EdgeKind | None = None) -> list[CrossingOut]:
    """How the edges of a place are drawn."""
    return curing.crossings_out(mine(Study, request.user, id), place, to, kind)


@router.get("/studies/{id}/under", response=list[UnderOut])
def under(request: HttpRequest, id: UUID, place: str) -> list[UnderOut]:
    """The under-colour chart of a place."""
    return curing.under_out(mine(Study, request.user, id), place)


@router.get("/studies/{id}/ramp", response=RampOut)
def ramp(request: HttpRequest, id: UUID, place: str, to: str, between: Annotated[int, Query(ge=1, le=6)] = 3) -> RampOut:
    """Recipes in even steps between two places."""
    return curing.ramp_out(mine(Study, request.user, id), place, to, between)


@router.post("/studies/{id}/cure", response=CuresOut)
def cure(request: HttpRequest, id: UUID, body: CureAsked) -> CuresOut:
    """Find cures for a place that has gone wrong, without storing anything."""
    return curing.cures_out(mine(Study, request.user, id), body)


@router.get("/studies/{id}/overview", response=OverviewOut)
def overview(request: HttpRequest, id: UUID) -> OverviewOut:
    """What is read of the picture as a whole: values, complexion, lights, cast."""
    return reading.overview_out(mine(Study, request.user, id))


@router.get("/studies/{id}/views/{key}/{view}.jpg", include_in_schema=False)
def view_file(
    request: HttpRequest, id: UUID, key: str, view: str, steps: int | None = None, value: float | None = None
) -> HttpResponse:
    """The picture in one way of seeing; `key` is the study's `look`, so that it can be kept."""
    sight = reading.sight_of(mine(Study, request.user, id), view, steps, value)
    response = HttpResponse(write_jpeg(sight.pixels, quality=88), content_type="image/jpeg")
    response.headers["Cache-Control"] = "private, max-age=3600"
    return response


@router.get("/studies/{id}/views/{view}", response=SightOut)
def view_words(request: HttpRequest, id: UUID, view: View, steps: int | None = None, value: float | None = None) -> Any:
    """What that way of seeing says."""
    return reading.sight_out(view, reading.sight_of(mine(Study, request.user, id), view, steps, value))


@router.get("/maps/{id}.png", include_in_schema=False)
def map_file(request: HttpRequest, id: UUID) -> HttpResponse:
    """A map of areas, one byte a pixel."""
    response = HttpResponse(reading.map_png(request.user, id), content_type="image/png")
    response.headers["Cache-Control"] = "private, max-age=31536000, immutable"
    return response


@router.get("/studies/{id}/areas", response=AreasOut)
def areas(request: HttpRequest, id: UUID) -> AreasOut:
    """Zones, their neighbours and edges."""
    return reading.areas_out(mine(Study, request.user, id))


@router.post("/studies/{id}/read", response=ReadOut)
def read(request: HttpRequest, id: UUID, body: PlaceAsked) -> ReadOut:
    """Read the tone of a disc, as the study develops its picture."""
    return reading.read_place(mine(Study, request.user, id), body)


@router.post("/studies/{id}/span", response=SpanOut)
def span(request: HttpRequest, id: UUID, body: SpanAsked) -> SpanOut:
    """Measure between two places, on the paper."""
    return reading.span_out(mine(Study, request.user, id), body)


@router.get("/studies/{id}/against/{other}", response={200: ApartOut, 204: None})
def against(request: HttpRequest, id: UUID, other: UUID) -> Any:
    """How another study's complexion differs from this one's."""
    found = reading.compared(mine(Study, request.user, id), mine(Study, request.user, other))
    return found if found is not None else Status(204, None)
