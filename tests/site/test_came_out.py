"""A place measured while it is drawn: what comes next is predicted from there, planned from there, and told."""

import uuid

import pytest

from caltin_core.colour.difference import delta_e_2000
from caltin_site.studies.models import Study
from tests.site.test_drawing import draw, mark, plan
from tests.site.test_journal import entry


def lab(tone):
    return [tone["lab"][k] for k in "lab"]


def recipe_of(artist, study, place):
    matches = artist.get(f"studies/{study['id']}/matches").json()["matches"]
    return next(m["chosen"] for m in matches if m["place"] == place)


@pytest.fixture
def begun(matched, artist):
    """A study of which the first step is drawn, the place it serves, and what it should look like then."""
    study = artist.change(matched, do="settle")
    step = plan(artist, study)["steps"][0]
    draw(artist, study, mark(step))
    return study, step["served"][0]["place"], step["served"][0]["after"]["tone"]


def measured(artist, begun, off=(-5, 4, 0)):
    study, place, should = begun
    tone = {k: v + o for (k, v), o in zip(should["lab"].items(), off, strict=True)}
    answer = entry(artist, study, place=place, tone=tone)
    assert answer.status_code == 201
    return artist.get(f"studies/{study['id']}").json(), place, tone


def test_what_comes_next_is_predicted_from_what_was_measured(begun, artist):
    before = recipe_of(artist, begun[0], begun[1])
    study, place, tone = measured(artist, begun)
    assert study["undo_label"].startswith("measured")
    after = recipe_of(artist, study, place)
    assert before["seen_after"] is None
    assert after["seen_after"] == 1
    assert lab(after["after"][0]["tone"]) == pytest.approx(list(tone.values()), abs=0.05)
    assert after["layers"] == before["layers"]
    assert delta_e_2000(lab(after["tone"]), lab(before["tone"])) > 0.3
    served = [p for s in plan(artist, study)["steps"] for p in s["served"] if p["place"] == place]
    assert lab(served[0]["after"]["tone"]) == pytest.approx(list(tone.values()), abs=0.05)
    assert lab(served[-1]["after"]["tone"]) == pytest.approx(lab(after["tone"]), abs=0.01)


def test_a_cure_goes_on_from_there_and_comes_out_as_it_promised(begun, artist):
    study, place, _ = measured(artist, begun)
    recipe = study["state"]["recipes"][place]
    asked = {"place": place, "done": recipe["layers"][:1]}
    cure = next(c for c in artist.post(f"studies/{study['id']}/cure", asked).json()["cures"] if c["layers"])
    study = artist.change(study, do="set_recipe", place=place, layers=[*asked["done"], *cure["layers"]])
    assert lab(recipe_of(artist, study, place)["tone"]) == pytest.approx(lab(cure["tone"]), abs=0.01)
    # Laid upon something else, it is not what was measured.
    other = artist.change(study, do="set_recipe", place=place, layers=recipe["layers"][:1] * 2)
    assert other["state"]["recipes"][place]["seen"]
    bare = [{**recipe["layers"][0], "passes": 1 + recipe["layers"][0]["passes"] % 6}]
    other = artist.change(other, do="set_recipe", place=place, layers=bare)
    assert other["state"]["recipes"][place]["seen"] is None


def test_it_can_be_undone_and_goes_with_its_entry(begun, artist):
    study, place, _ = measured(artist, begun)
    undone = artist.post(f"studies/{study['id']}/undo", {"seen": study["revision"]}).json()
    assert undone["state"]["recipes"][place]["seen"] is None
    study, place, _ = measured(artist, begun, (-6, 4, 0))
    entries = [e for s in artist.get(f"studies/{study['id']}/journal").json()["sittings"] for e in s["entries"]]
    assert artist.client.delete(f"/api/entries/{entries[0]['id']}").status_code == 204
    assert artist.get(f"studies/{study['id']}").json()["state"]["recipes"][place]["seen"]
    assert artist.client.delete(f"/api/entries/{entries[1]['id']}").status_code == 204
    assert artist.get(f"studies/{study['id']}").json()["state"]["recipes"][place]["seen"] is None


def test_a_copy_of_the_study_is_not_drawn_and_so_not_measured(begun, artist):
    study, place, _ = measured(artist, begun)
    copy = artist.post(f"studies/{study['id']}/copy", {}).json()
    assert copy["state"]["recipes"][place] == {**study["state"]["recipes"][place], "seen": None}


def test_it_is_no_change_where_nothing_lies_there(matched, artist):
    study = artist.change(matched, do="settle")
    place = study["places"][0]["id"]
    assert entry(artist, study, place=place, tone={"l": 50, "a": 10, "b": 10}).status_code == 201
    assert artist.get(f"studies/{study['id']}").json()["revision"] == study["revision"]


def test_a_place_without_so_many_layers_cannot_be_seen_with_them(begun, artist):
    study, place, _ = begun
    op = {"do": "see_place", "place": place, "seen": {"after": 40, "tone": {"l": 50, "a": 0, "b": 0}}}
    now = artist.get(f"studies/{study['id']}").json()
    answer = artist.post(f"studies/{study['id']}/changes", {"seen": now["revision"], "op": op})
    assert answer.status_code == 400
    assert "so many layers" in answer.json()["detail"]


def test_the_hand_learns_from_what_lay_there_then_and_the_look_back_from_what_lies_there_now(begun, artist):
    from caltin_site.journal import keeping

    study, place, tone = measured(artist, begun)
    row = Study.objects.get(pk=study["id"])
    assert [(m["place"], len(m["layers"]), m["tone"]) for m in keeping.measured(row)] == [(place, 1, pytest.approx(tone))]
    for step in plan(artist, study)["steps"]:
        if not step["done"]:
            draw(artist, study, mark(step))
    row.refresh_from_db()
    assert [len(m["layers"]) for m in keeping.measured(row)] == [1]
    learnt = artist.get(f"studies/{study['id']}/journal").json()["review"]["learnt"]
    assert "3 more places" in learnt


def test_a_mark_made_in_error_before_it_was_measured_did_not_lie_there(begun, artist):
    from caltin_site.journal import keeping

    study, place, _ = begun
    second = next(s for s in plan(artist, study)["steps"] if not s["done"] and s["served"][0]["place"] == place)
    body = mark(second)
    draw(artist, study, body)
    measured(artist, begun)
    draw(artist, study, {"client_id": str(uuid.uuid4()), "kind": "back", "undoes": body["client_id"]})
    assert [len(m["layers"]) for m in keeping.measured(Study.objects.get(pk=study["id"]))] == [1]
