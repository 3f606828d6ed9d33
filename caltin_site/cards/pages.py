"""A printed page at true size: the picture, its values, outlines or a pale drawing, with the grid over it."""

from collections.abc import Iterator
from pathlib import Path
from typing import Any, Literal

from django.conf import settings

from caltin_core.errors import BadRequest
from caltin_core.reference.develop import shown
from caltin_core.reference.print_page import DOTS_PER_MM, Over, drawn, pages
from caltin_site.references import looking
from caltin_site.shapes import Strict
from caltin_site.studies import history
from caltin_site.studies.found import look_of
from caltin_site.studies.models import Study
from caltin_site.studies.services import margin_of

LONGEST = 2400


class PageAsked(Strict):
    """What to print, on which pages."""

    kind: Literal["picture", "values", "outline", "pale", "grid"] = "grid"
    page: Literal["A4", "letter"] = "A4"
    mirrored: bool = False


def path_of(study: Study) -> Path:
    """Where the page last made lies."""
    return Path(settings.CARDS) / f"{study.pk}-page.pdf"


def draw_page(study: Study, asked: dict[str, Any]) -> Iterator[tuple[int, int]]:
    """Make the page; tells how far it is."""
    wanted = PageAsked.model_validate(asked)
    if study.picture is None:
        raise BadRequest("page", "this study has no picture to print")
    yield 0, 3
    state = history.state_of(study)
    look = look_of(study.picture, state)
    lab = looking.lab_of(look, LONGEST)
    yield 1, 3
    aspect = look.frame.height / look.frame.width
    over = Over(state.sheet.grid, state.sheet.diagonals, state.sheet.cross, state.sheet.eye_line)
    image = drawn(wanted.kind, shown(lab), lab)
    made = pages(image, aspect, state.sheet.placement(aspect, margin_of(study.picture)), over, wanted.page, wanted.mirrored)
    yield 2, 3
    path = path_of(study)
    path.parent.mkdir(parents=True, exist_ok=True)
    made[0].save(path, "PDF", resolution=25.4 * DOTS_PER_MM, save_all=True, append_images=made[1:], title=study.title)
    yield 3, 3
