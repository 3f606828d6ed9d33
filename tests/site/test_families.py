"""Families, schools and cures of a study, over the API. All kits and tones here are invented."""

import pytest

from caltin_site.studies.models import Study
from caltin_site.studies.services import match_missing


def solved(artist, study):
    for _ in match_missing(Study.objects.get(pk=study["id"])):
        pass
    return artist.get(f"studies/{study['id']}/matches").json()


@pytest.fixture
def three(artist):
    study = artist.begin()
    for role, lab in (("base", (64, 18, 22)), ("light", (78, 12, 20)), ("shadow", (42, 16, 16))):
        study = artist.add(study, role, lab)
    return study


def colours(found):
    return {x["colour"] for m in found["matches"] for x in m["chosen"]["layers"]}


def with_rules(artist, study, **some):
    return artist.change(study, do="set_rules", rules={**study["state"]["rules"], **some})


def test_all_places_share_one_family_and_what_one_more_would_change_is_told(artist, three):
    found = solved(artist, with_rules(artist, three, together=4))
    assert found["missing"] == []
    assert len(colours(found)) <= 4
    told = found["family"]
    assert told["asked"] == 4
    assert told["used"] <= 4
    assert told["one_less"]["mean"] > told["mean"] - 0.3
    assert told["one_less"]["name"] in {c["name"] for c in three["kit"]["colours"] if c["id"] in colours(found)}


def test_a_chosen_recipe_stays_and_all_can_be_let_go(artist, three):
    study = with_rules(artist, three, together=5)
    layers = [{"colour": "buoy", "pressure": "light", "passes": 2, "point": "sharp", "turned": False}]
    place = study["state"]["places"][0]["id"]
    study = artist.change(study, do="set_recipe", place=place, layers=layers, kind="own")
    found = solved(artist, study)
    assert found["matches"][0]["chosen"]["layers"] == layers
    assert [m["pinned"] for m in found["matches"]] == [True, False, False]
    assert len(colours(found)) <= 5
    study = artist.change(study, do="clear_recipe", place=None)
    again = solved(artist, study)
    assert not any(m["pinned"] for m in again["matches"])
    assert study["state"]["rules"]["again"] == 1


def test_a_school_is_heeded_and_an_unknown_one_refused(artist, three):
    usual = artist.get("usual").json()
    assert {s["medium"] for s in usual["schools"]} == {"pencil", "marker", "pastel"}
    assert all(s["order"] and s["good_for"] and s["danger"] for s in usual["schools"])
    study = with_rules(artist, three, school="dark_first", black="allowed")
    found = solved(artist, study)
    assert found["proposed"]["medium"] == "pencil"
    tones = {c["id"]: c["tone"]["l"] for c in study["kit"]["colours"]}
    for match in found["matches"]:
        for recipe in match["recipes"]:
            lightness = [tones[x["colour"]] for x in recipe["layers"]]
            assert lightness[0] <= lightness[-1] + 20
    wrong = {"seen": study["revision"], "op": {"do": "set_rules", "rules": {**study["state"]["rules"], "school": "none"}}}
    answer = artist.post(f"studies/{study['id']}/changes", wrong)
    assert answer.status_code == 400
    assert "no school" in answer.json()["detail"]


def test_a_cure_starts_from_what_lies_there(artist, three):
    solved(artist, three)
    place = three["state"]["places"][0]["id"]
    done = [{"colour": "buoy", "pressure": "medium", "passes": 2, "point": "sharp", "turned": False}]
    asked = {"place": place, "done": done, "complaint": "too red", "beside": [three["state"]["places"][2]["id"]]}
    found = artist.post(f"studies/{three['id']}/cure", asked).json()
    assert found["incurable"] == ""
    assert found["cures"][0]["de00"] < 3
    assert all(c["sentence"] for c in found["cures"])
    assert artist.post(f"studies/{three['id']}/cure", {**asked, "complaint": "mauve"}).status_code == 400
    assert artist.post(f"studies/{three['id']}/cure", {**asked, "place": "gone"}).status_code == 400


def test_the_under_colour_chart_of_a_place_comes_nearest_first(artist, three):
    place = three["state"]["places"][0]["id"]
    rows = artist.get(f"studies/{three['id']}/under?place={place}").json()
    assert [r["away"] for r in rows] == sorted(r["away"] for r in rows)
    assert all(len(r["layers"]) == 2 for r in rows)
    assert artist.get(f"studies/{three['id']}/under?place=gone").status_code == 400


def test_a_ramp_joins_two_places(artist, three):
    solved(artist, three)
    one, other = (p["id"] for p in three["state"]["places"][1:3])
    found = artist.get(f"studies/{three['id']}/ramp?place={one}&to={other}&between=2").json()
    assert len(found["steps"]) == 4
    lightness = [s["tone"]["lab"]["l"] for s in found["steps"]]
    assert lightness == sorted(lightness, reverse=True)
    assert artist.get(f"studies/{three['id']}/ramp?place={one}&to=gone").status_code == 400
