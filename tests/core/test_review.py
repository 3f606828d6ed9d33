"""Looking back on a drawing: ranges, use, time, and what the hand tells."""

import numpy as np
import pytest

from caltin_core.colour.value import munsell_value
from caltin_core.media.predict import predict
from caltin_core.plan.review import Reached, review
from caltin_core.plan.timing import PAUSE
from tests.core.builders import plain_bench, stack

WAX = plain_bench()


def area(planned, laid=None, share=0.2, off=None, id="cheek"):
    planned = tuple(stack(WAX, planned))
    laid = planned if laid is None else tuple(stack(WAX, laid)) if laid else ()
    (target,) = (p.lab for p in predict(WAX, [planned]))
    came_out = predict(WAX, [laid])[0].lab + np.array([off, 0.0, 0.0]) if off is not None else None
    return Reached(id, share, target, planned, laid, came_out)


def test_the_range_reached_stands_beside_the_range_planned():
    light, dark = area("cream light 2"), area("black medium 3", laid="black light 1")
    found = review(WAX, [light, dark], [])
    assert found.planned == pytest.approx([float(munsell_value(a.target)) for a in (dark, light)])
    assert found.reached[0] > found.planned[0]
    assert found.reached[1] == pytest.approx(found.planned[1])
    assert review(WAX, [area("cream light 2", laid="")], []).reached is None


def test_colours_used_are_shares_of_area_and_passes():
    found = review(WAX, [area("ochre light 2, red light 1", laid="ochre light 2", share=0.3), area("red light 3", share=0.1)], [])
    used = {WAX.swatches[u.colour].id: (u.share, u.planned) for u in found.used}
    assert used["ochre"] == pytest.approx((0.6 / 0.9, 0.6 / 1.2))
    assert used["red"] == pytest.approx((0.3 / 0.9, 0.6 / 1.2))
    assert sum(u.share for u in found.used) == pytest.approx(1)


def test_time_is_shared_among_the_areas_of_a_mark_and_a_pause_is_no_work():
    areas = [area("ochre light 2"), area("red light 1")]
    marks = [(0, [0]), (6, [0, 1]), (10, [1]), (10 + PAUSE + 20, [0]), (13 + PAUSE + 20, [0])]
    assert review(WAX, areas, marks).minutes == pytest.approx([3 + 3, 3 + 4])


@pytest.mark.parametrize(("off", "words"), [(-3.0, "press harder"), (3.0, "more softly"), (0.5, "as this hand was thought")])
def test_a_hand_that_differs_from_its_profile_is_told(off, words):
    areas = [area(r, off=off) for r in ("ochre light 2", "red light 2", "cream light 2, red light 1")]
    found = review(WAX, areas, [])
    assert found.habit == pytest.approx(off)
    assert words in found.learnt
    assert found.differs == (abs(off) > 1)


def test_two_places_tell_nothing_of_a_hand():
    found = review(WAX, [area("ochre light 2", off=-5), area("red light 2", off=-5)], [])
    assert found.habit is None
    assert "1 more place " in found.learnt
