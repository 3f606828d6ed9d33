"""The linear history of a study: changes, undo, redo, and the late writer."""

import uuid
from collections.abc import Callable, Iterable
from typing import Any

from django.db import transaction
from django.db.models import F, Max
from pydantic import TypeAdapter

from caltin_core.errors import BadRequest
from caltin_site.ownership import mine
from caltin_site.problems import Late
from caltin_site.references.models import Picture
from caltin_site.studies.models import Change, Study
from caltin_site.studies.state import Place, State

_PLACES = TypeAdapter(list[Place])


def state_of(study: Study) -> State:
    """The state in force."""
    return State.model_validate(study.changes.get(number=study.head).state)


def places_of(studies: Iterable[Study]) -> dict[uuid.UUID, list[Place]]:
    """Only the places of each study's state in force, in one look; what the shelf shows of them."""
    heads = Change.objects.filter(study__in=list(studies), number=F("study__head"))
    return {study: _PLACES.validate_python(places) for study, places in heads.values_list("study_id", "state__places")}


def notes_of(studies: Iterable[Study]) -> dict[uuid.UUID, str]:
    """Only each study's note in force."""
    heads = Change.objects.filter(study__in=list(studies), number=F("study__head"))
    return {study: note or "" for study, note in heads.values_list("study_id", "state__note")}


def begin(study: Study, state: State) -> None:
    """Store a new study with its first state."""
    with transaction.atomic():
        _pin(study, state)
        study.save(force_insert=True)
        study.refresh_from_db()
        _append(study, state, "began the study")


def write(owner: Any, id: uuid.UUID, seen: int, change: Callable[[Study, State], tuple[State, str]]) -> Study:
    """Append what `change` makes of the state; whatever had been undone is given up.

    Raises Late when `seen` is not the revision in force: nothing is written, and what came since is told.
    """
    with transaction.atomic():
        study = _fresh(owner, id, seen)
        state, label = change(study, state_of(study))
        study.changes.filter(number__gt=study.head).delete()
        _append(study, state, label)
    return study


def step(owner: Any, id: uuid.UUID, seen: int, by: int) -> Study:
    """Undo (by = -1) or redo (by = 1)."""
    with transaction.atomic():
        study = _fresh(owner, id, seen)
        there = study.changes.filter(number=study.head + by).first()
        if there is None:
            raise BadRequest("", "there is nothing to undo" if by < 0 else "there is nothing to redo")
        _in_force(study, there.number, State.model_validate(there.state))
    return study


def neighbours(study: Study) -> tuple[str, str]:
    """What undo would take back and redo bring again, as labels; empty where there is nothing."""
    labels = dict(study.changes.filter(number__in=(study.head, study.head + 1)).values_list("number", "label"))
    first = study.head == 1
    return "" if first else labels[study.head], labels.get(study.head + 1, "")


def _fresh(owner: Any, id: uuid.UUID, seen: int) -> Study:
    study = mine(Study, owner, id)
    if study.revision != seen:
        since = (
            study.changes.filter(made__gt=_when(study, seen)).order_by("number") if seen < study.revision else study.changes.none()
        )
        raise Late(study.revision, [c.label for c in since][-8:] or ["something was undone or redone"])
    return study


def _when(study: Study, seen: int) -> Any:
    """When the revision `seen` was in force: the newest change that came with it or before."""
    return study.changes.filter(revision__lte=seen).aggregate(at=Max("made"))["at"]


def _append(study: Study, state: State, label: str) -> None:
    number = study.head + 1
    Change.objects.create(
        study=study, owner_id=study.owner_id, number=number, revision=study.revision + 1, label=label[:200],
        state=state.model_dump(mode="json"),
    )  # fmt: skip
    _in_force(study, number, state)


def _in_force(study: Study, number: int, state: State) -> None:
    study.title, study.head = state.title, number
    _pin(study, state)
    study.revision = F("revision") + 1
    study.save()
    study.refresh_from_db()
    if study.picture_id:
        study.pictures.add(*Picture.objects.filter(pk=study.picture_id))


def _pin(study: Study, state: State) -> None:
    study.picture_id = state.picture
    study.kit_version_id, study.paper_version_id, study.hand_version_id = state.pins.kit, state.pins.paper, state.pins.hand
