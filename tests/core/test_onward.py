"""Going on from what lies there: a wrong colour, a colour run dry, a lift; no plan needs what is no longer possible."""

import numpy as np
import pytest

from caltin_core.colour.difference import delta_e_2000
from caltin_core.media.layers import STROKE_INDEX, Lay, Lift, Stroke, lays
from caltin_core.media.predict import predict
from caltin_core.recipes.onward import onward
from caltin_core.recipes.rules import Rules
from caltin_core.recipes.school_list import SCHOOLS
from caltin_core.recipes.schools import follows, stage_table
from tests.core.builders import plain_bench, stack

WAX, DYE = plain_bench(), plain_bench("card", "alcohol_marker")


def seen(bench, layers):
    return predict(bench, [layers])[0].lab


def index(bench, id):
    return next(i for i, s in enumerate(bench.swatches) if s.id == id)


def test_what_is_promised_is_what_is_predicted_after_all_that_lies_there():
    done = stack(WAX, "ochre light 2")
    target = seen(WAX, stack(WAX, "ochre light 2, red light 1, cream light 2"))
    found = onward(WAX, done, target, Rules())
    assert np.allclose(seen(WAX, [*done, *found.layers]), found.prediction.lab, atol=1e-6)
    assert found.de00 == pytest.approx(float(delta_e_2000(target, found.prediction.lab)), abs=1e-6)
    assert found.de00 < 0.5


def test_nothing_more_is_laid_where_what_lies_there_is_what_was_meant():
    done = stack(WAX, "ochre medium 2, red light 2")
    assert onward(WAX, done, seen(WAX, done), Rules()).layers == ()


def test_a_colour_that_ran_dry_is_not_asked_for_again_though_it_lies_there():
    done = stack(WAX, "ochre light 2")
    target = seen(WAX, stack(WAX, "ochre light 2, ochre medium 2, red light 2"))
    dry = index(WAX, "ochre")
    found = onward(WAX, done, target, Rules(avoid=frozenset({dry})))
    assert found.layers
    assert dry not in {x.colour for x in lays(found.layers)}
    assert found.de00 < 3


def test_a_wrong_colour_on_film_is_lifted_where_no_colour_brings_the_place_back():
    done = stack(WAX, "black medium 2")
    target = seen(WAX, stack(WAX, "cream light 2"))
    found = onward(WAX, done, target, Rules())
    assert any(isinstance(x, Lift) for x in found.layers)
    assert found.de00 < float(delta_e_2000(target, seen(WAX, done))) / 2


@pytest.mark.parametrize("slug", [s for s in SCHOOLS if SCHOOLS[s].medium == "pencil"])
def test_a_school_is_followed_from_the_stage_reached(slug):
    school = SCHOOLS[slug]
    table = stage_table(school, WAX)
    done = stack(WAX, "cream light 1")
    target = seen(WAX, stack(WAX, "cream light 1, ochre light 2, red light 2"))
    found = onward(WAX, done, target, Rules(school=school))
    every = [*done, *lays(found.layers)]
    colours, strokes = (np.array([row]) for row in ([x.colour for x in every], [STROKE_INDEX[x.stroke] for x in every]))
    begun = follows(colours[:, :1], strokes[:, :1], table)[0]
    assert not begun or follows(colours, strokes, table)[0]


def test_dye_laid_in_error_is_pushed_back_or_gone_over_as_far_as_it_goes():
    done = [Lay(index(DYE, "pink"), Stroke("coat", 1))]
    target = seen(DYE, [Lay(index(DYE, "ochre"), Stroke("coat", 1))])
    found = onward(DYE, done, target, Rules())
    assert found.de00 < float(delta_e_2000(target, seen(DYE, done)))
