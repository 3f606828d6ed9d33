"""Kept recipes carried to another kit or paper."""

import numpy as np
import pytest

from caltin_core.media.predict import predict
from caltin_core.media.workbench import Workbench
from caltin_core.recipes.carry import carried
from caltin_core.recipes.proposed import proposed_of
from caltin_core.recipes.rules import Rules
from caltin_core.recipes.targets import Target
from tests.core.builders import PLAIN, ground, plain_bench, stack, swatch

WAX = plain_bench()
KEPT = {"base": "ochre light 2, red light 1", "shadow": "brown firm 3, blue medium 2", "light": "cream medium 2"}


def looked():
    seen = predict(WAX, [stack(WAX, r) for r in KEPT.values()])
    return [Target(role, s.lab) for role, s in zip(KEPT, seen, strict=True)]


def test_on_its_own_kit_and_paper_nothing_is_lost():
    for one in carried(WAX, looked(), Rules()):
        assert one.lost == ""
        assert one.recipe.difference.de00 < 1


def test_of_recipes_that_lose_nothing_the_plain_one_is_taken_and_else_the_closest():
    for one in carried(WAX, looked(), Rules()):
        fine = [r for r in one.match.recipes if r.difference.de00 <= 1]
        assert one.recipe is proposed_of(WAX, fine)
        # Two colours are taken before a single one.
        assert len(one.recipe.layers) <= max(len(one.match.recipes[0].layers), 2)
    far = [Target("base", np.array([60.0, -40.0, 10.0]))]
    (one,) = carried(WAX, far, Rules())
    assert one.lost
    assert one.recipe is one.match.recipes[0]


def test_with_a_poor_kit_what_is_lost_is_told_with_what_would_help():
    sheet = ground("vellum")
    few = Workbench(tuple(swatch(n, PLAIN[n], "wax_pencil", sheet) for n in ("ochre", "cream", "white")), sheet)
    found = {c.match.role: c for c in carried(few, looked(), Rules())}
    assert "ΔE00" in found["shadow"].lost
    assert found["shadow"].match.reach.would_help in found["shadow"].lost
    assert found["light"].lost == ""


@pytest.mark.parametrize("together", [3, 5])
def test_a_family_is_carried_within_so_many_colours(together):
    found = carried(WAX, looked(), Rules(), together)
    used = {x.colour for c in found for x in c.recipe.layers}
    assert len(used) <= together


def test_the_order_of_what_is_kept_does_not_matter():
    one, other = carried(WAX, looked(), Rules()), carried(WAX, looked()[::-1], Rules())[::-1]
    for a, b in zip(one, other, strict=True):
        assert np.allclose(a.recipe.prediction.lab, b.recipe.prediction.lab)
