"""The one door to the log of what was drawn."""

import uuid
from typing import Any

from caltin_site.journal.models import Drawn
from caltin_site.studies.models import Study


def log(study: Study, client_id: uuid.UUID, kind: str, colour: str, words: str, tokens: list[str], owner: Any) -> None:
    """Add a mark; one that came before under the same client's id counts once."""
    Drawn.objects.get_or_create(
        study=study, client_id=client_id,
        defaults={"owner": owner, "kind": kind, "colour": colour, "words": words, "tokens": tokens},
    )  # fmt: skip


def done(study: Study) -> set[str]:
    """The layers that lie on the paper, by their tokens."""
    there: set[str] = set()
    for row in study.drawn.order_by("made", "pk"):
        if row.kind == "done":
            there |= set(row.tokens)
        else:
            there -= set(row.tokens)
    return there
