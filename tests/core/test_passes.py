"""What a tooth takes of a stroke, pass by pass: physical properties, and numbers worked by hand."""

import numpy as np
import pytest

from caltin_core.media.hand import Hand
from caltin_core.media.layers import STROKE_INDEX, Stroke
from caltin_core.media.stack import strokes_of
from caltin_core.media.tooth import Tooth, passed, taken


def test_a_pass_is_refused_by_what_earlier_passes_laid_and_as_far_as_the_sheet_says_by_itself():
    # Worked by hand: with refusal 1 and C = 4, a pass that would lay 2 on an empty valley lays C(1 − e^(−2/C)) = 1.574 where it
    # is refused by itself as by others, 2 where it is not; on a valley that holds 1, three quarters of that.
    def some(fill, rate, tooth):
        return taken(np.array([fill]), np.array([[rate] * len(fill)]), tooth)[0][0]

    for own, first in ((1.0, 4 * (1 - np.exp(-0.5))), (1e-6, 2.0)):
        assert some([0.0, 1.0], 2.0, Tooth(1.0, 4.0, own=own)) == pytest.approx([first, 0.75 * first], rel=1e-4)
    for refusal in (0.6, 1.0, 1.7):
        least, middle, most = (some([0.0], 3.0, Tooth(1.0, 4.0, refusal=refusal, own=o))[0] for o in (0.9, 0.5, 0.1))
        assert least < middle < most


def on_flat(fill, brings, passes, tooth):
    """Passes that reach every valley alike, on valleys that hold so much."""
    brings = np.broadcast_to(np.asarray(brings, dtype=float)[:, None], (2, len(fill)))
    endless, level = np.full(len(fill), 1e9), np.zeros(len(fill))
    return passed(fill, brings, endless, level, passes, tooth)[:2]


def test_what_a_full_tooth_refuses_is_counted_pass_by_pass():
    # Worked by hand: a full valley refuses all of 2 + 3 that three passes bring; an empty one, refused by itself as by others
    # (C = 4, refusal 1), refuses of one pass of 2 what is full on the way, (1 − e^(−1/2))/2 of it.
    tooth = Tooth(1.0, 4.0, own=1.0)
    held, over_full = on_flat(np.full((1, 6), 4.0), (2.0, 1.5), np.full(1, 3.0), tooth)
    assert held == pytest.approx(0.0)
    assert over_full == pytest.approx(2.0 + 2 * 1.5)
    _, over_full = on_flat(np.zeros((1, 6)), (2.0, 9.0), np.ones(1), tooth)
    assert over_full == pytest.approx(2 * (1 - np.exp(-0.5)) / 2)


@pytest.mark.parametrize("own", [0.04, 0.5, 1.0])
@pytest.mark.parametrize("refusal", [0.6, 1.0, 1.0005, 1.7])
def test_many_passes_are_one_after_another_whatever_is_laid_beside(own, refusal):
    tooth, rng = Tooth(1.0, 4.0, refusal=refusal, own=own, edge=1.4), np.random.default_rng(3)
    passes, fill = rng.integers(1, 7, 40).astype(float), rng.uniform(0, 4.2, (40, 6))
    brings, reach, builds = rng.uniform(0.0, 9.0, (2, 40)), rng.uniform(0.2, 3.0, 40), rng.uniform(0, 0.3, 40)
    together = passed(fill, brings, reach, builds, passes, tooth)
    laid = np.zeros((3, *fill.shape))
    for row, many in enumerate(passes.astype(int)):
        at = slice(row, row + 1)
        for turn in range(many):
            again = np.repeat(brings[min(turn, 1), at][None], 2, axis=0)
            held, over_full, meets = passed((fill + laid[0])[at], again, reach[at], builds[at], np.ones(1), tooth)
            laid[:2, at] += held, over_full
            laid[2, at] = meets
    assert np.array(together) == pytest.approx(laid, rel=1e-6, abs=1e-8)
    if refusal != 1.0:
        beside = Tooth(1.0, 4.0, refusal=1.0 if refusal == 1.0005 else refusal + 1e-6, own=own, edge=1.4)
        near = passed(fill, brings, reach, builds, passes, beside)
        assert np.array(near) == pytest.approx(np.array(together), rel=0.01, abs=2e-3)


def met(tooth, fill, builds, stroke=Stroke("light", 1)):
    """How surely one pass of an ordinary hand meets valleys that hold so much."""
    of, hand = STROKE_INDEX[stroke], strokes_of(Hand())
    brings = np.full((2, 1), hand.brings[of])
    return passed(np.array([fill]), brings, hand.reach[[of]], np.array([builds]), np.ones(1), tooth)[2][0]


def test_a_sharper_end_of_a_strokes_reach_lays_more_above_it_and_less_in_the_valleys_below():
    soft, sharp = (met(Tooth(1.0, 4.0, edge=edge), [0.0] * 6, 0.1) for edge in (1.0, 2.0))
    valleys, reach = Tooth(1.0, 4.0).valleys(), Hand().reach[0]
    deep = valleys > reach
    assert (sharp[deep] < soft[deep]).all()
    assert (sharp[~deep] > soft[~deep]).all()
    assert sharp == pytest.approx(np.exp(-((valleys / reach) ** 2)))


def test_a_stroke_rests_on_what_was_built_up_and_on_what_was_evened_out_it_finds_the_valleys_as_before():
    tooth = Tooth(1.0, 4.0)
    bare, hills, even = (met(tooth, fill, 0.2) for fill in ([0.0] * 6, [3.0, 2.0, 1.0, 0.0, 0.0, 0.0], [3.0] * 6))
    assert hills[0] == pytest.approx(bare[0])
    assert (hills[1:] < bare[1:]).all()
    assert even == pytest.approx(bare)
    # Worked by hand: the third valley lies 0.2 · (3 − 1) deeper below the highest than on the bare sheet.
    deep = tooth.valleys()[2] + 0.2 * 2
    assert hills[2] == pytest.approx(np.exp(-deep / Hand().reach[0]))
    assert met(tooth, [3.0, 2.0, 1.0, 0.0, 0.0, 0.0], 0.0) == pytest.approx(bare)
    # A valley filled up beyond the hills is what the next stroke rests on.
    assert int(np.argmax(met(tooth, [0.0, 0.0, 3.9, 0.0, 0.0, 0.0], 0.3))) == 2
