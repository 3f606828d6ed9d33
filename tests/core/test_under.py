"""The under-colour chart. Mixing practice is common practice, without a source."""

import numpy as np
import pytest

from caltin_core.colour.difference import delta_e_2000, hue_angle
from caltin_core.media.predict import predict
from caltin_core.recipes.rules import Rules
from caltin_core.recipes.under import under_chart
from tests.core.builders import plain_bench

WAX, DYE = plain_bench(), plain_bench("card", "alcohol_marker")
SKIN = np.array([70.0, 20.0, 24.0])


@pytest.mark.parametrize("bench", [WAX, DYE], ids=["pencil", "marker"])
def test_pairs_come_nearest_first_and_each_under_colour_helps(bench):
    pairs = under_chart(bench, SKIN, Rules(black="never"))
    assert pairs
    assert [p.away for p in pairs] == sorted(p.away for p in pairs)
    for p in pairs[:8]:
        assert np.allclose(predict(bench, [p.layers])[0].lab, p.lab, atol=1e-6)
        assert p.away < float(delta_e_2000(SKIN, p.alone))
        assert [x.colour for x in p.layers] == [p.under, p.over]
        assert np.allclose(p.grain, predict(bench, [p.layers])[0].grain_lab, atol=1e-6)


def test_pink_over_yellow_is_offered_for_a_natural_light_skin():
    """Common practice: a pink or red glaze on a yellow base reads as a natural light skin."""
    target = np.array([84.0, 12.0, 30.0])
    names = [s.id for s in WAX.swatches]
    pairs = under_chart(WAX, target, Rules(black="never"))
    warm = [p for p in pairs[:12] if {names[p.under], names[p.over]} & {"yellow", "ochre", "cream"}]
    assert warm
    assert 40 < float(hue_angle(warm[0].lab)) < 90


def test_bans_hold_and_an_empty_box_has_no_pairs():
    pairs = under_chart(WAX, SKIN, Rules(avoid=frozenset({3, 4})))
    assert not {c for p in pairs for c in (p.under, p.over)} & {3, 4}
    assert under_chart(WAX, SKIN, Rules(avoid=frozenset(range(12)))) == []


def test_a_strip_is_advised_where_the_doubt_decides():
    pairs = under_chart(WAX, SKIN, Rules())
    for p in pairs:
        assert p.test_first == (p.away - p.uncertainty < 3.0 < p.away + p.uncertainty)
    assert any(p.test_first for p in pairs)
