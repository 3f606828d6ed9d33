"""A study that comes from a file."""

from typing import Any

from caltin_site.kits import services as kits
from caltin_site.references.models import Picture
from caltin_site.studies import history
from caltin_site.studies import services as studies
from caltin_site.studies.models import Study
from caltin_site.studies.state import Pins, State


def begun(owner: Any, state: State, pins: dict[str, Any], picture: Picture | None = None) -> Study:
    """A new study in this state, with versions of a kit, a paper and a hand. Raises BadRequest where its recipes name colours that
    the kit has not."""
    mine = {"pins": Pins(**{kind: version.pk for kind, version in pins.items()}), "picture": picture.pk if picture else None}
    pinned = state.model_copy(update=mine)
    study = Study(owner=owner, title=state.title)
    studies.known_colours(kits.bench(owner, *(pins[k].pk for k in ("kit", "paper", "hand"))), pinned)
    history.begin(study, pinned)
    return study
