"""Colour that layers take, and how long sticks last. The numbers of a new stick are from memory; what is tested is how they are used."""

import pytest

from caltin_core.media.hand import Hand
from caltin_core.media.kinds import MEDIA
from caltin_core.media.layers import COAT, Blend, Lay, Lift, Stroke
from caltin_core.media.workbench import Workbench
from caltin_core.plan.using import A4, lasts, needs, taken, takes
from tests.core.builders import stack
from tests.core.studies import plan_bench

WAX, DYE = plan_bench("wax_pencil"), plan_bench("alcohol_marker")


def one(text, sheets=0.1, bench=WAX):
    (layer,) = stack(bench, text)
    return takes(bench, layer, sheets)


def test_twice_the_area_or_the_passes_takes_twice_the_colour():
    assert one("ochre medium 1", 0.2) == pytest.approx(2 * one("ochre medium 1"))
    assert one("ochre medium 3") == pytest.approx(3 * one("ochre medium 1"))


def test_harder_takes_more_as_this_hand_lays_it():
    order = [one(f"ochre {p} 1") for p in ("light", "medium", "firm", "burnish")]
    assert order == sorted(order)
    even = Workbench(WAX.swatches, WAX.ground, Hand(deposit=(0.4, 1.0, 2.0, 6.0)))
    assert one("ochre medium 1", 1.0, even) == pytest.approx(A4)
    assert one("ochre firm 1", 1.0, even) == pytest.approx(2 * A4)


def test_the_side_of_the_point_takes_less():
    colour = stack(WAX, "ochre medium 1")[0].colour
    sharp, side = (takes(WAX, Lay(colour, Stroke("medium", 1, point=p)), 0.1) for p in ("sharp", "side"))
    assert side < sharp


def test_a_coat_takes_its_area_and_tools_take_nothing():
    assert takes(DYE, Lay(0, Stroke(COAT, 2)), 0.5) == pytest.approx(A4 * DYE.hand.coat)
    assert takes(WAX, Blend("stump"), 1.0) == takes(WAX, Lift("kneaded"), 1.0) == 0


def test_what_layers_take_is_told_by_colour():
    layers = [*stack(WAX, "ochre light 2, cream medium 1, ochre firm 1"), Blend("stump")]
    found = taken(WAX, [(x, 0.1) for x in layers])
    first, second = (stack(WAX, f"{n} light 1")[0].colour for n in ("ochre", "cream"))
    assert set(found) == {first, second}
    assert found[first] == pytest.approx(one("ochre light 2") + one("ochre firm 1"))


def test_a_stick_lasts_as_usual_until_two_of_its_medium_ran_dry():
    usual = MEDIA["wax_pencil"].lasts
    assert lasts("wax_pencil", []) == lasts("wax_pencil", [50.0]) == usual
    assert lasts("wax_pencil", [50.0, 70.0, 600.0]) == 70


@pytest.mark.parametrize(("laid", "ran_dry", "short"), [
    ({}, {}, False),
    ({0: MEDIA["wax_pencil"].lasts - 90}, {}, True),
    ({0: 500.0}, {"wax_pencil": [550.0, 560.0]}, True),
    ({0: 500.0}, {"wax_pencil": [700.0, 900.0]}, False),
    ({0: 500.0}, {"soft_pastel": [550.0, 560.0]}, False),
])  # fmt: skip
def test_what_may_run_dry_is_told_from_what_was_laid_of_the_stick_in_hand(laid, ran_dry, short):
    (need,) = needs(WAX, {0: 100.0}, laid, ran_dry)
    assert need.short is short
    assert need.share == pytest.approx(100 / lasts("wax_pencil", ran_dry.get("wax_pencil", ())))


def test_what_is_needed_most_comes_first():
    found = needs(WAX, {0: 10.0, 1: 300.0, 2: 40.0}, {}, {})
    assert [n.colour for n in found] == [1, 2, 0]
