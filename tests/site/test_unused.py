"""What was made by mistake is thrown away; what something was made with stays. Invented colours."""

import pytest

from caltin_core.media.hand import Hand as CoreHand
from caltin_site.kits import services as kits
from caltin_site.kits.models import Hand, Kit, Paper, SwatchSheet
from caltin_site.kits.schemas import PaperData
from caltin_site.shapes import Lab
from caltin_site.studies.models import Study
from caltin_site.studies.services import match_missing


@pytest.fixture
def spare(artist):
    """A kit, a paper and a hand measured with both, which nothing was made with."""
    made = artist.post("kits", {"name": "Spare box", "colours": [], "spectra": {}}).json()
    kit = Kit.objects.get(pk=made["id"])
    paper = kits.begin_paper(artist.user, "Spare sheet", PaperData(tone=Lab(l=90, a=0, b=4), tooth="card")).thing
    hand = kits.begin_hand(artist.user, "Spare hand", CoreHand(), kit, paper).thing
    return kit, paper, hand


def thrown(artist, thing):
    noun = {Kit: "kits", Paper: "papers"}[type(thing)]
    answer = artist.post(f"{noun}/{thing.pk}/throw-away")
    if answer.status_code == 400:
        return answer.json()["detail"]
    assert answer.status_code == 204
    return ""


def test_a_kit_that_nothing_was_made_with_goes_and_its_hand_with_it(artist, spare):
    kit, paper, hand = spare
    assert thrown(artist, kit) == ""
    assert artist.get(f"kits/{kit.pk}").status_code == 404
    assert not Hand.objects.filter(pk=hand.pk).exists()
    assert thrown(artist, paper) == ""
    rack = artist.get("rack").json()
    assert ([k["name"] for k in rack["kits"]], [p["name"] for p in rack["papers"]]) == (["Box"], ["Vellum"])


def test_what_a_study_is_made_with_or_undo_brings_back_stays(artist, spare):
    kit, paper, hand = spare
    study = artist.begin()
    assert "Box is planned with in A study" in thrown(artist, artist.kit.thing)
    assert "Vellum is planned with in A study" in thrown(artist, artist.paper.thing)
    other = {"kit": str(kit.newest.pk), "paper": str(paper.newest.pk), "hand": str(hand.newest.pk)}
    study = artist.change(study, do="use_versions", **other)
    # The study stands on the spare ones now, but one step back it does not.
    for thing in (artist.kit.thing, artist.paper.thing, kit, paper):
        assert "is planned with in A study" in thrown(artist, thing)
    back = artist.post(f"studies/{study['id']}/undo", {"seen": study["revision"]}).json()
    assert back["kit"]["id"] == str(artist.kit.thing_id)
    assert artist.post(f"studies/{study['id']}/redo", {"seen": back["revision"]}).json()["kit"]["id"] == str(kit.pk)
    Study.objects.get(pk=study["id"]).delete()
    assert thrown(artist, kit) == thrown(artist, artist.kit.thing) == thrown(artist, paper) == ""


def test_many_studies_are_counted_and_the_first_are_named(artist):
    for title in ("Cook", "Deckhand", "Engineer", "Pilot", "Purser"):
        artist.change(artist.begin(), do="rename", title=title)
    assert "planned with in Cook, Deckhand, Engineer and 2 more" in thrown(artist, artist.kit.thing)


def test_what_the_library_keeps_stays(artist, spare):
    study = artist.add(artist.begin())
    list(match_missing(Study.objects.get(pk=study["id"])))
    artist.post(f"studies/{study['id']}/library", {"name": "Kept"})
    assert len(artist.get("library").json()) == 1
    Study.objects.get(pk=study["id"]).delete()
    assert "library" in thrown(artist, artist.kit.thing)
    assert "library" in thrown(artist, artist.paper.thing)
    assert artist.get(f"kits/{artist.kit.thing_id}").status_code == 200


def test_a_paper_on_which_a_kit_was_measured_stays_as_long_as_that_kit(artist, spare):
    kit, paper, _ = spare
    SwatchSheet.objects.create(
        owner=artist.user, kit=kit, paper=paper, title="S", page="A4", layout={}, cells={}, read="2026-01-01T00:00Z"
    )
    assert thrown(artist, paper) == "Spare box was measured on Spare sheet: it stays as long as that kit"
    assert thrown(artist, kit) == thrown(artist, paper) == ""


def test_a_hand_that_a_study_draws_with_outlives_its_kit(artist, spare):
    kit, _, hand = spare
    artist.change(artist.begin(), do="use_versions", hand=str(hand.newest.pk))
    assert thrown(artist, kit) == ""
    assert Hand.objects.get(pk=hand.pk).kit is None
