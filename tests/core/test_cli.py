"""The command line is a contract: shapes, order, schema."""

import json
import subprocess
import sys

import numpy as np
import pytest
from jsonschema import Draft202012Validator

from caltin_core.charts.layout import lay_out
from caltin_core.charts.printing import drawn
from caltin_core.cli import HOMES, schema
from caltin_core.colour.difference import delta_e_2000
from caltin_core.media.hand import HANDS
from caltin_core.recipes.match import matches
from caltin_core.recipes.rules import Rules
from caltin_core.recipes.targets import Target
from caltin_core.reference.roles import SLUGS
from tests.core.asking import CALIBRATE, LIGHT, MATCH, PLAN, PREDICT, SURFACE, ask, changed, read_request, run
from tests.core.builders import demo_bench


def test_predict_answers_in_the_shape_and_order_asked():
    results = ask("predict", PREDICT)["results"]
    assert [r["id"] for r in results] == ["b", "a", "empty"]
    assert [len(r["after"]) for r in results] == [1, 5, 0]
    assert results[2]["lab"] == pytest.approx([95, 0, 2], abs=1e-3)
    assert results[2]["tooth_used"] == 0
    assert sum(g["share"] for g in results[0]["grain"]) == pytest.approx(1)
    assert results[1]["after"][-1]["lab"] == results[1]["lab"]


def test_a_repeat_equals_its_expansion():
    once = [{"colour": "red", "pressure": "firm", "passes": 1}, {"blend": "stump"}]
    written = changed(PREDICT, "stacks.1.layers", [*once, *once, {"lift": "stick"}])
    assert ask("predict", PREDICT)["results"][1] == ask("predict", written)["results"][1]


def test_another_light_is_relative_to_its_own_white():
    for light in ("A", "D50", "D65", "FL2", "LED-B3"):
        lab = ask("predict", {**PREDICT, "illuminant": light})["results"][2]["lab"]
        assert lab[0] == pytest.approx(95, abs=0.6)


def test_match_answers_every_target_with_lab_as_predict_gives_it():
    matches = ask("match", {**MATCH, "hand": {"fitted": HANDS["heavy"].hand.fitted()}})["matches"]
    assert [m["role"] for m in matches] == ["base", "shadow", "light", "dark"]
    recipe = matches[0]["recipes"][0]
    stacks = [{"id": "x", "layers": recipe["layers"]}]
    again = ask("predict", {**PREDICT, "hand": {"fitted": HANDS["heavy"].hand.fitted()}, "stacks": stacks})["results"][0]
    assert float(delta_e_2000(np.array(again["lab"]), np.array(recipe["lab"]))) < 0.01
    assert recipe["dl"] == pytest.approx(recipe["lab"][0] - 62, abs=1e-3)
    assert "red" not in {x["colour"] for m in matches for r in m["recipes"] for x in r["layers"]}
    assert matches[3]["reach"]["ok"] is False
    assert matches[3]["reach"]["why"]


def test_match_tells_the_three_kinds_of_the_contract_alone():
    tone, bench = (41.1, 21.8, 20.8), demo_bench()
    assert "plainest" in {r.kind for r in next(iter(matches(bench, [Target("base", np.array(tone))], Rules()))).recipes}
    kit = {"surface": SURFACE, "colours": [{"id": s.id, "lab": s.lab.tolist(), "medium": s.medium} for s in bench.swatches]}
    (told,) = ask("match", {**kit, "targets": [{"role": "base", "lab": tone}]})["matches"]
    assert {r["kind"] for r in told["recipes"]} <= {"closest", "fewest", "softest"}
    assert "closest" in {r["kind"] for r in told["recipes"]}


@pytest.mark.parametrize(("command", "spared"), [("predict", ("scipy", "cv2", "PIL")), ("match", ("cv2", "PIL"))])
def test_a_command_loads_no_more_than_it_needs(command, spared):
    asked = json.dumps({"predict": PREDICT, "match": MATCH}[command])
    script = f"""
import sys
from caltin_core.cli import answer
answer({command!r}, {asked!r}.encode())
print([name for name in {spared!r} if name in sys.modules])
"""
    done = subprocess.run([sys.executable, "-c", script], capture_output=True, check=True, text=True)
    assert done.stdout == "[]\n"


def test_schema_is_2020_12_and_accepts_requests_and_answers(picture, tmp_path):
    sheet = {"title": "Two", "page": "A4", "cells": [{"cell": "1", "layers": [{"colour": "brown", "passes": 2}]}]}
    page = tmp_path / "page.png"
    drawn(lay_out("A4", ["1"]), "Two", {}).resize((1240, 1754)).point(lambda v: 0.9 * v).save(page)
    few = {**MATCH, "targets": MATCH["targets"][:1]}
    asked = {
        "predict": PREDICT, "match": few, "read": read_request(picture), "analyse": {"image": str(picture)},
        "calibrate": CALIBRATE, "sheet_print": sheet, "family": few,
        "cure": {**{k: MATCH[k] for k in ("surface", "colours")}, "done": [], "target": {"lab": [70, 10, 15]}},
        "plan": PLAN,
        "sheet_read": {"photo": str(page), "sheet": ask("sheet_print", sheet)["sheet"], "surface": PREDICT["surface"]},
        "light": LIGHT, "choose": {**few, "count": 2},
    }  # fmt: skip
    assert set(asked) == set(HOMES)
    for command, request in asked.items():
        found = schema(command)
        assert set(found) == {"request", "answer"}
        for side, body in (("request", request), ("answer", ask(command, request))):
            Draft202012Validator.check_schema(found[side])
            assert found[side]["$schema"].endswith("2020-12/schema")
            Draft202012Validator(found[side]).validate(body)


def test_light_names_the_roles_in_their_order_with_the_base_as_light_as_it_was_said_to_be():
    found = {t["role"]: t["lab"] for t in ask("light", LIGHT)["targets"]}
    assert list(found)[:7] == ["highlight", "light", "base", "half_tone", "shadow", "deepest_accent", "reflected_light"]
    assert set(found) <= SLUGS
    assert found["base"][0] == pytest.approx(68, abs=0.01)


def test_the_process_itself_answers_on_stdout_with_nothing_on_stderr():
    good = run("predict", text=json.dumps(PREDICT).encode())
    assert (good.returncode, good.stderr) == (0, b"")
    assert len(json.loads(good.stdout)["results"]) == 3
    for bad in (run("nothing", text=b"{}"), run("predict", text=b"{"), run("schema", "nothing"), run()):
        assert (bad.returncode, bad.stderr) == (2, b"")
        assert set(json.loads(bad.stdout)["error"]) == {"where", "what"}
    assert json.loads(run("schema", "match").stdout).keys() == {"request", "answer"}


def test_plan_tells_every_step_in_the_shape_asked():
    found = ask("plan", PLAN)
    assert [s["act"] for s in found["steps"]] == ["reserve", "lay", "lay", "blend", "blend"]
    assert [s.get("colour") for s in found["steps"]][1:3] == ["brown", "red"]
    assert found["colour_changes"] == 1
    assert found["sittings"] == [{"from": 0, "to": 4}]
    assert list(found["tooth_used"]) == ["cheek", "jaw", "glint"]
    assert found["steps"][0]["areas"] == ["glint"]
    twice = ask("plan", PLAN | {"sheet_cm2": 2 * 21 * 29.7})["steps"]
    assert twice[1]["cm2"] == pytest.approx(2 * found["steps"][1]["cm2"], abs=0.02)
    assert twice[1]["minutes"] > found["steps"][1]["minutes"]
