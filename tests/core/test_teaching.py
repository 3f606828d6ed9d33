"""Which patches a sheet asks for, judged by the stand-in. All data here are invented."""

from collections import Counter
from dataclasses import replace

import numpy as np
import pytest

from caltin_core.media.calibrate import Patch, calibrate
from caltin_core.media.layers import Blend, Lay, Lift
from caltin_core.media.teaching import further_rows, teaching
from tests.core.worlds import LABS, misses, world


@pytest.mark.parametrize(("medium", "nature"), [("wax_pencil", "rubbed"), ("alcohol_marker", "pressed")])
def test_a_sheet_chosen_by_information_teaches_more_than_one_at_random(medium, nature):
    left = {}
    for random in (False, True):
        sheet, bench, _, unseen, truth = world(medium, nature)
        stacks = teaching(bench, 12, random=random)
        assert len(set(stacks)) == 12
        found = calibrate(bench, [Patch(s, sheet.patch(s)) for s in stacks]).bench
        left[random] = float(np.mean(misses(found, unseen, truth)))
    assert left[False] < 0.95 * left[True]


def test_a_sheet_for_markers_asks_for_many_coats_and_for_wet_pairs():
    _, bench, _, _, _ = world("alcohol_marker")
    laid = teaching(bench, 30)
    assert max(x.stroke.passes for stack in laid if len(stack) == 1 for x in stack) > 3
    assert any(x.stroke.wet for stack in laid for x in stack)
    # There is nothing wet on bare paper.
    assert not any(stack[0].stroke.wet for stack in laid)


def test_nothing_is_wet_on_pencil():
    _, bench, _, _, _ = world()
    _, markers, _, _, _ = world("alcohol_marker")
    dyes = tuple(replace(s, id=f"m{s.id}") for s in markers.swatches)
    mixed = replace(bench, swatches=(*bench.swatches, *dyes))
    wet = [(a, b) for a, b in teaching(mixed, 60, layers=2) if b.stroke.wet]
    assert wet
    assert all(mixed.swatches[a.colour].kind == "dye" for a, _ in wet)


def test_only_singles_or_only_pairs_can_be_asked_for():
    _, bench, _, _, _ = world()
    singles = teaching(bench, 8, layers=1)
    pairs = teaching(bench, 8, singles, layers=2)
    assert {len(s) for s in singles} == {1}
    assert {len(s) for s in pairs} == {2}
    assert len(singles) == len(pairs) == 8


def test_no_more_of_one_colour_is_asked_than_said():
    _, bench, _, _, _ = world()
    free, even = teaching(bench, 2 * len(LABS), layers=1), teaching(bench, 2 * len(LABS), layers=1, each=2)
    assert set(Counter(s[0].colour for s in even).values()) == {2}
    assert max(Counter(s[0].colour for s in free).values()) > 2


def test_what_is_known_already_is_not_asked_again():
    _, bench, patches, _, _ = world()
    fresh = teaching(bench, 10)
    after = teaching(bench, 10, known=[p.layers for p in patches])
    assert fresh != after
    assert not set(after) & {p.layers for p in patches}


def test_further_rows_are_told_by_what_they_would_leave_in_doubt():
    _, bench, patches, _, _ = world()
    blank, rows = further_rows(bench, [])
    now, after = further_rows(bench, [p.layers for p in patches])
    assert now < 0.8 * blank
    assert [r.doubt for r in rows] == sorted(r.doubt for r in rows)
    assert all(r.doubt < blank and r.cells for r in rows)
    assert blank - rows[0].doubt > now - after[0].doubt > 0
    assert not {c for r in after for c in r.cells} & {p.layers for p in patches}
    assert all(len(r.cells) == 8 for r in rows)
    assert rows[0].worth
    assert further_rows(bench, [], frozenset(range(len(LABS)))) == (0.0, [])


def test_a_row_is_said_to_be_hardly_worth_laying_once_it_teaches_nothing_that_is_seen():
    # A tenth of a difference nobody sees in a drawing (common practice).
    _, bench, patches, _, _ = world()
    known = [p.layers for p in patches]
    now, rows = further_rows(bench, known)
    while rows[0].worth:
        assert now - rows[0].doubt >= 0.1
        known += rows[0].cells
        now, rows = further_rows(bench, known)
    assert len(known) < len(patches) + 40
    assert 0 < now - rows[0].doubt < 0.1
    assert not any(r.worth for r in rows)


def test_what_was_never_laid_wet_is_what_a_marker_s_row_would_teach_most():
    # Wet dye washes the dye below away, more or less of it by brand and paper (common practice): dry patches say nothing of it.
    _, bench, patches, _, _ = world("alcohol_marker")
    now, (first, *others) = further_rows(bench, [p.layers for p in patches])
    assert all(cell[1].stroke.wet for cell in first.cells)
    assert "wet" in first.words
    assert now - first.doubt > 2 * (now - min(r.doubt for r in others))
    _, after = further_rows(bench, [*(p.layers for p in patches), *first.cells])
    assert after[0].words != first.words


@pytest.mark.parametrize("medium", ["wax_pencil", "soft_pastel"])
def test_who_blends_and_lifts_is_asked_for_it_and_how_hard_is_then_less_in_doubt(medium):
    doubt = {}
    for acts in (False, True):
        sheet, bench, *_ = world(medium)
        stacks = teaching(bench, 40, acts=acts)
        worked = {type(s[-1]) for s in stacks if not isinstance(s[-1], Lay)}
        assert worked == ({Blend, Lift} if acts else set())
        hand = calibrate(bench, [Patch(s, sheet.patch(s)) for s in stacks]).bench.hand
        # Of a hand's fifteen numbers the last but two and the last but one: how hard it rubs, how much it lifts, as logarithms.
        doubt[acts] = np.std([row[12:14] for row in hand.members], axis=0)
    narrowed = doubt[True] / doubt[False]
    assert narrowed.min() < 0.6
    assert narrowed.max() < 1.01


def test_dye_is_neither_blended_nor_lifted_on_a_sheet():
    _, bench, *_ = world("alcohol_marker")
    assert all(isinstance(x, Lay) for stack in teaching(bench, 20, acts=True) for x in stack)
