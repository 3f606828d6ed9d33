"""The finish wanted on an area, and the drawing beneath the colours. Common practice, without a source."""

import json

import pytest

from caltin_core.cli import answer
from caltin_core.media.layers import Blend, Lay, Stroke
from caltin_core.plan.finish import finished, suits
from caltin_core.plan.make import plan
from caltin_core.plan.steps import Area
from tests.core.builders import PLAIN, stack
from tests.core.studies import plan_bench

WAX, DYE, CHALK = plan_bench("wax_pencil"), plan_bench("alcohol_marker"), plan_bench("soft_pastel")
DYE_COAT = Stroke("coat", 1)


def test_a_smooth_finish_closes_wax_with_the_blender_and_chalk_with_a_stump_and_dye_needs_none():
    soft = stack(WAX, "ochre light 2, red light 1")
    assert finished(WAX, soft, 1.0) == (*soft, Blend("blender"))
    assert finished(CHALK, soft, 1.0) == (*soft, Blend("stump"))
    assert finished(WAX, soft, 0.5) == finished(WAX, soft, None) == tuple(soft)
    coats = [Lay(x.colour, DYE_COAT) for x in soft]
    assert finished(DYE, coats, 1.0) == tuple(coats)


def test_what_is_closed_already_is_not_closed_again():
    for layers in (stack(WAX, "ochre light 2, cream burnish 1"), [*stack(WAX, "ochre light 2"), Blend("blender")]):
        once = finished(WAX, layers, 1.0)
        assert once == tuple(layers) == finished(WAX, once, 1.0)


def test_the_blend_comes_last_on_its_area():
    layers = tuple(stack(WAX, "ochre medium 2, red light 1"))
    plain, smooth = (plan(WAX, [Area("cheek", layers, 0.2, finish=f)]) for f in (None, 1.0))
    assert [s.does for s in plain.steps] == ["lay", "lay"]
    assert [s.does for s in smooth.steps] == ["lay", "lay", "blend"]
    assert smooth.steps[-1].numbers == (2,)


def test_a_grain_that_is_wanted_and_closed_is_told():
    areas = [Area("cheek", tuple(stack(WAX, "ochre light 2, cream burnish 2")), 0.2, finish=0.1)]
    (found,) = plan(WAX, areas).conflicts
    assert "closes the grain" in found.what
    assert found.nearest == "press firmly instead"


@pytest.mark.parametrize(("drawing", "lifted"), [("graphite", True), ("pale_pencil", False), ("none", False)])
def test_graphite_is_lifted_to_a_ghost_before_anything_is_laid(drawing, lifted):
    areas = [Area(n, tuple(stack(WAX, "ochre light 2")), 0.2) for n in "ab"]
    steps = plan(WAX, areas, under_drawing=drawing).steps
    assert (steps[0].does == "lift") == lifted
    if lifted:
        assert steps[0].areas == (0, 1)
        assert "ghost" in steps[0].why


def test_an_under_drawing_that_spoils_the_colours_is_told_with_what_suits():
    areas = [Area("cheek", (Lay(0, DYE_COAT),), 0.2)]
    (found,) = plan(DYE, areas, under_drawing="graphite").conflicts
    assert "a line that does not bleed" in found.nearest
    assert plan(DYE, areas, under_drawing="fine_line").conflicts == ()
    assert suits("pastel", "charcoal") == ""


def test_the_command_takes_both_as_optional_keys():
    ask = {
        "surface": {"name": "sheet", "lab": [95, 0, 2], "tooth": "vellum"},
        "colours": [{"id": n, "medium": "wax_pencil", "lab": list(PLAIN[n])} for n in ("ochre", "red")],
        "areas": [{"id": "cheek", "share": 0.3, "finish": 1, "layers": [{"colour": "ochre", "pressure": "light", "passes": 2}]}],
        "route": "sheet", "under_drawing": "graphite",
    }  # fmt: skip
    said = answer("plan", json.dumps(ask).encode())
    assert [s["act"] for s in said["steps"]] == ["lift", "lay", "blend"]
