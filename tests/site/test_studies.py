"""A study's life: history, late writers, recipes, plan, log."""

import uuid

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from hypothesis.extra.django import TestCase

from caltin_site.kits import services as kits
from caltin_site.kits.schemas import KitColour
from caltin_site.shapes import Lab
from caltin_site.studies.models import Prediction, Study
from caltin_site.studies.state import Place, State
from tests.site.conftest import Artist


def test_a_place_touched_on_the_picture_is_read_there(artist, png):
    picture = artist.upload(png).json()
    study = artist.begin(picture["id"])
    study = artist.change(study, do="add_place", id="p1", role="base", x=20, y=40, radius=5)
    study = artist.change(study, do="add_place", id="p2", role="shadow", x=90, y=40, radius=5)
    base, shadow = study["places"]
    assert (base["tone"]["hex"], shadow["tone"]["hex"]) == ("#d6aa8c", "#462d23")
    assert "darker" in shadow["against_base"]
    assert base["evenness"] == "even"
    moved = artist.change(study, do="edit_place", id="p2", x=20)
    assert moved["places"][1]["tone"]["hex"] == "#d6aa8c"


def test_a_disc_is_read_in_words_and_against_another_tone(artist, png):
    study = artist.begin(artist.upload(png).json()["id"])
    read = f"studies/{study['id']}/read"
    base = artist.post(read, {"x": 20, "y": 40, "radius": 5}).json()
    assert (base["tone"]["hex"], base["evenness"], base["against_words"]) == ("#d6aa8c", "even", "")
    dark = artist.post(read, {"x": 90, "y": 40, "radius": 5, "against": base["tone"]["lab"]}).json()
    assert "much darker" in dark["against_words"]
    outside = artist.post(read, {"x": 900, "y": 40, "radius": 5})
    assert (outside.status_code, outside.json()["where"]) == (400, "x")


def test_a_papers_change_is_a_new_version_and_a_late_one_is_told(artist):
    body = {"seen": 1, "name": "Vellum", "tone": {"l": 93, "a": 0, "b": 4}, "tooth": "vellum"}
    assert artist.put(f"papers/{artist.paper.thing_id}", body).json()["number"] == 2
    assert artist.put(f"papers/{artist.paper.thing_id}", {**body, "name": "Late"}).status_code == 409


@pytest.mark.parametrize(
    ("spots", "called"),
    [
        ([(70, 40), (30, 42)], ["right iris", "left iris"]),
        ([(50, 20), (48, 60)], ["upper iris", "lower iris"]),
        ([(50, 20), (50, 20)], ["iris", "iris"]),
        ([(10, 20), (50, 20), (90, 20)], ["iris", "iris", "iris"]),
        ([(None, None), (50, 20)], ["iris", "iris"]),
    ],
)
def test_of_two_places_of_one_role_it_is_said_which_lies_where(spots, called):
    tone = Lab(l=30, a=5, b=5)
    places = [Place(id=f"i{i}", role="iris", x=x, y=y, radius=x and 3, tone=tone) for i, (x, y) in enumerate(spots)]
    named = Place(id="own", role="iris", name="Glass eye", tone=tone)
    pins = dict.fromkeys(("kit", "paper", "hand"), uuid.uuid4())
    assert list(State(title="T", pins=pins, places=[*places, named]).names().values()) == [*called, "Glass eye"]


def test_places_are_renamed_given_another_role_and_removed(artist):
    study = artist.add(artist.begin())
    study = artist.change(study, do="edit_place", id="base", name="Left cheek", role="light")
    assert (study["places"][0]["called"], study["places"][0]["role"]) == ("Left cheek", "light")
    assert artist.change(study, do="remove_place", id="base")["places"] == []


def test_undo_and_redo_go_all_the_way_and_back(artist):
    study = artist.begin()
    titles = [f"Title {n}" for n in range(25)]
    for title in titles:
        study = artist.change(study, do="rename", title=title)
    for title in [*titles[-2::-1], "A study"]:
        study = artist.post(f"studies/{study['id']}/undo", {"seen": study["revision"]}).json()
        assert study["state"]["title"] == title
    assert not study["can_undo"]
    assert artist.post(f"studies/{study['id']}/undo", {"seen": study["revision"]}).status_code == 400
    for title in titles:
        study = artist.post(f"studies/{study['id']}/redo", {"seen": study["revision"]}).json()
        assert study["state"]["title"] == title
    assert not study["can_redo"]


def test_a_change_after_undo_gives_up_what_was_undone(artist):
    study = artist.change(artist.begin(), do="rename", title="One")
    study = artist.post(f"studies/{study['id']}/undo", {"seen": study["revision"]}).json()
    study = artist.change(study, do="rename", title="Two")
    assert not study["can_redo"]
    assert study["undo_label"] == "renamed to Two"


def test_a_late_writer_hears_what_changed_and_nothing_is_lost(artist):
    early = artist.begin()
    late = dict(early)
    artist.add(early)
    answer = artist.post(f"studies/{late['id']}/changes", {"seen": late["revision"], "op": {"do": "rename", "title": "Mine"}})
    assert answer.status_code == 409
    assert answer["Content-Type"] == "application/problem+json"
    assert answer.json()["changed"] == ["added base"]
    now = artist.get(f"studies/{late['id']}").json()
    assert (now["state"]["title"], len(now["places"])) == ("A study", 1)
    again = artist.post(
        f"studies/{late['id']}/changes", {"seen": answer.json()["revision"], "op": {"do": "rename", "title": "Mine"}}
    )
    assert (again.json()["state"]["title"], len(again.json()["places"])) == ("Mine", 1)


def test_a_late_undo_is_told_too(artist):
    study = artist.add(artist.begin())
    artist.change(study, do="rename", title="Other")
    assert artist.post(f"studies/{study['id']}/undo", {"seen": study["revision"]}).status_code == 409


@pytest.mark.parametrize(
    ("op", "where"),
    [
        ({"do": "add_place", "id": "x", "role": "elbow grease", "tone": {"l": 50, "a": 0, "b": 0}}, None),
        ({"do": "add_place", "id": "x", "role": "base"}, None),
        ({"do": "add_place", "id": "x", "role": "base", "tone": {"l": 150, "a": 0, "b": 0}}, None),
        ({"do": "remove_place", "id": "gone"}, "id"),
        ({"do": "set_recipe", "place": "gone", "layers": [{"colour": "rope", "pressure": "light", "passes": 1}]}, "id"),
        ({"do": "dance"}, None),
        ({"do": "rename", "title": ""}, None),
    ],
)
def test_a_change_that_cannot_be_is_refused_with_a_sentence_and_changes_nothing(artist, op, where):
    study = artist.begin()
    answer = artist.post(f"studies/{study['id']}/changes", {"seen": study["revision"], "op": op})
    assert answer.status_code == 400
    assert len(answer.json()["detail"]) > 8
    if where:
        assert answer.json()["where"] == where
    assert artist.get(f"studies/{study['id']}").json()["revision"] == study["revision"]


def test_a_recipe_with_a_colour_that_is_not_in_the_kit_is_refused(matched, artist):
    op = {"do": "set_recipe", "place": "base", "layers": [{"colour": "nowhere", "pressure": "light", "passes": 1}]}
    answer = artist.post(f"studies/{matched['id']}/changes", {"seen": matched["revision"], "op": op})
    assert answer.status_code == 400
    assert "this kit has not" in answer.json()["detail"]


def test_another_kit_lets_go_only_of_the_recipes_it_cannot_lay_and_only_when_told_to(matched, artist):
    two = artist.get(f"kits/{artist.kit.thing_id}").json()["colours"][:2]
    keeps, lacks = ([{"colour": c["id"], "pressure": "firm", "passes": 2}] for c in two)
    study = artist.change(matched, do="set_recipe", place="base", layers=keeps)
    study = artist.change(study, do="set_recipe", place="shadow", layers=lacks)
    study = artist.change(study, do="order_steps", steps=[[{"place": p, "layer": 0}] for p in ("shadow", "base")])
    small = kits.begin_kit(artist.user, "Small box", [KitColour(**{k: two[0][k] for k in ("id", "name", "medium", "tone")})])
    op = {"do": "use_versions", "kit": str(small.pk)}
    refused = artist.post(f"studies/{study['id']}/changes", {"seen": study["revision"], "op": op})
    assert refused.status_code == 400
    assert refused.json()["where"] == "recipes.shadow[0].colour"
    after = artist.change(study, **op, let_go=True)
    assert after["kit"]["name"] == "Small box"
    assert list(after["state"]["recipes"]) == ["base"]
    assert [t["place"] for t in after["state"]["order"]] == ["base"]
    back = artist.post(f"studies/{after['id']}/undo", {"seen": after["revision"]}).json()
    assert set(back["state"]["recipes"]) == {"base", "shadow"}


def test_matches_are_proposed_chosen_edited_and_given_back(matched, artist):
    matches = artist.get(f"studies/{matched['id']}/matches").json()
    assert matches["missing"] == []
    base = matches["matches"][0]
    assert not base["pinned"]
    assert base["chosen"]["difference"]["de00"] < 2
    own = [{"colour": base["recipes"][0]["layers"][0]["colour"], "pressure": "firm", "passes": 2}]
    seen = artist.post(f"studies/{matched['id']}/predict", {"place": "base", "layers": own}).json()
    study = artist.change(matched, do="set_recipe", place="base", layers=own)
    chosen = artist.get(f"studies/{study['id']}/matches").json()["matches"][0]
    assert chosen["pinned"]
    assert chosen["chosen"]["tone"] == seen["tone"]
    study = artist.change(study, do="clear_recipe", place="base")
    assert not artist.get(f"studies/{study['id']}/matches").json()["matches"][0]["pinned"]


def test_predictions_are_a_cache_beside_the_study(matched, artist):
    before = artist.get(f"studies/{matched['id']}").json()
    Prediction.objects.all().delete()
    assert artist.get(f"studies/{matched['id']}").json() == before
    assert artist.get(f"studies/{matched['id']}/matches").json()["missing"] == ["base", "shadow"]


def test_new_rules_ask_for_new_matches_and_undo_finds_the_old_ones_kept(matched, artist):
    study = artist.change(matched, do="set_rules", rules={**matched["state"]["rules"], "max_layers": 2})
    assert len(artist.get(f"studies/{study['id']}/matches").json()["missing"]) == 2
    study = artist.post(f"studies/{study['id']}/undo", {"seen": study["revision"]}).json()
    assert artist.get(f"studies/{study['id']}/matches").json()["missing"] == []


def test_a_plan_lays_dark_first_and_takes_the_artists_order_unless_it_breaks_a_recipe(matched, artist):
    study = artist.change(matched, do="settle")
    plan = artist.get(f"studies/{study['id']}/plan").json()
    assert len(plan["steps"]) > 2
    assert plan["unplanned"] == []
    order = [s["places"] for s in plan["steps"]]
    several = next(i for i, a in enumerate(order) for b in order[i + 1 :] if a[0]["place"] == b[0]["place"])
    broken = order[several + 1 :] + order[: several + 1]
    answer = artist.post(
        f"studies/{study['id']}/changes", {"seen": study["revision"], "op": {"do": "order_steps", "steps": broken}}
    )
    assert answer.status_code == 400
    assert "lies over another one" in answer.json()["detail"]
    ordered = artist.change(study, do="order_steps", steps=order)
    assert artist.get(f"studies/{ordered['id']}/plan").json()["own_order"]


def test_a_study_keeps_its_versions_and_says_when_there_is_a_newer_one(matched, artist):
    kit = artist.get(f"kits/{artist.kit.thing_id}").json()
    plain = [{k: c[k] for k in ("id", "name", "medium", "tone", "source", "handling", "retired")} for c in kit["colours"]]
    plain[0]["retired"] = True
    newer = artist.put(f"kits/{kit['id']}", {"seen": 1, "name": "Box", "colours": plain}).json()
    assert newer["number"] == 2
    study = artist.get(f"studies/{matched['id']}").json()
    assert (study["kit"]["number"], study["kit"]["newest"]) == (1, 2)
    study = artist.change(study, do="use_versions", kit=newer["version"])
    assert study["kit"]["number"] == 2
    assert len(artist.get(f"studies/{study['id']}/matches").json()["missing"]) == 2
    study = artist.post(f"studies/{study['id']}/undo", {"seen": study["revision"]}).json()
    assert study["kit"]["number"] == 1


def test_a_late_change_of_a_kit_is_told_and_a_colour_is_never_taken_out(artist):
    kit = artist.get(f"kits/{artist.kit.thing_id}").json()
    colour = {"id": "new", "name": "New", "medium": "oil_pencil", "tone": {"l": 50, "a": 1, "b": 2}}
    plain = [{k: c[k] for k in ("id", "name", "medium", "tone")} for c in kit["colours"]]
    assert artist.put(f"kits/{kit['id']}", {"seen": 1, "name": "Box", "colours": [*plain, colour]}).status_code == 200
    assert artist.put(f"kits/{kit['id']}", {"seen": 1, "name": "Box", "colours": plain}).status_code == 400
    assert (
        artist.put(f"kits/{kit['id']}", {"seen": 1, "name": "Mine", "colours": [*plain, {**colour, "name": "Other"}]}).status_code
        == 409
    )
    twice = [*plain, colour, colour]
    assert artist.put(f"kits/{kit['id']}", {"seen": 2, "name": "Box", "colours": twice}).json()["where"].endswith(".id")


OPS = st.lists(st.sampled_from(["rename", "add", "remove", "undo", "redo", "range"]), max_size=14)


class History(TestCase):
    @settings(max_examples=15)
    @given(OPS)
    def test_undo_brings_back_exactly_what_was_there(self, ops):
        artist = Artist(f"artist-{uuid.uuid4()}")
        study = artist.begin()
        states, at = [study["state"]], 0
        for number, op in enumerate(ops):
            if op in ("undo", "redo"):
                to = at + (1 if op == "redo" else -1)
                answer = artist.post(f"studies/{study['id']}/{op}", {"seen": study["revision"]})
                assert answer.status_code == (200 if 0 <= to < len(states) else 400)
                if answer.status_code == 200:
                    study, at = answer.json(), to
            else:
                places = study["places"]
                if op == "remove" and not places:
                    continue
                change = {
                    "rename": {"do": "rename", "title": f"T{number}"},
                    "add": {"do": "add_place", "id": f"p{number}", "role": "base", "tone": {"l": 50, "a": 10, "b": 10}},
                    "remove": {"do": "remove_place", "id": places[0]["id"] if places else ""},
                    "range": {"do": "set_range", "on": not study["state"]["range_on"]},
                }[op]
                study = artist.change(study, **change)
                states, at = [*states[: at + 1], study["state"]], at + 1
            assert study["state"] == states[at]
        assert Study.objects.get(pk=study["id"]).revision == study["revision"]
