"""Ways that differ in kind. What a stick sold as skin is, and what a vivid drawing may do, is common practice."""

import numpy as np
import pytest

from caltin_core.colour.difference import chroma
from caltin_core.media.cautions import cautions
from caltin_core.media.predict import predict
from caltin_core.media.workbench import Workbench
from caltin_core.recipes.alternatives import alternatives, ready_made_skin
from caltin_core.recipes.rules import Rules
from caltin_core.recipes.targets import Target
from demo.kits import MARKERS_36
from tests.core.builders import demo_bench, ground, swatch

WAX = demo_bench()
SHADE = Target("shadow", np.array([40.0, 18.0, 18.0]))
TINS = ["quay" if i % 2 else "deck" for i in range(len(WAX.swatches))]


@pytest.fixture(scope="module")
def ways():
    return {a.way: a for a in alternatives(WAX, SHADE, Rules(), TINS)}


def test_every_way_leaves_out_what_it_says(ways):
    used = {way: {x.colour for x in a.recipe.layers} for way, a in ways.items() if a.recipe}
    assert not any(WAX.swatches[c].is_black for c in used["no_black"])
    assert not any(ready_made_skin(WAX.swatches[c].lab) for c in used["no_skin_colour"])
    assert {TINS[c] for c in used["one_tin"]} == {ways["one_tin"].tin}


def test_each_is_told_as_it_is_predicted(ways):
    for a in ways.values():
        assert np.allclose(predict(WAX, [a.recipe.layers])[0].lab, a.recipe.prediction.lab, atol=1e-6)


def test_the_vivid_way_holds_the_value_and_is_stronger(ways):
    seen = ways["vivid"].recipe.prediction.lab
    assert abs(seen[0] - SHADE.lab[0]) < 1.5
    assert chroma(seen) > chroma(SHADE.lab) + 5


def test_a_way_that_changes_nothing_is_not_offered():
    plain = Workbench(tuple(s for s in WAX.swatches if not s.is_black), ground())
    assert {"no_black", "one_tin"}.isdisjoint(a.way for a in alternatives(plain, SHADE, Rules()))
    assert "no_black" not in {a.way for a in alternatives(WAX, SHADE, Rules(black="never"))}


def test_with_only_skin_sticks_in_the_box_that_is_said():
    bench = Workbench((swatch("peach", (80, 14, 20)), swatch("rose", (70, 24, 16))), ground())
    (way,) = [a for a in alternatives(bench, SHADE, Rules()) if a.way == "no_skin_colour"]
    assert way.recipe is None
    assert way.why


@pytest.mark.parametrize(("lab", "skin"), [((82, 14, 17), True), ((27, 9, 11), False), ((84, 4, 76), False), ((90, 4, 9), True)])
def test_a_skin_stick_is_pale_warm_and_dull(lab, skin):
    assert ready_made_skin(np.array(lab, dtype=float)) is skin


DYE = Workbench(tuple(swatch(i, lab, "alcohol_marker", ground("card")) for i, _, lab in MARKERS_36[:14]), ground("card"))


def test_coats_are_offered_as_coats():
    for a in alternatives(DYE, Target("base", np.array([70.0, 18.0, 24.0])), Rules()):
        assert a.recipe is None or all(x.stroke.pressure == "coat" for x in a.recipe.layers)


@pytest.mark.parametrize("lab", [(70, 18, 24), (36, 16, 18)])
def test_no_way_is_warned_of_where_one_nearly_as_near_is_not(lab):
    # Common practice: a paper is full after two or three coats, and black over all deadens.
    for bench in (DYE, WAX):
        for a in alternatives(bench, Target("base", np.array(lab, dtype=float)), Rules(black="allowed")):
            assert a.recipe is None or cautions(bench, a.recipe.layers) == []
