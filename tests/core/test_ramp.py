"""Ramps between two roles. All colours are invented."""

import numpy as np
import pytest

from caltin_core.media.predict import predict
from caltin_core.recipes.ramp import ramp
from caltin_core.recipes.rules import Rules
from tests.core.builders import demo_bench, plain_bench, stack

DEMO = demo_bench()
LIGHT = stack(DEMO, "low-dune medium 2, shell-dusk light 2")
SHADE = stack(DEMO, "clinker medium 3, quay-brick light 3")


@pytest.mark.parametrize("between", [1, 3])
def test_a_ramp_goes_down_evenly_and_its_ends_stay(between):
    found = ramp(DEMO, LIGHT, SHADE, between, Rules())
    assert len(found.steps) == between + 2
    assert list(found.steps[0].recipes[0].layers) == LIGHT
    assert list(found.steps[-1].recipes[0].layers) == SHADE
    lightness = [m.recipes[0].prediction.lab[0] for m in found.steps]
    assert (np.diff(lightness) < 0).all()
    assert np.ptp(np.diff(lightness)) < 3


def test_a_ramp_needs_no_more_than_one_new_colour():
    found = ramp(DEMO, LIGHT, SHADE, 3, Rules())
    ends = {x.colour for x in (*LIGHT, *SHADE)}
    assert len({x.colour for m in found.steps for x in m.recipes[0].layers} - ends) <= 1
    assert found.missing == ""


def test_a_transition_that_cannot_be_made_is_told_with_what_would_make_it():
    bench = plain_bench()
    yellow, blue = stack(bench, "yellow burnish 3"), stack(bench, "blue burnish 3")
    out = frozenset(i for i, s in enumerate(bench.swatches) if s.id not in ("yellow", "blue"))
    found = ramp(bench, yellow, blue, 1, Rules(avoid=out))
    assert "a transition is missing" in found.missing or "jumps" in found.missing
    assert found.steps[1].target == pytest.approx(np.mean([predict(bench, [x])[0].lab for x in (yellow, blue)], axis=0), abs=0.01)
