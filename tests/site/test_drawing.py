"""The log of what was drawn: counted once, outside undo, and the plan that goes on from what it says lies there."""

import importlib
import json
import uuid

import numpy as np
import pytest
from django.db import IntegrityError, OperationalError, connection, transaction

from caltin_site.journal import services as journal
from caltin_site.journal.models import Drawn
from caltin_site.journal.schemas import MarkIn
from caltin_site.kits.models import KitVersion
from caltin_site.studies import services as studies
from caltin_site.studies.models import Study

LAID = {"place": "elsewhere", "number": 0, "layer": {"colour": "buoy", "pressure": "light", "passes": 1}}
WRONG = {"colour": "buoy", "pressure": "firm", "passes": 3, "point": "sharp", "turned": False}


def plan(artist, study):
    return artist.get(f"studies/{study['id']}/plan").json()


def mark(step, kind="done", client_id=None, **more):
    body = {"client_id": client_id or str(uuid.uuid4()), "kind": kind, "colour": step["colour"], "words": step["words"]}
    return body | {"laid": step["laid"]} | more


def draw(artist, study, body):
    answer = artist.post(f"studies/{study['id']}/drawn", body)
    assert answer.status_code == 200, answer.content
    return answer.json()


@pytest.fixture
def settled(matched, artist):
    return artist.change(matched, do="settle")


def test_what_was_drawn_counts_once_and_stays_outside_undo(settled, artist):
    first = mark(plan(artist, settled)["steps"][0])
    for _ in range(3):
        draw(artist, settled, first)
    assert Drawn.objects.count() == 1
    assert [s["done"] for s in plan(artist, settled)["steps"]][:2] == [True, False]
    artist.post(f"studies/{settled['id']}/undo", {"seen": settled["revision"]}).json()
    assert len(artist.get(f"studies/{settled['id']}/drawn").json()) == 1
    draw(artist, settled, {"client_id": str(uuid.uuid4()), "kind": "back", "undoes": first["client_id"]})
    assert Drawn.objects.count() == 2
    assert not plan(artist, settled)["steps"][0]["done"]


def test_a_step_marked_by_two_devices_is_done_once(settled, artist):
    step = plan(artist, settled)["steps"][0]
    for _ in range(2):
        draw(artist, settled, mark(step))
    study = Study.objects.get(pk=settled["id"])
    assert all(len(there) <= 1 for there in journal.there(study).values())
    assert [s["done"] for s in plan(artist, settled)["steps"]].count(True) == 1


def test_drawing_keeps_the_recipe_of_a_place_that_had_only_been_proposed(matched, artist):
    assert not matched["state"]["recipes"]
    step = plan(artist, matched)["steps"][0]
    answer = draw(artist, matched, mark(step))
    study = artist.get(f"studies/{matched['id']}").json()
    assert answer["revision"] == study["revision"] == matched["revision"] + 1
    assert {p["place"] for p in step["places"]} <= set(study["state"]["recipes"])


def test_up_to_here_is_one_mark_and_taken_back_as_one(settled, artist):
    steps = plan(artist, settled)["steps"]
    three = {**steps[0], "laid": [x for s in steps[:3] for x in s["laid"]]}
    body = mark(three)
    draw(artist, settled, body)
    assert [s["done"] for s in plan(artist, settled)["steps"]].count(True) == 3
    draw(artist, settled, {"client_id": str(uuid.uuid4()), "kind": "back", "undoes": body["client_id"]})
    assert not any(s["done"] for s in plan(artist, settled)["steps"])


def test_the_wrong_one_laid_is_solved_again_from_what_lies_there(settled, artist):
    step = plan(artist, settled)["steps"][0]
    laid = [{**x, "layer": WRONG} for x in step["laid"]]
    answer = draw(artist, settled, mark(step, "wrong", laid=laid))
    assert answer["said"]
    after = plan(artist, settled)
    assert not after["astray"]
    study = artist.get(f"studies/{settled['id']}").json()
    for x in laid:
        recipe = study["state"]["recipes"][x["place"]]["layers"]
        assert recipe[0] == WRONG
        mine = [p for s in after["steps"] if not s["done"] for p in s["places"] if p["place"] == x["place"]]
        assert [p["layer"] for p in mine] == list(range(1, len(recipe)))
    assert study["undo_label"] == "solved again from what lies there"


def test_what_is_lifted_off_lies_in_the_log_and_the_rest_follows(settled, artist):
    step = plan(artist, settled)["steps"][0]
    draw(artist, settled, mark(step))
    place = step["places"][0]["place"]
    lift = {"place": place, "number": 1, "layer": {"lift": "kneaded"}}
    draw(artist, settled, {"client_id": str(uuid.uuid4()), "kind": "lifted", "words": "lifted", "laid": [lift]})
    recipe = artist.get(f"studies/{settled['id']}").json()["state"]["recipes"][place]["layers"]
    assert recipe[1] == {"lift": "kneaded"}
    lifted = next(s for s in plan(artist, settled)["steps"] if s["does"] == "lift")
    assert lifted["done"]
    assert lifted["colour"] == ""


def test_a_colour_run_dry_is_told_to_the_log_and_the_kit_in_one_mark(settled, artist):
    dry = plan(artist, settled)["steps"][1]["colour"]
    body = {"client_id": str(uuid.uuid4()), "kind": "dry", "colour": dry, "words": "ran dry"}
    for _ in range(2):
        said = draw(artist, settled, body)["said"]
    assert not said
    rack = artist.get(f"kits/{artist.kit.thing_id}").json()
    assert {c["id"] for c in rack["colours"] if c["state"] == "dry"} == {dry}
    after = plan(artist, settled)
    assert dry not in {s["colour"] for s in after["steps"]}
    assert after["recent"] == []
    refused = artist.post(f"studies/{settled['id']}/drawn", body | {"client_id": str(uuid.uuid4()), "colour": ""})
    assert refused.status_code == 400
    assert "which colour" in refused.content.decode()
    unknown = artist.post(f"studies/{settled['id']}/drawn", body | {"client_id": str(uuid.uuid4()), "colour": "nobody's"})
    assert unknown.status_code == 400
    assert [m["kind"] for m in artist.get(f"studies/{settled['id']}/drawn").json()] == ["dry"]


def test_the_log_counts_what_was_laid_with_each_stick(settled, artist):
    study = Study.objects.get(pk=settled["id"])
    first, second = plan(artist, settled)["steps"][:2]
    taken = mark(first)
    draw(artist, settled, taken)
    draw(artist, settled, mark(first))
    bench = studies.aim(study).bench
    name = bench.swatches
    laid, dry = journal.sticks(study, bench)
    assert {name[c].id: cm2 for c, cm2 in laid.items()} == pytest.approx({first["colour"]: first["cm2"]}, abs=0.06)
    assert dry == {}
    draw(artist, settled, {"client_id": str(uuid.uuid4()), "kind": "back", "undoes": taken["client_id"]})
    draw(artist, settled, mark(second))
    draw(artist, settled, {"client_id": str(uuid.uuid4()), "kind": "dry", "colour": second["colour"]})
    laid, dry = journal.sticks(study, bench)
    assert second["colour"] not in {name[c].id for c in laid}
    assert [round(v) for v in dry["wax_pencil"]] == [round(second["cm2"])]


def test_the_plan_tells_what_is_still_to_be_laid_and_what_may_run_dry(settled, artist):
    before = plan(artist, settled)
    total = {}
    for s in before["steps"]:
        if s["does"] == "lay":
            total[s["colour"]] = total.get(s["colour"], 0) + s["cm2"]
    assert {t["colour"]: t["cm2"] for t in before["takes"]} == pytest.approx(total, abs=0.2)
    assert not any(t["words"] for t in before["takes"])
    study, (most, *_) = Study.objects.get(pk=settled["id"]), before["takes"]
    journal.log(study, MarkIn(client_id=uuid.uuid4(), kind="done", laid=[LAID]), used={most["colour"]: 3999.9})
    after = plan(artist, settled)
    assert [t["colour"] for t in after["takes"] if t["words"]] == [most["colour"]]
    assert any("may run dry" in c for c in after["cautions"])


def test_twice_the_sheet_takes_twice_the_colour_and_longer(settled, artist):
    before = plan(artist, settled)
    large = artist.change(settled, do="set_sheet", sheet={"width": 420, "height": 297})
    after = plan(artist, large)
    assert sum(t["cm2"] for t in after["takes"]) == pytest.approx(2 * sum(t["cm2"] for t in before["takes"]), rel=0.01)
    assert sum(s["minutes"] for s in after["steps"]) > sum(s["minutes"] for s in before["steps"])


def test_a_colour_that_runs_dry_is_not_asked_for_again(settled, artist):
    steps = plan(artist, settled)["steps"]
    draw(artist, settled, mark(steps[0]))
    dry = steps[1]["colour"]
    assert artist.put(f"kits/{artist.kit.thing_id}/states", {"colour": dry, "state": "dry"}).status_code in (200, 204)
    assert plan(artist, settled)["wanting"]
    answer = artist.post(f"studies/{settled['id']}/go-on").json()
    assert answer["said"]
    left = [s for s in plan(artist, settled)["steps"] if not s["done"]]
    assert dry not in {s["colour"] for s in left}
    after = plan(artist, settled)
    assert [s["words"] for s in after["steps"] if s["done"]] == [steps[0]["words"]]
    assert after["wanting"] == []


def test_a_recipe_edited_under_the_drawing_is_told_and_asks_for_nothing_impossible(settled, artist):
    step = plan(artist, settled)["steps"][0]
    draw(artist, settled, mark(step))
    place = step["places"][0]["place"]
    settled["revision"] = artist.get(f"studies/{settled['id']}").json()["revision"]
    edited = artist.change(settled, do="set_recipe", place=place, layers=[WRONG, WRONG])
    after = plan(artist, edited)
    assert after["astray"]
    mine = [s for s in after["steps"] for p in s["places"] if p["place"] == place]
    assert [s["done"] for s in mine] == [True]
    artist.post(f"studies/{settled['id']}/go-on")
    assert plan(artist, settled)["astray"] == []


def test_a_mark_without_anything_in_it_is_refused_with_a_sentence(settled, artist):
    body = {"client_id": str(uuid.uuid4()), "kind": "done"}
    answer = artist.post(f"studies/{settled['id']}/drawn", body)
    assert answer.status_code == 400
    assert "what lies there" in answer.json()["detail"]
    assert artist.post(f"studies/{settled['id']}/drawn", body | {"kind": "back"}).status_code == 400


def test_the_database_itself_refuses_to_change_a_version_or_a_mark(settled, artist):
    draw(artist, settled, mark(plan(artist, settled)["steps"][0]))
    for rows, field in ((KitVersion.objects.all(), {"number": 9}), (Drawn.objects.all(), {"words": "else"})):
        with pytest.raises((IntegrityError, OperationalError), match="never changes"), transaction.atomic():
            rows.update(**field)


TOKENS = {"wax:1:buoy:firm:3:sharp:turned": ("wax", 1, WRONG | {"turned": True}),
          "p:0:a:b:coat:2:wet": ("p", 0, {"colour": "a:b", "passes": 2, "wet": True})}  # fmt: skip


def test_marks_that_told_layers_by_tokens_are_taken_over():
    older = importlib.import_module("caltin_site.journal.migrations.0003_entries_and_layers")
    for token, (place, number, layer) in TOKENS.items():
        assert older.laid_of(token) == {"place": place, "number": number, "layer": layer}


def test_a_file_that_told_layers_by_tokens_is_still_read(settled, artist):
    saved = json.loads(artist.get(f"studies/{settled['id']}/study.json").content)
    ids = [str(uuid.uuid4()) for _ in range(3)]
    token = f"base:0:{WRONG['colour']}:firm:3:sharp:along"
    marks = [
        {"client_id": i, "kind": k, "colour": "buoy", "words": "w", "tokens": [token]}
        for i, k in zip(ids, ("done", "back", "done"), strict=True)
    ]
    back = artist.upload(json.dumps(saved | {"caltin": 1, "drawn": marks}).encode(), "older.json", "read-back", "file").json()
    rows = artist.get(f"studies/{back['id']}/drawn").json()
    assert [r["undoes"] for r in rows] == [None, ids[0], None]
    assert rows[0]["laid"] == [{"place": "base", "number": 0, "layer": WRONG}]
    broken = [marks[0] | {"tokens": ["nothing"]}]
    answer = artist.upload(json.dumps(saved | {"caltin": 1, "drawn": broken}).encode(), "older.json", "read-back", "file")
    assert answer.status_code == 400
    assert "what lies there" in answer.json()["detail"]


@pytest.mark.parametrize("seed", range(2))
def test_whatever_happens_no_plan_needs_what_is_no_longer_possible(settled, artist, seed):
    """Steps done, taken back, laid wrong, lifted off, colours run dry: what lies there begins every recipe, no dry colour is
    asked for, and nothing that lies there is asked for again."""
    rng = np.random.default_rng(seed)
    dry = set()
    for _ in range(8):
        now = plan(artist, settled)
        step = next((s for s in now["steps"] if not s["done"]), None)
        act = rng.choice(["done", "done", "wrong", "lifted", "back", "dry"])
        if act == "dry" and step and step["colour"] and len(dry) < 3:
            dry.add(step["colour"])
            draw(artist, settled, {"client_id": str(uuid.uuid4()), "kind": "dry", "colour": step["colour"]})
            artist.post(f"studies/{settled['id']}/go-on")
        elif act == "back" and now["recent"]:
            last = now["recent"][-1]["client_id"]
            draw(artist, settled, {"client_id": str(uuid.uuid4()), "kind": "back", "undoes": last})
            artist.post(f"studies/{settled['id']}/go-on")
        elif act == "wrong" and step:
            draw(artist, settled, mark(step, "wrong", laid=[{**x, "layer": WRONG} for x in step["laid"]]))
        elif act == "lifted" and now["recent"]:
            x = now["recent"][-1]["laid"][-1]
            lift = {"place": x["place"], "number": x["number"] + 1, "layer": {"lift": "kneaded"}}
            draw(artist, settled, {"client_id": str(uuid.uuid4()), "kind": "lifted", "laid": [lift]})
        elif step:
            draw(artist, settled, mark(step))
        after = plan(artist, settled)
        there = journal.there(Study.objects.get(pk=settled["id"]))
        left = [x for s in after["steps"] if not s["done"] for x in s["laid"]]
        assert after["astray"] == []
        assert not dry & {x["layer"].get("colour") for x in left}
        for place in {x["place"] for x in left}:
            mine = [x["number"] for x in left if x["place"] == place]
            assert mine == list(range(len(there.get(place, [])), len(there.get(place, [])) + len(mine)))


def test_the_log_is_written_with_full_synchronisation_in_wal(db):
    with connection.cursor() as cursor:
        assert cursor.execute("PRAGMA synchronous").fetchone()[0] == 2
        assert cursor.execute("PRAGMA foreign_keys").fetchone()[0] == 1


def test_what_was_solved_from_an_error_goes_with_it_when_the_mark_is_taken_back(settled, artist):
    before = artist.get(f"studies/{settled['id']}").json()["state"]["recipes"]
    step = plan(artist, settled)["steps"][0]
    wrong = mark(step, "wrong", laid=[{**x, "layer": WRONG} for x in step["laid"]])
    draw(artist, settled, wrong)
    assert artist.get(f"studies/{settled['id']}").json()["state"]["recipes"] != before
    back = {"client_id": str(uuid.uuid4()), "kind": "back", "undoes": wrong["client_id"]}
    for _ in range(2):
        draw(artist, settled, back)
    assert artist.get(f"studies/{settled['id']}").json()["state"]["recipes"] == before


def test_a_smooth_finish_and_an_under_drawing_are_part_of_the_plan_and_undone_like_any_change(settled, artist):
    place = settled["places"][0]["id"]
    soft = [{"colour": "buoy", "pressure": "light", "passes": 2}, {"colour": "milk", "pressure": "light", "passes": 1}]
    soft[1]["colour"] = plan(artist, settled)["steps"][-1]["colour"]
    study = artist.change(settled, do="set_recipe", place=place, layers=soft)
    study = artist.change(study, do="set_finish", place=place, finish=1)
    study = artist.change(study, do="set_under_drawing", under_drawing="graphite")
    found = plan(artist, study)
    blended = [s for s in found["steps"] if s["does"] == "blend"]
    assert [p["place"] for p in blended[0]["places"]] == [place]
    assert found["steps"][0]["first"][0].startswith("Lift the drawing: everywhere.")
    for step in found["steps"]:
        draw(artist, study, mark(step))
    assert all(s["done"] for s in plan(artist, study)["steps"])
    assert study["undo_label"] == "chose the under-drawing"
