"""The library: kept with its conditions, found by look, role, medium and measure, carried elsewhere, in versions."""

import pytest

from caltin_site.kits import services as kits
from caltin_site.kits.schemas import KitColour, PaperData
from caltin_site.library.models import KeepsakeVersion
from caltin_site.shapes import Lab


@pytest.fixture
def kept(matched, artist):
    study = artist.change(matched, do="settle")
    answer = artist.post(f"studies/{study['id']}/library", {"name": "Warm light, pencil", "note": "for the wheelhouse"})
    assert answer.status_code == 201, answer.content
    return study, answer.json()


def find(artist, **asked):
    return artist.get("library?" + "&".join(f"{k}={v}" for k, v in asked.items())).json()


def test_a_family_is_kept_with_its_kit_paper_hand_and_light(kept, artist):
    study, found = kept
    assert (found["kit"], found["paper"], found["light"], found["study"]) == ("Box", "Vellum", "D50", "A study")
    assert len(found["members"]) == len(study["places"])
    assert found["media"] == ["wax_pencil"]
    assert found["ita_class"]
    assert found["number"] == 1


def test_it_is_found_by_look_role_medium_measure_and_words(kept, artist):
    study, one = kept
    light = artist.change(study, do="add_place", id="x", role="highlight", tone={"l": 88, "a": 4, "b": 12})
    artist.change(light, do="set_recipe", place="x", layers=[{"colour": "lamp-glass", "pressure": "light", "passes": 1}])
    other = artist.post(f"studies/{study['id']}/library", {"name": "A light", "places": ["x"]}).json()
    base = one["members"][0]["tone"]["lab"]
    by_look = find(artist, **base)
    assert [k["id"] for k in by_look] == [one["id"], other["id"]]
    assert by_look[0]["away"] < 0.1 < by_look[1]["away"]
    assert [k["name"] for k in find(artist, role="highlight")] == ["A light"]
    assert len(find(artist, medium="wax_pencil")) == 2
    assert find(artist, medium="alcohol_marker") == []
    assert [k["id"] for k in find(artist, complexion=one["ita_class"].replace(" ", "+"))] == [one["id"]]
    assert [k["id"] for k in find(artist, q="wheelhouse")] == [one["id"]]


def test_versions_are_kept_and_the_first_stays_as_it_was(kept, artist):
    study, one = kept
    first = KeepsakeVersion.objects.get().data
    again = artist.change(study, do="set_recipe", place="base", layers=[{"colour": "buoy", "pressure": "firm", "passes": 2}])
    body = {"name": "Warm light, redder", "keepsake": one["id"]}
    two = artist.post(f"studies/{again['id']}/library", body).json()
    assert (two["id"], two["number"], two["name"]) == (one["id"], 2, "Warm light, redder")
    assert [v["number"] for v in artist.get(f"library/{one['id']}/versions").json()] == [2, 1]
    assert KeepsakeVersion.objects.get(number=1).data == first
    assert "two firm passes" in two["members"][0]["words"]


def test_carried_to_another_kit_and_paper_what_is_lost_is_told(kept, artist):
    _, one = kept
    few = [KitColour(id=n, name=n, medium="wax_pencil", tone=Lab(l=l, a=a, b=b)) for n, l, a, b in
           (("milk", 92, 0, 8), ("rope", 70, 10, 30))]  # fmt: skip
    kit = kits.begin_kit(artist.user, "Two", few)
    paper = kits.begin_paper(artist.user, "Grey", PaperData(tone=Lab(l=60, a=0, b=2), tooth="vellum"))
    asked = {"kit": str(kit.thing_id), "paper": str(paper.thing_id), "hand": str(artist.hand.id)}
    there = artist.post(f"library/{one['id']}/carry", asked).json()
    assert (there["kit"], there["paper"]) == ("Two", "Grey")
    assert any("ΔE00" in m["lost"] for m in there["members"])
    begun = artist.post(f"library/{one['id']}/begin", asked)
    assert begun.status_code == 201
    study = begun.json()
    assert study["undo_label"] == "took recipes from the library"
    assert [p["target"]["hex"] for p in study["places"]] == [m["looked"]["hex"] for m in there["members"]]
    assert set(study["state"]["recipes"]) == {p["id"] for p in study["places"]}


def test_on_its_own_kit_and_paper_nothing_is_lost(kept, artist):
    _, one = kept
    asked = {"kit": str(artist.kit.thing_id), "paper": str(artist.paper.thing_id), "hand": str(artist.hand.id)}
    there = artist.post(f"library/{one['id']}/carry", asked).json()
    assert [m["lost"] for m in there["members"]] == [""] * len(there["members"])


def test_a_kept_recipe_is_taken_for_a_place_as_one_change(kept, artist):
    study, one = kept
    added = artist.change(study, do="add_place", id="new", role="light", tone={"l": 66, "a": 16, "b": 22})
    body = {"place": "new", "keepsake": one["id"], "member": 0}
    after = artist.post(f"studies/{study['id']}/from-library?seen={added['revision']}", body).json()
    assert after["state"]["recipes"]["new"]["layers"] == after["state"]["recipes"]["base"]["layers"]
    assert artist.post(f"studies/{study['id']}/from-library?seen={after['revision']}", body | {"member": 9}).status_code == 400


def test_nothing_to_keep_is_said_and_what_is_kept_outlives_its_study(kept, artist):
    study, one = kept
    empty = artist.begin()
    answer = artist.post(f"studies/{empty['id']}/library", {"name": "Nothing"})
    assert answer.status_code == 400
    assert "no recipe here to keep" in answer.json()["detail"]
    artist.client.delete(f"/api/studies/{study['id']}")
    assert [k["id"] for k in find(artist)] == [one["id"]]
    assert artist.put(f"library/{one['id']}", {"name": "Renamed"}).json()["name"] == "Renamed"
    assert artist.client.delete(f"/api/library/{one['id']}").status_code == 204
    assert find(artist) == []


def test_a_strangers_library_is_empty(kept, stranger):
    assert find(stranger) == []
