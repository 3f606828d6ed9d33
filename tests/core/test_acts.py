"""Blends and lifts: what they do to films that lie over one another, that they are doubted until they were measured, and learnt
from patches of the stand-in sheet, which blends and lifts in its own way. All data here are invented."""

from dataclasses import replace

import numpy as np
import pytest

from caltin_core.colour.difference import delta_e_2000
from caltin_core.colour.spectra import reflectance_from_lab
from caltin_core.errors import BadRequest
from caltin_core.media.acts import LIFTINGS
from caltin_core.media.calibrate import Patch, calibrate
from caltin_core.media.colourants import Ground, Swatch, solids_from_lab
from caltin_core.media.fits import COLOUR, MANNER, SHEET, ColourFit, hand_spread, possible
from caltin_core.media.hand import HAND, MEMBERS, Hand, hand_from_fitted
from caltin_core.media.layers import BLENDS, LIFTS, Blend, Lay, Lift, Stroke
from caltin_core.media.predict import colours_of, predict
from caltin_core.media.stack import Drawn
from caltin_core.media.workbench import Workbench
from caltin_core.standins.paper import Nature, Sheet
from tests.core.builders import ground, swatch

DARK, RED, PALE = (26, 2, 4), (50, 45, 26), (88, 2, 14)


def bench_of(medium, hand=None):
    colours = {"dark": DARK, "red": RED, "pale": PALE}
    return Workbench(tuple(swatch(n, lab, medium) for n, lab in colours.items()), ground(), hand or Hand())


def laid(*colours, passes=3):
    return [Lay(c, Stroke("medium", passes)) for c in colours]


def seen(bench, *stacks):
    return np.array([lab for lab, _ in colours_of(bench, stacks)])


def drawn(bench, stack):
    state = bench.start(1)
    for x in stack:
        act = np.array([[x.colour, x.stroke.index]]) if isinstance(x, Lay) else x.kind
        state = bench.step(state, act)
    return state


def films(state: Drawn):
    """The deposits of all films, the top one first."""
    return [] if state.below is None else [float(state.thick.mean()), *films(state.below)]


def test_a_solvent_brings_up_what_lies_two_films_down():
    # Common practice: it dissolves all the wax that is there.
    bench = bench_of("wax_pencil")
    over_dark, over_pale = (seen(bench, [*laid(c, 1, 2), Blend("solvent")])[0] for c in (0, 2))
    before = seen(bench, laid(0, 1, 2), laid(2, 1, 2))
    assert over_dark[0] < before[0][0]
    assert delta_e_2000(over_dark, over_pale) > delta_e_2000(*before)


@pytest.mark.parametrize("medium", ["wax_pencil", "soft_pastel"])
@pytest.mark.parametrize("kind", BLENDS)
def test_a_blend_of_three_films_loses_nothing_and_brings_up_the_lowest_too(medium, kind):
    bench = bench_of(medium)
    before, after = (films(drawn(bench, s)) for s in (laid(0, 1, 2), [*laid(0, 1, 2), Blend(kind)]))
    assert sum(after) == pytest.approx(sum(before))
    # The top one takes the same share of the middle one and of what the lowest gave that.
    given = before[2] - after[2]
    assert given > 0
    assert after[0] - before[0] == pytest.approx(given / before[2] * (before[1] + given))


@pytest.mark.parametrize("medium", ["wax_pencil", "soft_pastel", "charcoal"])
@pytest.mark.parametrize("kind", LIFTS)
def test_of_what_lies_on_top_more_is_lifted_but_an_eraser_reaches_what_lies_below(medium, kind):
    bench = bench_of(medium)
    before, after = (np.array(films(drawn(bench, s))) for s in (laid(0, 1, 2), [*laid(0, 1, 2), Lift(kind)]))
    gone = 1 - after / before
    assert gone[0] >= gone[1] >= gone[2] > 0


@pytest.mark.parametrize("kind", LIFTS)
@pytest.mark.parametrize("topmost", [0.05, 1.0, 4.0])
def test_how_much_is_lifted_does_not_hang_on_how_steeply_it_falls(kind, topmost):
    bench = bench_of("wax_pencil", Hand(topmost=topmost))
    stack = laid(0, 1, 2, 1, passes=2)
    before, after = (sum(films(drawn(bench, s))) for s in (stack, [*stack, Lift(kind)]))
    gone = 1 - after / before
    # Where most of it falls on the topmost film, no more than that is there to be lifted.
    assert gone <= LIFTINGS[kind]
    assert gone > 0.4 * LIFTINGS[kind]


@pytest.mark.parametrize("tool", ["finger", "stump"])
def test_fingers_and_stumps_make_one_tone_of_soft_pastel_and_move_wax_far_less(tool):
    # Common practice.
    share = {}
    for medium in ("soft_pastel", "wax_pencil"):
        bench = bench_of(medium)
        top, below = bench.colourants.k[2], bench.colourants.k[0]
        rubbed = drawn(bench, [*laid(0, 2, passes=2), Blend(tool)]).k.mean(axis=(0, 1))
        dragged = drawn(bench, laid(0, 2, passes=2)).k.mean(axis=(0, 1))
        share[medium] = float(((rubbed - dragged) / (below - top)).max())
    assert share["soft_pastel"] > 0.15
    assert share["wax_pencil"] < 0.75 * share["soft_pastel"]


def test_one_who_rubs_harder_blends_more_and_one_who_presses_the_eraser_lifts_more():
    usual, hard = bench_of("soft_pastel"), bench_of("soft_pastel", Hand(rubs=2.5, lifts=2.0))
    plain, blended, lifted = laid(0, 2), [*laid(0, 2), Blend("finger")], [*laid(0, 2), Lift("kneaded")]
    for act in (blended, lifted):
        assert delta_e_2000(*seen(hard, plain, act)) > delta_e_2000(*seen(usual, plain, act))


def doubted(medium, stack, *, acts=True, once=False):
    """How unsure a stack of known colours on a known sheet is in a hand of which at most its `acts` are in doubt; `once`, in one kept
    from before these were measured."""
    rows = possible(1, hand_spread()) * ([0.0] * 12 + [float(acts)] * 3)
    hand = Hand(members=tuple(map(tuple, (rows[:, :12] if once else rows).tolist())))
    bench, known = bench_of(medium), ColourFit(members=((0.0,) * (COLOUR + len(MANNER)),) * MEMBERS, noise=0.5)
    swatches = tuple(replace(s, fit=known) for s in bench.swatches)
    sheet = replace(bench.ground, members=((0.0,) * SHEET,) * MEMBERS)
    return predict(replace(bench, swatches=swatches, ground=sheet, hand=hand), [stack])[0].uncertainty


@pytest.mark.parametrize("medium", ["wax_pencil", "soft_pastel"])
@pytest.mark.parametrize("act", [*map(Blend, BLENDS), *map(Lift, LIFTS)])
def test_how_hard_a_hand_rubs_and_lifts_is_doubted(medium, act):
    stack = [*laid(0, 2), act]
    # A solvent mixes all there is, however hard it is rubbed; a finger hardly moves wax.
    more = {"solvent": 1.0}.get(act.kind, 1.02 if isinstance(act, Blend) else 1.3)
    assert doubted(medium, stack) > more * doubted(medium, stack, acts=False)
    assert doubted(medium, laid(0, 2)) == pytest.approx(doubted(medium, laid(0, 2), acts=False))


def test_a_hand_kept_from_before_blends_and_lifts_were_measured_is_as_unsure_of_them_as_any():
    stack = [*laid(0, 2), Lift("stick")]
    assert doubted("soft_pastel", stack, once=True) == pytest.approx(doubted("soft_pastel", stack))
    kept = Hand(members=((0.1,) * 12,) * MEMBERS)
    once = {k: v for k, v in kept.fitted().items() if k not in ("rubs", "lifts", "topmost")}
    assert hand_from_fitted(once) == kept
    now = Hand(rubs=1.4, lifts=0.7, topmost=2.0, members=((0.1,) * HAND,) * MEMBERS)
    assert hand_from_fitted(now.fitted()) == now
    with pytest.raises(BadRequest, match="15 plain numbers"):
        hand_from_fitted(replace(now, members=((0.1,) * 14,) * MEMBERS).fitted())


def test_how_hard_a_hand_lifts_is_learnt_from_a_few_patches_and_honestly_doubted_before():
    rng = np.random.default_rng(8)
    paper = reflectance_from_lab(np.array([95.0, 0.0, 2.0]))
    sheet, on = Sheet(paper, "vellum", Nature(), 8), Ground(paper, "vellum")
    labs = [(84, 4, 18), (70, 22, 20), (58, 40, 24), (44, 26, 22), (32, 10, 12), (62, -10, 16)]
    solids = [sheet.solid(sheet.add(np.array(lab, dtype=float), "wax_pencil")) for lab in labs]
    made = solids_from_lab(solids, [on] * 6, ["wax_pencil"] * 6)
    bench = Workbench(tuple(Swatch(f"c{i}", s, "wax_pencil", on) for i, s in enumerate(made)), on)

    def some():
        out = [
            Lay(int(c), Stroke(str(rng.choice(["medium", "firm"])), int(rng.integers(2, 5))))
            for c in rng.choice(6, 2, replace=False)
        ]
        return (*out, Lift(str(rng.choice(["kneaded", "stick", "knife"]))))

    def patches(stacks):
        return [Patch(s, sheet.patch(s)) for s in stacks]

    plain = [(Lay(c, Stroke(p, n)),) for c in range(6) for p, n in (("light", 3), ("medium", 2), ("firm", 2))]
    known = patches(plain)
    without, with_ = calibrate(bench, known).bench, calibrate(bench, known + patches(some() for _ in range(8))).bench
    unseen = [some() for _ in range(40)]
    truth = np.array([sheet.patch(s) for s in unseen])
    before, after = (predict(b, unseen) for b in (without, with_))
    miss = [delta_e_2000(truth, np.array([p.lab for p in found])) for found in (before, after)]
    assert np.median(miss[1]) < 0.7 * np.median(miss[0])
    for away, found in zip(miss, (before, after), strict=True):
        assert np.quantile(away / np.array([p.uncertainty for p in found]), 0.8) < 1.3
