"""What the command line refuses: where and what is wrong."""

import json

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from caltin_core.cli import answer
from caltin_core.errors import BadRequest
from tests.core.asking import CALIBRATE, LIGHT, MARKERS, MATCH, PLAN, PREDICT, changed, fault


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
