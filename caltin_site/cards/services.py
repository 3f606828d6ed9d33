"""The study's cards and sheets as PDF, and as pictures of their pages. The maker fetches nothing but what it is handed here."""

import io
import uuid
from collections.abc import Iterator
from pathlib import Path
from typing import Any, Literal

from django.conf import settings
from django.template.loader import render_to_string

from caltin_core.errors import BadRequest
from caltin_core.media.layers import Lay, Layer
from caltin_core.plan.safety import on_paper
from caltin_core.recipes.words import layer_words
from caltin_core.reference.roles import BASE
from caltin_site.plans import services as plans
from caltin_site.plans.schemas import PlanOut
from caltin_site.shapes import Strict, Tone
from caltin_site.studies import services as studies
from caltin_site.studies.curing import under_out
from caltin_site.studies.models import Study
from caltin_site.studies.state import PlaceId

_FONTS = {"serif": "newsreader-latin-wght-normal", "sans": "public-sans-latin-wght-normal"}
_UNDERS = 14
# Pictures of pages have so many pixels on their longer side.
_LONGEST = 1600


class CardAsked(Strict):
    """Which card or sheet, on which page; an under-colour chart is for one place, the base where none is named."""

    kind: Literal["card", "recipes", "plan", "under", "ledge"] = "card"
    page: Literal["A4", "letter", "A6"] = "A4"
    place: PlaceId | None = None


def path_of(study: Study, asked: CardAsked) -> Path:
    """Where a card of the study's present revision and log lies."""
    marks = study.drawn.count()
    return Path(settings.CARDS) / f"{study.pk}-{study.revision}-{marks}-{asked.kind}-{asked.page}-{asked.place or ''}.pdf"


def delete_all(study_id: uuid.UUID, but: str = "") -> None:
    """Delete every card of a study, but not its printed page, nor those whose names begin with `but`."""
    for path in Path(settings.CARDS).glob(f"{study_id}-*.pdf"):
        if not path.stem.endswith("-page") and not (but and path.name.startswith(but)):
            path.unlink(missing_ok=True)


def draw_card(study: Study, asked: dict[str, Any]) -> Iterator[tuple[int, int]]:
    """Make a card; tells how far it is. Those of older revisions go."""
    wanted = CardAsked.model_validate(asked)
    yield 0, 2
    html = render_to_string(f"cards/{wanted.kind}.html", _content(study, wanted))
    yield 1, 2
    pdf = _pdf(html, {"picture": _file(study)} if study.picture else {})
    path = path_of(study, wanted)
    path.parent.mkdir(parents=True, exist_ok=True)
    delete_all(study.pk, but=f"{study.pk}-{study.revision}-{study.drawn.count()}-")
    path.write_bytes(pdf)
    yield 2, 2


def picture_of_page(path: Path, number: int) -> bytes:
    """A page of a card, from 1, as PNG. Raises BadRequest where there is no such page."""
    # Loads slowly, and only for this.
    import pypdfium2

    document = pypdfium2.PdfDocument(path)
    try:
        if not 1 <= number <= len(document):
            raise BadRequest("n", f"this card has {len(document)} pages")
        page = document[number - 1]
        image = page.render(scale=_LONGEST / max(page.get_size())).to_pil()
    finally:
        document.close()
    out = io.BytesIO()
    image.save(out, "PNG")
    return out.getvalue()


def _file(study: Study) -> bytes:
    assert study.picture is not None
    return (study.picture.folder / "view.jpg").read_bytes()


def _content(study: Study, asked: CardAsked) -> dict[str, Any]:
    here = studies.aim(study)
    recipes = studies.effective(here)
    lays = {place: studies.layers_of(here.bench, r.layers) for place, r in recipes.items()}
    seen = studies.looks_of(here, lays)
    names, called = [s.called for s in here.bench.swatches], here.state.names()
    places = []
    for number, place in enumerate(here.state.places, 1):
        recipe = studies.recipe_out(here, place.id, lays[place.id], seen[place.id], "own") if place.id in lays else None
        places.append(
            {
                "number": number, "called": called[place.id], "target": Tone.of(here.targets[place.id]), "recipe": recipe,
                "layers": [{"words": layer_words(x, names), **_solid(here, x)} for x in lays.get(place.id, [])],
                "mark": _mark(study, place.x, place.y),
            }
        )  # fmt: skip
    plan = plans.plan(study)
    return {
        "study": study, "state": here.state, "places": places, "plan": plan,
        "cautions": on_paper(plan.cautions), "picture": study.picture, "page": asked.page,
        "kit": study.kit_version, "paper": study.paper_version, "hand": study.hand_version,
        "paper_hex": Tone.of(studies.bare_lab(here)).hex, "ledge": _ledge(plan) if asked.kind == "ledge" else [],
        "under": _under(study, here, asked.place) if asked.kind == "under" else None,
    }  # fmt: skip


def _solid(here: studies.Aim, layer: Layer) -> dict[str, Any]:
    """The solid of what is laid, with its value; nothing for a blend or a lift."""
    if not isinstance(layer, Lay):
        return {"hex": "", "value": None}
    tone = Tone.of(here.bench.swatches[layer.colour].lab)
    return {"hex": tone.hex, "value": tone.value}


def _ledge(plan: PlanOut) -> list[dict[str, Any]]:
    """The colours in the order of use, each with its share of all colour laid and where it goes."""
    laid = [s for s in plan.steps if s.colour]
    whole = sum(s.cm2 for s in laid) or 1
    out = []
    for colour in dict.fromkeys(s.colour for s in laid):
        mine = [s for s in laid if s.colour == colour]
        where = dict.fromkeys(f"{p.number} {p.called}" for s in mine for p in s.served)
        share = sum(s.cm2 for s in mine) / whole
        solid = mine[0].solid
        out.append(
            {"name": mine[0].name, "hex": solid.hex, "value": solid.value, "share": round(100 * share), "places": ", ".join(where)}
        )
    return out


def _under(study: Study, here: studies.Aim, place: str | None) -> dict[str, Any]:
    """The under-colours for one place. Raises BadRequest where there is none to chart."""
    places = here.state.places
    wanted = next((p for p in places if p.id == place or (place is None and p.role == BASE)), None)
    if wanted is None:
        raise BadRequest("place", "choose the place whose under-colours are to be charted")
    return {
        "called": here.state.names()[wanted.id], "target": Tone.of(here.targets[wanted.id]),
        "rows": under_out(study, wanted.id)[:_UNDERS],
    }  # fmt: skip


def _mark(study: Study, x: float | None, y: float | None) -> dict[str, float] | None:
    """Where on the picture a place lies, in percent."""
    if study.picture is None or x is None or y is None:
        return None
    return {"left": round(100 * x / study.picture.width, 2), "top": round(100 * y / study.picture.height, 2)}


def _pdf(html: str, assets: dict[str, bytes]) -> bytes:
    """The PDF of a page that may use ``caltin:`` assets and nothing else."""
    # WeasyPrint and Pango load slowly: only the worker, and only when a card is made.
    from weasyprint import HTML
    from weasyprint.urls import URLFetcher, URLFetcherResponse

    class OursOnly(URLFetcher):
        """Serves the assets handed in; everything else is refused."""

        def fetch(self, url: str, headers: Any = None) -> URLFetcherResponse:
            """One asset by its name."""
            name = url.removeprefix("caltin:")
            if url.startswith("caltin:") and name in assets:
                return URLFetcherResponse(url, body=assets[name], headers={"Content-Type": "image/jpeg"})
            font = _font(name.removeprefix("font/")) if url.startswith("caltin:font/") else None
            if font is None:
                raise ValueError("a card fetches nothing but its own assets")
            return URLFetcherResponse(url, body=font, headers={"Content-Type": "font/woff2"})

    out = io.BytesIO()
    HTML(string=html, url_fetcher=OursOnly(), base_url="caltin:").write_pdf(out)
    return out.getvalue()


def _font(name: str) -> bytes | None:
    found = sorted((settings.WEB_DIST / "assets").glob(f"{_FONTS[name]}-*.woff2")) if name in _FONTS else []
    return found[0].read_bytes() if found else None
