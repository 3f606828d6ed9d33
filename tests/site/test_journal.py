"""The journal: sittings out of the log, notes and photographs beside them, the look back, and the search."""

import io
import json
import uuid
from datetime import timedelta
from pathlib import Path

import pytest
from django.conf import settings
from django.utils import timezone
from PIL import Image

from caltin_site.journal import keeping, services
from caltin_site.journal.models import Entry
from caltin_site.journal.schemas import MarkIn
from caltin_site.references.models import Picture
from caltin_site.studies.models import Study
from tests.site.test_drawing import plan


@pytest.fixture
def drawn(matched, artist):
    """A study of two tones wholly drawn, six minutes a step, in two sittings a day apart."""
    study = artist.change(matched, do="settle")
    steps = plan(artist, study)["steps"]
    row = Study.objects.get(pk=study["id"])
    began = timezone.now() - timedelta(days=2)
    for n, step in enumerate(steps):
        at = began + timedelta(minutes=6 * n) + (timedelta(days=1) if n >= len(steps) // 2 else timedelta())
        facts = {"client_id": uuid.uuid4(), "kind": "done", "colour": step["colour"], "words": f"{step['name']}, {step['words']}"}
        services.log(row, MarkIn(**facts, laid=step["laid"], minutes=step["minutes"]), at)
    return study


def entry(artist, study, **given):
    body = {"client_id": str(uuid.uuid4())} | given
    return artist.post(f"studies/{study['id']}/entries", body)


def test_sittings_grow_out_of_the_log_by_themselves(drawn, artist):
    journal = artist.get(f"studies/{drawn['id']}/journal").json()
    first, second = [s for s in journal["sittings"] if s["marks"]]
    steps = plan(artist, drawn)["steps"]
    assert len(first["marks"]) + len(second["marks"]) == len(steps)
    assert first["minutes"] == 6 * (len(first["marks"]) - 1)
    review = journal["review"]
    assert sum(s["minutes"] for s in review["spent"]) == pytest.approx(6 * (len(steps) - 2), abs=0.2)
    assert review["reached"] == pytest.approx(review["planned"], abs=0.4)
    assert sum(u["share"] for u in review["used"]) == pytest.approx(1)
    assert {u["colour"] for u in review["used"]} == {s["colour"] for s in steps}


def test_a_change_made_while_drawing_is_told_with_the_sitting(drawn, artist):
    settled = artist.get(f"studies/{drawn['id']}").json()
    artist.change(settled, do="set_route", route="colour")
    entry(artist, drawn, text="The lip wants another red.")
    last = artist.get(f"studies/{drawn['id']}/journal").json()["sittings"][-1]
    assert last["changes"][-1] == "chose the way through the drawing"
    assert last["entries"][0]["text"] == "The lip wants another red."


def test_a_note_sent_twice_counts_once_and_an_empty_one_is_refused(drawn, artist):
    id = str(uuid.uuid4())
    for _ in range(2):
        assert entry(artist, drawn, client_id=id, text="level now").status_code == 201
    assert Entry.objects.count() == 1
    answer = entry(artist, drawn, text="  ")
    assert answer.status_code == 400
    assert "write something" in answer.json()["detail"]


def test_a_photograph_stays_here_without_metadata_and_goes_with_its_entry(drawn, artist, png):
    out = io.BytesIO()
    exif = Image.Exif()
    exif[0x010F] = "a maker"
    Image.open(io.BytesIO(png)).save(out, "JPEG", exif=exif)
    photo = artist.upload(out.getvalue(), "state.jpg").json()["id"]
    entry(artist, drawn, text="After the first sitting", picture=photo)
    folder = Path(settings.PICTURES) / photo
    assert b"a maker" not in b"".join(f.read_bytes() for f in folder.iterdir())
    answer = artist.client.delete(f"/api/pictures/{photo}")
    assert answer.status_code == 400
    assert "journal" in answer.json()["detail"]
    kept = Entry.objects.get()
    assert artist.client.delete(f"/api/entries/{kept.pk}").status_code == 204
    assert not Picture.objects.filter(pk=photo).exists()


def test_photographs_go_when_the_study_is_deleted(drawn, artist, png):
    photo = artist.upload(png).json()["id"]
    entry(artist, drawn, picture=photo)
    assert artist.client.delete(f"/api/studies/{drawn['id']}").status_code == 204
    assert not Picture.objects.filter(pk=photo).exists()


def test_a_journal_is_read_back_without_loss_with_its_hours_and_photographs(drawn, artist, png):
    entry(artist, drawn, text="kept", picture=artist.upload(png).json()["id"])
    entry(artist, drawn, place="base", tone={"l": 60, "a": 18, "b": 20})
    saved = json.loads(artist.get(f"studies/{drawn['id']}/study.json").content)
    back = artist.upload(json.dumps(saved).encode(), "back.json", "read-back", "file").json()
    again = json.loads(artist.get(f"studies/{back['id']}/study.json").content)
    assert again == saved
    assert len(saved["entries"]) == 2


def test_the_hand_is_compared_once_enough_came_out_and_taken_over_as_one_change(drawn, artist):
    third = artist.change(artist.get(f"studies/{drawn['id']}").json(), do="add_place", id="third", role="shadow",
                          tone={"l": 45, "a": 18, "b": 18})  # fmt: skip
    row = Study.objects.get(pk=drawn["id"])
    layer = {"colour": "buoy", "pressure": "medium", "passes": 2}
    services.log(row, MarkIn(client_id=uuid.uuid4(), kind="done", laid=[{"place": "third", "number": 0, "layer": layer}]))
    places = [p["id"] for p in third["places"]]
    seen = {s["place"]: s for s in _lying(artist, drawn)}
    for n, place in enumerate(places):
        tone = seen[place]["tone"] | {"l": seen[place]["tone"]["l"] - 4}
        journal = entry(artist, drawn, place=place, tone=tone).json()
        learnt = journal["review"]["learnt"]
        assert ("press harder" in learnt) == (n == len(places) - 1)
    assert journal["review"]["habit"] == pytest.approx(-4, abs=0.05)
    assert journal["measured"] == places
    recipes = artist.get(f"studies/{drawn['id']}").json()["state"]["recipes"]
    from caltin_site.studies.strips import learn_drawing

    row.refresh_from_db()
    for _ in learn_drawing(row, {"places": keeping.measured(row)}):
        pass
    after = artist.get(f"studies/{drawn['id']}").json()
    assert after["undo_label"] == "took the hand over from the drawing"
    assert after["hand"]["measured"]
    assert after["state"]["recipes"] == recipes
    learnt = artist.get(f"studies/{drawn['id']}/journal").json()["review"]
    assert abs(learnt["habit"]) < 2


def _lying(artist, study):
    """What lies on each place, as it is predicted."""
    from caltin_core.media.predict import predict
    from caltin_site.studies import services as studies

    row = Study.objects.get(pk=study["id"])
    here = studies.aim(row)
    for place, layers in services.there(row).items():
        (seen,) = predict(here.bench, [studies.layers_of(here.bench, layers)])
        yield {"place": place, "tone": dict(zip("lab", map(float, seen.lab), strict=True))}


def test_nothing_to_learn_from_is_said(drawn, artist):
    answer = artist.post(f"studies/{drawn['id']}/learn")
    assert answer.status_code == 400
    assert "came out as" in answer.json()["detail"]


def test_words_are_found_over_all_studies_of_the_artist_alone(drawn, artist, stranger):
    entry(artist, drawn, text="Ultramarine kept the jaw cool")
    assert [f["title"] for f in artist.get("journal?q=jaw+ultramarine").json()] == ["A study"]
    assert artist.get("journal?q=nothing-like-it").json() == []
    assert artist.get("journal?q=").json() == []
    assert stranger.get("journal?q=jaw").json() == []
    marks = artist.get("journal?q=pass").json()
    assert any("pass" in f["what"] for f in marks)


def test_times_of_steps_are_learnt_from_the_log(matched, artist):
    study = artist.change(matched, do="settle")
    before = plan(artist, study)
    row, began = Study.objects.get(pk=study["id"]), timezone.now() - timedelta(hours=3)
    other = artist.change(artist.begin(), do="add_place", id="p", role="base", tone={"l": 60, "a": 18, "b": 20})
    first = Study.objects.get(pk=other["id"])
    layer = {"colour": "buoy", "pressure": "medium", "passes": 1}
    for n in range(8):
        laid = [{"place": "p", "number": n, "layer": layer}]
        services.log(first, MarkIn(client_id=uuid.uuid4(), kind="done", laid=laid, minutes=2), began + timedelta(minutes=4 * n))
    after = plan(artist, study)
    assert [s["minutes"] for s in after["steps"]] == pytest.approx([2 * s["minutes"] for s in before["steps"]], abs=0.11)
    assert row.drawn.count() == 0
