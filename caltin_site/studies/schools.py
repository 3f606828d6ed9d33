"""Schools, those that come with Caltin and the artist's own; and a study seen under another one."""

import uuid
from typing import Any

from django.db import IntegrityError, transaction

from caltin_core.errors import BadRequest
from caltin_core.media.hand import PRESSURES
from caltin_core.recipes.school_list import SCHOOLS
from caltin_core.recipes.schools import FAMILIES, ZONES, School
from caltin_site.ownership import mine
from caltin_site.studies import history
from caltin_site.studies.models import OwnSchool, Study
from caltin_site.studies.recipe_schemas import SchoolOut, SchoolsOut
from caltin_site.studies.state import SchoolState, StageState, State


def schools_out(owner: Any) -> SchoolsOut:
    """All schools an artist may choose."""
    given = [_out(s, _state(s)) for s in SCHOOLS.values()]
    own = [own_out(row) for row in OwnSchool.objects.of(owner).order_by("name")]
    return SchoolsOut(schools=[*given, *own], families=list(FAMILIES), pressures=list(PRESSURES), zones=list(ZONES))


def own_out(row: OwnSchool) -> SchoolOut:
    """One of the artist's own."""
    state = SchoolState.model_validate(row.data)
    return _out(state.school(), state).model_copy(update={"id": row.pk, "slug": str(row.pk)})


def _state(school: School) -> SchoolState:
    stages = [
        StageState(families=list(s.families), pressures=list(s.pressures), most=s.most, zones=list(s.zones), wanted=list(s.wanted))
        for s in school.stages
    ]
    return SchoolState(
        name=school.name, medium=school.medium, good_for=school.good_for, danger=school.danger, stages=stages  # type: ignore[arg-type]
    )  # fmt: skip


def _out(school: School, state: SchoolState) -> SchoolOut:
    return SchoolOut(
        slug=school.slug, name=school.name, medium=school.medium, good_for=school.good_for, danger=school.danger,
        order=[stage.words() for stage in school.stages], school=state,
    )  # fmt: skip


def save_school(owner: Any, asked: SchoolState, id: uuid.UUID | None = None) -> OwnSchool:
    """Save a school of one's own, a new one or a change. Raises BadRequest where another has its name."""
    if any(s.name.casefold() == asked.name.casefold() for s in SCHOOLS.values()):
        raise BadRequest("name", "a school that comes with Caltin has this name; give yours another")
    row = mine(OwnSchool, owner, id) if id else OwnSchool(owner=owner)
    row.name, row.data = asked.name, asked.model_dump(mode="json")
    try:
        with transaction.atomic():
            row.save()
    except IntegrityError:
        raise BadRequest("name", "another school of yours has this name") from None
    return row


def under_school(study: Study, ref: str) -> State:
    """The study's state as it would be under another school, a slug or the id of one's own, with nothing chosen yet."""
    state = history.state_of(study)
    if ref in SCHOOLS or ref == "":
        rules = state.rules.model_copy(update={"school": ref, "own": None})
    else:
        try:
            row = mine(OwnSchool, study.owner, uuid.UUID(ref))
        except ValueError:
            raise BadRequest("school", f"there is no school “{ref}”") from None
        rules = state.rules.model_copy(update={"school": "", "own": SchoolState.model_validate(row.data)})
    return state.model_copy(update={"rules": rules, "recipes": {}, "order": []})
