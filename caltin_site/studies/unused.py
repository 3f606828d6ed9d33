"""Kits and papers that nothing was made with: those may be thrown away."""

import uuid
from contextlib import suppress
from typing import Any, Literal

from django.db import transaction
from django.db.models import ProtectedError

from caltin_core.errors import BadRequest
from caltin_site.kits.models import Hand, Kit, Paper, SwatchSheet
from caltin_site.ownership import mine
from caltin_site.studies.models import Change

# So many studies are named; more are only counted.
_NAMED = 3


def throw_away_kit(owner: Any, id: uuid.UUID) -> None:
    """Really delete a kit, its sheets, and the hands measured with it that nothing else was made with.

    Raises BadRequest where a study or the library was made with it.
    """
    with transaction.atomic():
        kit = mine(Kit, owner, id)
        hands = list(kit.hands.all())
        _delete("kit", kit)
        for hand in hands:
            if not _studies("hand", hand):
                # Another kit's recipe in the library may keep it.
                with suppress(ProtectedError):
                    hand.delete()


def throw_away_paper(owner: Any, id: uuid.UUID) -> None:
    """Really delete a paper. Raises BadRequest where a study or the library was made with it, or swatches were read on it."""
    with transaction.atomic():
        paper = mine(Paper, owner, id)
        read = SwatchSheet.objects.of(owner).filter(paper=paper, read__isnull=False).first()
        if read is not None:
            raise BadRequest("paper", f"{read.kit.name} was measured on {paper.name}: it stays as long as that kit")
        _delete("paper", paper)


def _delete(kind: Literal["kit", "paper"], thing: Kit | Paper) -> None:
    """Delete it where nothing was made with it."""
    titles = _studies(kind, thing)
    if titles:
        more = f" and {len(titles) - _NAMED} more" if len(titles) > _NAMED else ""
        raise BadRequest(
            kind, f"{thing.name} is planned with in {', '.join(titles[:_NAMED])}{more}: delete what you no longer need first"
        )
    try:
        thing.delete()
    except ProtectedError:
        raise BadRequest(kind, f"recipes in the library were made with {thing.name}: take those out first") from None


def _studies(kind: Literal["kit", "paper", "hand"], thing: Kit | Paper | Hand) -> list[str]:
    """The titles of the studies made with it, now or at a step that undo or redo brings back."""
    versions = [str(v) for v in thing.versions.values_list("pk", flat=True)]
    found = Change.objects.of(thing.owner).filter(**{f"state__pins__{kind}__in": versions})
    return sorted(set(found.values_list("study__title", flat=True)))
