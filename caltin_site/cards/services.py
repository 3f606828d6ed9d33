"""The study's card as PDF. The maker fetches nothing but what it is handed here."""

import io
import uuid
from collections.abc import Iterator
from pathlib import Path
from typing import Any

from django.conf import settings
from django.template.loader import render_to_string

from caltin_core.media.layers import Lay, Layer
from caltin_core.media.predict import predict
from caltin_core.recipes.words import layer_words
from caltin_site.plans import services as plans
from caltin_site.shapes import Tone
from caltin_site.studies import services as studies
from caltin_site.studies.changes import called
from caltin_site.studies.models import Study

_FONTS = {"serif": "newsreader-latin-wght-normal", "sans": "public-sans-latin-wght-normal"}


def path_of(study: Study) -> Path:
    """Where the card of the study's present revision and log lies."""
    marks = study.drawn.count()
    return Path(settings.CARDS) / f"{study.pk}-{study.revision}-{marks}.pdf"


def delete_all(study_id: uuid.UUID) -> None:
    """Delete every card of a study, but not its printed page."""
    for path in Path(settings.CARDS).glob(f"{study_id}-*.pdf"):
        if not path.stem.endswith("-page"):
            path.unlink(missing_ok=True)


def draw_card(study: Study) -> Iterator[tuple[int, int]]:
    """Make the card; tells how far it is."""
    yield 0, 2
    html = render_to_string("card.html", _content(study))
    yield 1, 2
    pdf = _pdf(html, {"picture": _file(study)} if study.picture else {})
    path = path_of(study)
    path.parent.mkdir(parents=True, exist_ok=True)
    delete_all(study.pk)
    path.write_bytes(pdf)
    yield 2, 2


def _file(study: Study) -> bytes:
    assert study.picture is not None
    return (study.picture.folder / "view.jpg").read_bytes()


def _content(study: Study) -> dict[str, Any]:
    here = studies.aim(study)
    recipes = studies.effective(here)
    lays = {place: studies.layers_of(here.bench, r.layers) for place, r in recipes.items()}
    seen = dict(zip(lays, predict(here.bench, list(lays.values())), strict=True))
    names = [s.called for s in here.bench.swatches]
    places = []
    for number, place in enumerate(here.state.places, 1):
        recipe = (
            studies.recipe_out(here, lays[place.id], seen[place.id], here.targets[place.id], "own") if place.id in lays else None
        )
        places.append(
            {
                "number": number,
                "called": called(place),
                "target": Tone.of(here.targets[place.id]),
                "recipe": recipe,
                "layers": [{"words": layer_words(x, names), "hex": _solid(here, x)} for x in lays.get(place.id, [])],
                "mark": _mark(study, place.x, place.y),
            }
        )
    picture = study.picture
    return {
        "study": study, "state": here.state, "places": places, "plan": plans.plan(study), "picture": picture,
        "kit": study.kit_version, "paper": study.paper_version, "hand": study.hand_version,
        "paper_hex": Tone.of(studies.bare_lab(here)).hex,
    }  # fmt: skip


def _solid(here: studies.Aim, layer: Layer) -> str:
    """The solid of what is laid; nothing for a blend or a lift."""
    return Tone.of(here.bench.swatches[layer.colour].lab).hex if isinstance(layer, Lay) else ""


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
