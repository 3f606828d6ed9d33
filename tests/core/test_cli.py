"""The command line is a contract: shapes, order, errors, schema."""

import copy
import io
import json
import subprocess
import sys
from pathlib import Path

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from jsonschema import Draft202012Validator
from PIL import Image

from caltin_core.charts.layout import lay_out
from caltin_core.charts.printing import drawn
from caltin_core.cli import HOMES, answer, schema
from caltin_core.colour.difference import delta_e_2000
from caltin_core.errors import BadRequest
from caltin_core.media.hand import HANDS
from caltin_core.reference.roles import SLUGS
from tests.core.pictures import sphere

SURFACE = {"name": "vellum", "lab": [95, 0, 2], "tooth": "vellum"}
COLOURS = [
    {"id": "brown", "lab": [31, 18, 21], "medium": "wax_pencil"},
    {"id": "cream", "hex": "#f0e2c4", "medium": "oil_pencil", "handling": {"hardness": 4, "chalky": True}},
    {
        "id": "red",
        "reflectance": {"start": 380, "step": 20, "values": [0.05] * 10 + [0.3, 0.5] + [0.6] * 5},
        "medium": "wax_pencil",
    },
    {"id": "black", "lab": [22, 0, 0], "medium": "wax_pencil", "on": {"name": "card", "hex": "#ffffff", "tooth": "card"}},
]
PREDICT = {
    "surface": SURFACE,
    "colours": COLOURS,
    "stacks": [
        {"id": "b", "layers": [{"colour": "brown", "pressure": "light", "passes": 2, "point": "side", "turned": True}]},
        {
            "id": "a",
            "layers": [
                {"repeat": [{"colour": "red", "pressure": "firm", "passes": 1}, {"blend": "stump"}], "times": 2},
                {"lift": "stick"},
            ],
        },
        {"id": "empty", "layers": []},
    ],
}
PLAN = {
    "surface": SURFACE,
    "colours": COLOURS,
    "route": "colour",
    "sitting_minutes": 30,
    "areas": [
        {
            "id": "cheek",
            "share": 0.4,
            "layers": [{"colour": "red", "pressure": "light", "passes": 2}, {"repeat": [{"blend": "stump"}], "times": 2}],
            "neighbours": [{"area": "jaw", "edge": "soft"}],
        },
        {"id": "jaw", "share": 0.2, "layers": [{"colour": "brown", "pressure": "firm", "passes": 1}], "x": 0.2, "y": 0.9},
        {"id": "glint", "share": 0.01, "layers": []},
    ],
}
MATCH = {
    "surface": SURFACE,
    "colours": COLOURS,
    "targets": [
        {"role": "base", "lab": [62, 18, 20]},
        {
            "role": "shadow",
            "hex": "#4a3028",
            "black": "under",
            "start": {"layers": [{"colour": "cream", "pressure": "light", "passes": 1}]},
        },
        {"role": "light", "lab": [70, 12, 14], "start": {"hex": "#e8d8c8", "tooth_used": 0.2, "medium": "wax_pencil"}},
        {"role": "dark", "lab": [4, 0, 0]},
    ],
    "rules": {"max_layers": 3, "max_colours": 2, "prefer": ["brown"], "avoid": ["red"]},
}


LIGHT = {
    "base": {"lab": [68, 16, 20]},
    "key": {"kelvin": 3000, "elevation": 30, "azimuth": 50},
    "fill": {"kelvin": 7000, "stops_below": 2},
    "bounce": {"hex": "#a03020", "strength": 0.6},
}
CALIBRATE = {
    "surface": SURFACE,
    "colours": COLOURS,
    "patches": [
        {"layers": [{"colour": "brown", "pressure": "light", "passes": 3}], "lab": [76, 6, 9]},
        {"layers": [{"colour": "brown", "pressure": "firm", "passes": 2}], "hex": "#8a6650"},
        {"layers": [{"colour": "red", "pressure": "medium", "passes": 2}, {"blend": "stump"}], "lab": [66, 26, 18]},
        {
            "layers": [{"repeat": [{"colour": "cream", "pressure": "medium", "passes": 1}], "times": 2}],
            "reflectance": {"start": 380, "step": 10, "values": [0.6] * 10 + [0.75] * 26},
        },
    ],
}


def ask(command, request):
    return answer(command, json.dumps(request).encode())


def fault(command, request):
    with pytest.raises(BadRequest) as found:
        answer(command, request if isinstance(request, bytes) else json.dumps(request).encode())
    return found.value


def changed(request, path, value):
    """The request with the value at a path such as ``colours.0.lab`` replaced, or removed for KeyError."""
    out = copy.deepcopy(request)
    *way, last = [int(p) if p.isdigit() else p for p in path.split(".")]
    place = out
    for part in way:
        place = place[part]
    if value is KeyError:
        del place[last]
    elif isinstance(place, list) and last == len(place):
        place.append(value)
    else:
        place[last] = value
    return out


@pytest.fixture
def picture(tmp_path):
    pixels = np.zeros((80, 120, 3), dtype=np.uint8)
    pixels[:, :60] = (210, 160, 130)
    pixels[:, 60:] = (70, 45, 35)
    Image.fromarray(pixels).save(tmp_path / "two.png")
    return str(tmp_path / "two.png")


def read_request(picture):
    points = [{"role": "light", "x": 20, "y": 20, "radius": 6}, {"role": "shadow", "x": 100, "y": 50, "radius": 0}]
    return {"image": picture, "points": points, "values": 4, "white": [20, 60]}


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


def test_read_reads_places_values_and_ends(picture):
    found = ask("read", read_request(picture))
    assert [p["role"] for p in found["points"]] == ["light", "shadow"]
    assert found["points"][0]["lab"][1:] == pytest.approx([0, 0], abs=1e-3)
    assert len(found["zones"]) == 4
    assert sum(z["share"] for z in found["zones"]) == pytest.approx(1)
    assert found["darkest"]["x"] >= 60 > found["lightest"]["x"]


def test_schema_is_2020_12_and_accepts_requests_and_answers(picture, tmp_path):
    sheet = {"title": "Two", "page": "A4", "cells": [{"cell": "1", "layers": [{"colour": "brown", "passes": 2}]}]}
    page = tmp_path / "page.png"
    drawn(lay_out("A4", ["1"]), "Two", {}).resize((1240, 1754)).point(lambda v: 0.9 * v).save(page)
    asked = {
        "predict": PREDICT, "match": MATCH, "read": read_request(picture), "analyse": {"image": str(picture)},
        "calibrate": CALIBRATE, "sheet_print": sheet, "family": MATCH,
        "cure": {**{k: MATCH[k] for k in ("surface", "colours")}, "done": [], "target": {"lab": [70, 10, 15]}},
        "plan": PLAN,
        "sheet_read": {"photo": str(page), "sheet": ask("sheet_print", sheet)["sheet"], "surface": PREDICT["surface"]},
        "light": LIGHT,
    }  # fmt: skip
    assert set(asked) == set(HOMES)
    for command, request in asked.items():
        found = schema(command)
        assert set(found) == {"request", "answer"}
        for side, body in (("request", request), ("answer", ask(command, request))):
            Draft202012Validator.check_schema(found[side])
            assert found[side]["$schema"].endswith("2020-12/schema")
            Draft202012Validator(found[side]).validate(body)


@pytest.mark.parametrize(
    ("path", "value", "where"),
    [
        ("surface", KeyError, "surface"),
        ("surface.tooth", "rough", "surface.tooth"),
        ("surface.gloss", 1, "surface.gloss"),
        ("surface.lab.0", float("nan"), "surface.lab[0]"),
        ("surface.lab.0", 101, "surface.lab[0]"),
        ("surface.lab", [1, 2], "surface.lab[2]"),
        ("colours.0.hex", "#112233", "colours[0].hex"),
        ("colours.0.lab", KeyError, "colours[0].lab"),
        ("colours.1.hex", "#12345", "colours[1].hex"),
        ("colours.1.id", "brown", "colours[1].id"),
        ("colours.1.medium", "crayon", "colours[1].medium"),
        ("colours.1.handling.hardness", 6, "colours[1].handling.hardness"),
        ("colours.2.reflectance.start", 410, "colours[2].reflectance.values"),
        ("colours.2.reflectance.values.3", -0.1, "colours[2].reflectance.values[3]"),
        ("colours.2.reflectance.step", 30, "colours[2].reflectance.step"),
        ("colours.3.on.tooth", KeyError, "colours[3].on.tooth"),
        ("stacks.1.id", "b", "stacks[1].id"),
        ("stacks.0.layers.0.colour", "teal", "stacks[0].layers[0].colour"),
        ("stacks.0.layers.0.passes", 7, "stacks[0].layers[0].passes"),
        ("stacks.0.layers.0.passes", 1.5, "stacks[0].layers[0].passes"),
        ("stacks.0.layers.0.pressure", KeyError, "stacks[0].layers[0].pressure"),
        ("stacks.0.layers.0.wet", True, "stacks[0].layers[0].wet"),
        ("stacks.1.layers.0.times", 7, "stacks[1].layers[0].times"),
        ("stacks.1.layers.1.lift", "crowbar", "stacks[1].layers[1].lift"),
        ("stacks.1.layers.1", 5, "stacks[1].layers[1]"),
        ("stacks.1.layers.0.repeat.0", {"repeat": [{"blend": "stump"}], "times": 2}, "stacks[1].layers[0].repeat[0].repeat"),
        ("stacks.0.layers", [{"repeat": [{"blend": "stump"}] * 41, "times": 5}], "stacks[0].layers"),
        ("illuminant", "E", "illuminant"),
        ("hand", {"fitted": {"strength": 2}}, "hand.fitted"),
        ("colour", [], "colour"),
    ],
)  # fmt: skip
def test_a_bad_request_says_where_and_what(path, value, where):
    found = fault("predict", changed(PREDICT, path, value))
    assert found.where == where
    assert len(found.what) > 8


@pytest.mark.parametrize(
    ("path", "value", "where"),
    [
        ("rules.avoid", ["teal"], "rules.avoid[0]"),
        ("rules.prefer", ["brown", "teal"], "rules.prefer[1]"),
        ("rules.black", "sometimes", "rules.black"),
        ("rules.max_layers", 0, "rules.max_layers"),
        ("targets.0.lab", KeyError, "targets[0].lab"),
        ("targets.1.start.layers.0.colour", "teal", "targets[1].start.layers[0].colour"),
        ("targets.2.start.tooth_used", 1.2, "targets[2].start.tooth_used"),
        ("targets.2.start.lab", [50, 0, 0], "targets[2].start.hex"),
    ],
)
def test_a_bad_match_says_where_and_what(path, value, where):
    assert fault("match", changed(MATCH, path, value)).where == where


@pytest.mark.parametrize(
    ("path", "value", "where"),
    [
        ("base.lab", KeyError, "base.lab"),
        ("base.lab", [1, 0, 0], "base"),
        ("key.kelvin", KeyError, "key"),
        ("key.illuminant", "A", "key"),
        ("key.kelvin", 900, "key.kelvin"),
        ("key.elevation", 91, "key.elevation"),
        ("key.azimuth", float("nan"), "key.azimuth"),
        ("fill.stops_below", -1, "fill.stops_below"),
        ("bounce.strength", 1.5, "bounce.strength"),
        ("bounce.strength", KeyError, "bounce.strength"),
    ],
)
def test_a_bad_light_says_where_and_what(path, value, where):
    assert fault("light", changed(LIGHT, path, value)).where == where


def test_light_names_the_roles_in_their_order_with_the_base_as_light_as_it_was_said_to_be():
    found = {t["role"]: t["lab"] for t in ask("light", LIGHT)["targets"]}
    assert list(found)[:7] == ["highlight", "light", "base", "half_tone", "shadow", "deepest_accent", "reflected_light"]
    assert set(found) <= SLUGS
    assert found["base"][0] == pytest.approx(68, abs=0.01)


def test_a_bad_read_says_where_and_what(picture, tmp_path):
    request = read_request(picture)
    (tmp_path / "letter.png").write_text("not a picture")
    assert fault("read", {**request, "image": str(tmp_path / "letter.png")}).where == "image"
    assert fault("read", {**request, "image": str(tmp_path / "nothing.png")}).where == "image"
    assert fault("read", {**request, "white": [500, 1]}).where == "white[0]"
    assert fault("read", changed(request, "points.1.x", 4000)).where == "points[1].x"
    assert fault("read", changed(request, "points.0.radius", -1)).where == "points[0].radius"


@pytest.mark.parametrize("text", [b"", b"{", b"[]", b"3", b"\xff\xfe", b'{"surface": ' + b"[" * 100_000])
def test_what_is_no_json_object_is_refused_as_a_whole(text):
    assert fault("predict", text).where == ""


@settings(max_examples=60)
@given(
    st.recursive(
        st.none() | st.booleans() | st.floats() | st.text(max_size=5),
        lambda x: st.lists(x, max_size=3) | st.dictionaries(st.text(max_size=8), x, max_size=3),
        max_leaves=8,
    ),
    st.sampled_from(["surface", "colours.0", "stacks.0", "stacks.0.layers.0", "colours.2.reflectance"]),
)
def test_any_json_in_any_place_is_answered_or_refused(value, path):
    request = json.dumps(changed(PREDICT, path, value)).encode()
    try:
        assert "results" in answer("predict", request)
    except BadRequest as found:
        assert found.what


def run(*arguments, text=b""):
    return subprocess.run(
        [sys.executable, "-m", "caltin_core", *arguments], input=text, capture_output=True, cwd=Path(__file__).parents[2]
    )


def test_the_process_itself_answers_on_stdout_with_nothing_on_stderr():
    good = run("predict", text=json.dumps(PREDICT).encode())
    assert (good.returncode, good.stderr) == (0, b"")
    assert len(json.loads(good.stdout)["results"]) == 3
    for bad in (run("nothing", text=b"{}"), run("predict", text=b"{"), run("schema", "nothing"), run()):
        assert (bad.returncode, bad.stderr) == (2, b"")
        assert set(json.loads(bad.stdout)["error"]) == {"where", "what"}
    assert json.loads(run("schema", "match").stdout).keys() == {"request", "answer"}


@pytest.fixture
def face(tmp_path):
    made = sphere(0.9, 0.3, direction=150, flush=0.4)
    path = tmp_path / "face.png"
    Image.fromarray(made.pixels).save(path)
    return path, made


def test_analyse_reads_skin_light_flush_and_zones(face):
    path, made = face
    found = ask("analyse", {"image": str(path)})
    assert found["skin_share"] == pytest.approx(made.mask.mean(), rel=0.2)
    assert abs((found["light"]["direction"] - 150 + 180) % 360 - 180) < 15
    assert found["flush"]
    assert made.spot[found["flush"][0]["y"], found["flush"][0]["x"]]
    assert sum(z["share"] for z in found["zones"]) == pytest.approx(1, abs=1e-3)
    for zone in found["zones"]:
        assert made.mask[zone["y"], zone["x"]]
    assert found["undertone"]["ita_class"] in ("very light", "light", "intermediate", "tan", "brown", "dark")


def test_analyse_in_a_box_tells_places_of_the_whole_picture(face, tmp_path):
    _, made = face
    wide = np.full((500, 900, 3), 110, dtype=np.uint8)
    wide[50:450, 420:820] = made.pixels
    Image.fromarray(wide).save(tmp_path / "wide.png")
    found = ask("analyse", {"image": str(tmp_path / "wide.png"), "box": [420, 50, 400, 400], "white": [10, 10]})
    assert all(420 <= z["x"] < 820 and 50 <= z["y"] < 450 for z in found["zones"])


@pytest.mark.parametrize(
    ("more", "where"),
    [
        ({"box": [0, 0, 3, 3]}, "box"),
        ({"box": [300, 300, 400, 400]}, "box"),
        ({"box": [0, 0, 10]}, "box[3]"),
        ({"white": [5000, 1]}, "white[0]"),
        ({"mood": "calm"}, "mood"),
        ({"image": "no/such/picture.png"}, "image"),
    ],
)
def test_what_is_wrong_with_an_analysis_is_told(face, more, where):
    assert fault("analyse", {"image": str(face[0]), **more}).where == where


def test_a_damaged_picture_leaves_the_error_stream_empty(tmp_path):
    out = io.BytesIO()
    Image.fromarray(sphere().pixels).save(out, "TIFF", compression="jpeg")
    (tmp_path / "cut.tif").write_bytes(out.getvalue()[:-900])
    command = [sys.executable, "-m", "caltin_core", "analyse"]
    done = subprocess.run(
        command,
        input=json.dumps({"image": str(tmp_path / "cut.tif")}),
        capture_output=True,
        text=True,
        cwd=Path(__file__).parents[2],
    )
    assert (done.returncode, done.stderr) == (2, "")
    assert json.loads(done.stdout)["error"]["where"] == "image"


MARKERS = {
    "surface": {"name": "card", "lab": [96, 0, 1], "tooth": "card"},
    "colours": [
        {"id": "skin", "lab": [84, 10, 16], "medium": "alcohol_marker"},
        {"id": "grey", "lab": [66, -1, -4], "medium": "alcohol_marker"},
        {"id": "cream", "lab": [90, 1, 18], "medium": "wax_pencil"},
    ],
    "stacks": [
        {"id": "coats", "layers": [{"colour": "skin", "passes": 2}, {"colour": "grey", "passes": 1, "wet": True}]},
        {"id": "both", "layers": [{"colour": "skin", "passes": 1}, {"colour": "cream", "pressure": "light", "passes": 2}]},
    ],
}


def test_coats_and_passes_stand_side_by_side_and_warnings_are_told():
    coats, both = ask("predict", MARKERS)["results"]
    assert "dead" in coats["cautions"][0]
    assert "cautions" not in both
    assert 0 < coats["tooth_used"] < 1


@pytest.mark.parametrize(
    ("path", "value", "where"),
    [
        ("stacks.0.layers.0", {"colour": "skin", "pressure": "light", "passes": 2}, "stacks[0].layers[0].pressure"),
        ("stacks.1.layers.1", {"colour": "cream", "passes": 2}, "stacks[1].layers[1].pressure"),
        ("stacks.1.layers.1", {"colour": "cream", "passes": 2, "wet": True}, "stacks[1].layers[1].wet"),
        ("stacks.0.layers.0.passes", 7, "stacks[0].layers[0].passes"),
        ("stacks.0.layers.0.wet", 1, "stacks[0].layers[0].wet"),
        ("stacks.0.layers.0", {"colour": "skin", "passes": 2, "turned": True}, "stacks[0].layers[0].pressure"),
        ("surface.fitted", {"tooth": [1]}, "surface.fitted"),
        ("colours.0.fitted", {"own": [1]}, "colours[0].fitted"),
    ],
)
def test_what_a_medium_cannot_do_is_told_with_its_place(path, value, where):
    found = fault("predict", changed(MARKERS, path, value))
    assert found.where == where
    assert len(found.what) > 8


def test_markers_are_matched_in_coats():
    request = {k: MARKERS[k] for k in ("surface",)} | {
        "colours": MARKERS["colours"][:2],
        "targets": [{"role": "base", "lab": [72, 8, 10]}],
    }
    best = ask("match", request)["matches"][0]["recipes"][0]
    assert all("pressure" not in layer for layer in best["layers"])
    again = ask("predict", {**{k: request[k] for k in ("surface", "colours")}, "stacks": [{"id": "a", "layers": best["layers"]}]})
    assert again["results"][0]["lab"] == pytest.approx(best["lab"], abs=0.01)


@pytest.mark.parametrize(
    ("path", "value", "where"),
    [
        ("patches", [], "patches"),
        ("patches.0.lab", KeyError, "patches[0].lab"),
        ("patches.0.lab.1", float("nan"), "patches[0].lab[1]"),
        ("patches.0.layers.0.colour", "teal", "patches[0].layers[0].colour"),
        ("patches.3.reflectance.values.4", -0.1, "patches[3].reflectance.values[4]"),
        ("patches.0.layers", [{"repeat": [{"blend": "stump"}] * 2000, "times": 5}], "patches[0].layers[0].repeat"),
        ("hand", {"fitted": {}}, "hand"),
    ],
)
def test_a_bad_calibration_says_where_and_what(path, value, where):
    found = fault("calibrate", changed(CALIBRATE, path, value))
    assert found.where == where
    assert len(found.what) > 8


def test_other_lights_are_told_where_the_spectra_were_measured():
    spectrum = {"start": 400, "step": 20, "values": [0.1] * 8 + [0.5] * 8}
    request = {
        "surface": SURFACE,
        "colours": [
            {"id": "red", "reflectance": spectrum, "medium": "wax_pencil"},
            {"id": "tan", "lab": [66, 16, 26], "medium": "wax_pencil"},
        ],
        "targets": [{"role": "base", "reflectance": spectrum}],
        "rules": {"avoid": ["tan"]},
        "lights": ["A", "LED-B3"],
    }
    recipe = ask("match", request)["matches"][0]["recipes"][0]
    assert [light["illuminant"] for light in recipe["lights"]] == ["A", "LED-B3"]
    assert all(light["de00"] >= 0 and light["words"] for light in recipe["lights"])
    unknown = ask("match", {**request, "rules": {"avoid": ["red"]}})["matches"][0]["recipes"][0]["lights"][0]
    assert unknown == {"illuminant": "A", "words": "not known"}

    started = {"lab": [80, 4, 12], "tooth_used": 0.1, "medium": "wax_pencil"}
    (target,) = request["targets"]
    on = ask("match", {**request, "targets": [{**target, "start": started}]})["matches"][0]["recipes"][0]["lights"][0]
    assert on == {"illuminant": "A", "words": "not known"}


def _pressed(colour, pressure, passes):
    return {"colour": colour, "pressure": pressure, "passes": passes}


_ON = {
    "wax_pencil": [_pressed("pale", "medium", 3), _pressed("red", "burnish", 1)],
    "soft_pastel": [_pressed("pale", "firm", 2), _pressed("red", "light", 2), {"blend": "stump"}],
    "alcohol_marker": [{"colour": "pale", "passes": 2}, {"colour": "red", "passes": 1, "wet": True}],
}


@pytest.mark.parametrize("command", ["match", "family"])
@pytest.mark.parametrize("medium", _ON)
def test_what_is_laid_on_known_layers_is_predicted_as_if_all_were_laid_at_once(medium, command):
    labs = {"pale": [84, 8, 20], "red": [58, 34, 26], "dark": [44, 14, -16]}
    kit = {
        "surface": {"name": "sheet", "lab": [93, 0, 4], "tooth": "vellum"},
        "colours": [{"id": name, "lab": lab, "medium": medium} for name, lab in labs.items()],
    }
    target = {"role": "shadow", "lab": [50, 22, 14], "start": {"layers": _ON[medium]}}
    found = ask(command, {**kit, "targets": [target], "rules": {"max_layers": 2}})["matches"][0]["recipes"]
    stacks = [{"id": str(i), "layers": [*_ON[medium], *r["layers"]]} for i, r in enumerate(found)]
    for recipe, seen in zip(found, ask("predict", {**kit, "stacks": stacks})["results"], strict=True):
        assert recipe["lab"] == pytest.approx(seen["lab"], abs=2e-3)
        assert recipe["uncertainty_de00"] == pytest.approx(seen["uncertainty_de00"], abs=2e-3)
        assert recipe["tooth_used"] == pytest.approx(seen["tooth_used"], abs=1e-4)
        assert [a["hex"] for a in recipe["after"]] == [a["hex"] for a in seen["after"]][-len(recipe["layers"]) :]


def test_layers_are_warned_of_together_with_what_is_drawn_already():
    start = {"layers": [{"colour": "dye", "passes": 6}]}
    request = {"surface": SURFACE, "colours": [{"id": "dye", "lab": [50, 30, 20], "medium": "alcohol_marker"}]}
    warned, not_warned = (
        ask("match", {**request, "targets": [{"role": "base", "lab": [20, 40, 26], **on}]})["matches"][0]["recipes"][0]
        for on in ({"start": start}, {})
    )
    assert any("coats in one place" in said for said in warned["cautions"])
    assert not any("coats in one place" in said for said in not_warned.get("cautions", ()))


_MIXED = [
    {"id": "wax", "lab": [66, 16, 26], "medium": "wax_pencil"},
    {"id": "pale wax", "lab": [88, 3, 14], "medium": "oil_pencil"},
    {"id": "dye", "lab": [45, 20, 24], "medium": "alcohol_marker"},
    {"id": "red dye", "lab": [55, 40, 25], "medium": "alcohol_marker"},
    {"id": "pen", "lab": [97, 0, 0], "medium": "white_pen"},
]


@pytest.mark.parametrize("lab", [[50, 18, 22], [80, 8, 16]])
def test_no_recipe_and_no_cure_lays_marker_on_wax_or_anything_on_the_white_pen(lab):
    # Both fail; common practice.
    medium = {c["id"]: c["medium"] for c in _MIXED}
    kit = {"surface": SURFACE, "colours": _MIXED}
    done = [_pressed("wax", "medium", 3)]
    targets = [{"role": "bare", "lab": lab}, {"role": "on", "lab": lab, "start": {"layers": done}}]
    started = {"lab": [66, 14, 24], "tooth_used": 0.3, "medium": "wax_pencil"}
    targets.append({"role": "on a colour", "lab": lab, "start": started})
    found = [*ask("match", {**kit, "targets": targets})["matches"], *ask("family", {**kit, "targets": targets[:2]})["matches"]]
    cured = ask("cure", {**kit, "done": done, "target": {"lab": lab}})["cures"]
    stacks = [[*([] if m["role"] == "bare" else done), *r["layers"]] for m in found for r in m["recipes"]]
    stacks += [[*done, *c["layers"]] for c in cured]
    assert stacks
    for layers in stacks:
        laid = [medium[x["colour"]] for x in layers if "colour" in x]
        for at, one in enumerate(laid):
            over = set(laid[at + 1 :])
            assert not ("pencil" in one and "alcohol_marker" in over), layers
            assert not (one == "white_pen" and over - {"white_pen"}), layers


def test_where_nothing_holds_on_what_lies_there_it_is_said():
    start = {"layers": [_pressed("wax", "medium", 3)]}
    request = {"surface": SURFACE, "colours": _MIXED, "targets": [{"role": "base", "lab": [40, 18, 20], "start": start}]}
    (match,) = ask("match", {**request, "rules": {"avoid": ["wax", "pale wax", "pen"]}})["matches"]
    assert match["recipes"] == []
    assert match["reach"]["why"] == "nothing in use here holds on what lies there"


def test_a_sheet_said_again_is_the_same_sheet():
    again = [{**c, "on": SURFACE} if "on" not in c else c for c in CALIBRATE["colours"]]
    found, said = ask("calibrate", CALIBRATE), ask("calibrate", {**CALIBRATE, "colours": again})
    assert said["surface"] == found["surface"]
    assert said["residuals"] == found["residuals"]
    # And so it is when all that was found goes back: the sheet is then told of with its fit.
    asked, (brown, *_) = {**found, "stacks": PREDICT["stacks"][:1]}, found["colours"]
    del asked["residuals"]
    dark = {**SURFACE, "lab": [30, 0, 0]}
    alone, same, other = ([{**brown, **on}] for on in ({}, {"on": SURFACE}, {"on": dark}))
    alone, same, other = (ask("predict", {**asked, "colours": colours}) for colours in (alone, same, other))
    assert alone == same != other


def test_a_hand_measured_before_coats_were_known_is_taken():
    fitted = HANDS["heavy"].hand.fitted()
    without = {k: v for k, v in fitted.items() if k != "coat"}
    assert ask("predict", {**PREDICT, "hand": {"fitted": without}})["results"][0]["lab"] == pytest.approx(
        ask("predict", {**PREDICT, "hand": {"fitted": {**fitted, "coat": 1.0}}})["results"][0]["lab"]
    )


def test_what_is_out_of_reach_is_said_in_the_words_of_its_medium():
    def why(medium, lab, target):
        request = {
            "surface": SURFACE,
            "colours": [{"id": "a", "lab": lab, "medium": medium}],
            "targets": [{"role": "x", "lab": target}],
        }
        return ask("match", request)["matches"][0]["reach"]["why"]

    assert "darkest pencil" in why("wax_pencil", [40, 2, 2], [12, 1, 1])
    assert "darkest soft pastel" in why("soft_pastel", [40, 2, 2], [12, 1, 1])
    assert "pencil" not in why("alcohol_marker", [80, 2, 2], [8, 0, 0])
    assert "pencil" not in why("soft_pastel", [40, 2, 2], [99, 0, 0])


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


@pytest.mark.parametrize(
    ("path", "value", "where"),
    [
        ("areas.1.id", "cheek", "areas[1].id"), ("areas.0.neighbours.0.area", "chin", "areas[0].neighbours[0].area"),
        ("areas.0.neighbours.0.area", "cheek", "areas[0].neighbours[0].area"), ("areas.1.y", KeyError, "areas[1]"),
        ("areas.0.layers.0.colour", "puce", "areas[0].layers[0].colour"), ("route", "any", "route"), ("school", "mine", "school"),
        ("areas.0.share", 2, "areas[0].share"), ("sitting_minutes", 0, "sitting_minutes"),
        ("sheet_cm2", 0, "sheet_cm2"),
    ],
)  # fmt: skip
def test_a_plan_that_cannot_be_is_refused_where_it_is_wrong(path, value, where):
    assert fault("plan", changed(PLAN, path, value)).where == where
