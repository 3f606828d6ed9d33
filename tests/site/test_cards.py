"""Cards and sheets: what they say, on which page, as PDF and as pictures; palettes read back."""

import io

import numpy as np
import pytest
from PIL import Image
from pypdf import PdfReader

from caltin_core.rack.exchange import read
from caltin_site.jobs.models import Job
from caltin_site.jobs.tasks import perform

KINDS = ("card", "recipes", "plan", "under", "ledge")
# Millimetres to points; ISO 216 and ANSI sizes.
SIZES = {"A4": (210, 297), "letter": (215.9, 279.4), "A6": (105, 148)}


def made(artist, study, kind="card", page="A4", **more):
    asked = {"kind": kind, "page": page} | more
    job = artist.post(f"studies/{study['id']}/jobs", {"kind": "card", "card": asked}).json()
    perform(job["id"])
    assert Job.objects.get(pk=job["id"]).state == "done", Job.objects.get(pk=job["id"]).says
    return artist.get(f"studies/{study['id']}/card.pdf?" + "&".join(f"{k}={v}" for k, v in asked.items()))


def pages(answer):
    return PdfReader(io.BytesIO(b"".join(answer.streaming_content))).pages


@pytest.fixture
def settled(matched, artist):
    return artist.change(artist.change(matched, do="settle"), do="set_route", route="colour", sitting_minutes=5)


def sheets(artist, study, size, kinds):
    """The words of sheets of these kinds, whose pages have their size."""
    said = {}
    for kind in kinds:
        found = pages(made(artist, study, kind, size))
        shape = (float(found[0].mediabox.width), float(found[0].mediabox.height))
        assert shape == pytest.approx([mm * 72 / 25.4 for mm in SIZES[size]], abs=0.8), kind
        said[kind] = " ".join(" ".join(p.extract_text() for p in found).split())
        assert "local rules come first" in said[kind]
    return said


def test_every_sheet_has_its_size_and_its_words(settled, artist):
    steps = artist.get(f"studies/{settled['id']}/plan").json()["steps"]
    said = sheets(artist, settled, "A4", KINDS)
    under = said.pop("under")
    assert "Under-colours for" in under
    assert "ΔE00" in under
    assert all(s["name"] in text for s in steps for text in said.values())
    assert "Sitting 2" in said["plan"]
    assert all(s["words"] in said["plan"] for s in steps)
    assert "% of all colour" in said["ledge"]


def test_on_other_paper_sheets_have_that_size_and_the_same_words(settled, artist):
    names = {s["name"] for s in artist.get(f"studies/{settled['id']}/plan").json()["steps"]}
    for size in ("letter", "A6"):
        for text in sheets(artist, settled, size, ("card", "plan")).values():
            assert all(name in text for name in names)


def test_a_recipe_card_on_a6_is_one_page_for_each_place(settled, artist):
    assert len(pages(made(artist, settled, "recipes", "A6"))) == len(settled["places"])


def test_every_swatch_has_its_value_in_words_so_that_grey_print_can_be_read(settled, artist):
    text = " ".join(" ".join(p.extract_text() for p in pages(made(artist, settled, "recipes"))).split())
    for place in settled["places"]:
        assert f"Target value {place['target']['value']:.1f}" in text


def test_a_page_is_a_picture_with_the_predicted_colours_on_it(settled, artist):
    made(artist, settled, "recipes", "A6")
    answer = artist.get(f"studies/{settled['id']}/card.png?kind=recipes&page=A6&n=1")
    image = Image.open(io.BytesIO(answer.content))
    assert max(image.size) == 1600
    hexes = artist.get(f"studies/{settled['id']}").json()["places"][0]["target"]["hex"]
    wanted = np.array([int(hexes[i : i + 2], 16) for i in (1, 3, 5)])
    apart = np.abs(np.asarray(image.convert("RGB")).astype(int) - wanted).max(axis=-1)
    assert (apart <= 1).mean() > 0.04
    beyond = artist.get(f"studies/{settled['id']}/card.png?kind=recipes&page=A6&n=99")
    assert beyond.status_code == 400
    assert "pages" in beyond.json()["detail"]


def test_a_card_of_another_kind_stays_until_the_study_changes(settled, artist):
    made(artist, settled, "card")
    made(artist, settled, "ledge", "A6")
    assert artist.get(f"studies/{settled['id']}/card.pdf?kind=card").status_code == 200
    artist.change(artist.get(f"studies/{settled['id']}").json(), do="rename", title="Else")
    assert artist.get(f"studies/{settled['id']}/card.pdf?kind=card").status_code == 404


def test_a_palette_is_read_back_with_its_names_and_screen_colours(settled, artist):
    answer = artist.get(f"studies/{settled['id']}/palette.gpl")
    assert answer["Content-Disposition"].endswith('.gpl"')
    found = read(answer.content)
    used = {s["name"]: s["solid"]["hex"] for s in artist.get(f"studies/{settled['id']}/plan").json()["steps"]}
    from caltin_core.colour.spaces import hex_from_lab

    assert {r.entry.name: hex_from_lab(np.array(r.entry.lab))[0] for r in found.rows} == used
