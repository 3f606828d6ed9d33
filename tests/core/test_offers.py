"""Which of the candidates are offered. That a surer, plainer recipe is laid where it misses alike is common practice, without a
source; so is that a highlight is drawn with a pale colour rather than with touches of a dark one."""

import numpy as np
import pytest

from caltin_core.media.cautions import cautions
from caltin_core.media.layers import STROKE_INDEX, Stroke
from caltin_core.media.predict import Workbench, predict
from caltin_core.recipes.candidates import Candidates
from caltin_core.recipes.match import sought
from caltin_core.recipes.offers import Found, offers, promises, speckle
from caltin_core.recipes.rules import Rules
from caltin_core.recipes.search import Search
from caltin_core.recipes.targets import Target
from tests.core.builders import ground, random_bench, swatch

SHEET = ground("vellum")
PEACH, TAN, BLACK, GREEN = 0, 1, 2, 3
KIT = (
    swatch("peach", (80, 18, 24), "wax_pencil", SHEET),
    swatch("tan", (62, 20, 28), "wax_pencil", SHEET),
    swatch("black", (22, 0, 0), "wax_pencil", SHEET),
    swatch("green", (46, -32, 22), "wax_pencil", SHEET),
    *(swatch(f"spare {i}", (30 + 4 * i, 10, 10), "wax_pencil", SHEET) for i in range(10)),
)
BENCH = Workbench(KIT, SHEET)


def rows(*stacks):
    """Stacks of (colour, pressure, passes) as padded colours and strokes."""
    colour, stroke = np.full((2, len(stacks), 5), -1)
    for i, stack in enumerate(stacks):
        for j, (c, pressure, passes) in enumerate(stack):
            colour[i, j], stroke[i, j] = c, STROKE_INDEX[Stroke(pressure, passes)]
    return colour, stroke


def found(target, stacks, miss, used=0.3, bench=BENCH, rules=Rules(), **more):
    """What a search might have found: stacks that miss so much in L*."""
    colour, stroke = rows(*stacks)
    lab = target.lab + np.outer(miss, [1.0, 0, 0])
    full = np.broadcast_to(np.array(used, dtype=float), len(stacks)).copy()
    return Found(Search(bench, rules), target, rules, Candidates(colour, stroke, lab, full), **more)


TONE = Target("light", np.array([78.0, 12.0, 16.0]))
SPECKED, EVEN = [(BLACK, "light", 2)], [(PEACH, "firm", 2)]


def test_a_dark_lead_barely_touched_shows_specks_and_a_pale_one_laid_firmly_few():
    colour, stroke = rows(SPECKED, EVEN)
    found_ = Candidates(colour, stroke, np.zeros((2, 3)), np.zeros(2))
    dark, pale = predict(BENCH, [found_.layers(i, np.zeros(len(KIT), dtype=bool)) for i in (0, 1)])
    assert speckle(dark.grain_lab) > 2 * speckle(pale.grain_lab)
    assert dark.lab[0] == pytest.approx(pale.lab[0], abs=1.5)


def test_specks_are_none_where_all_depths_are_alike_and_count_more_in_value_than_in_hue():
    flat = np.tile([60.0, 10, 20], (6, 1))
    lighter, redder = (flat + np.outer([-3, 3, -3, 3, -3, 3], axis) for axis in ([1, 0, 0], [0, 1, 0]))
    assert speckle(flat) == 0
    assert speckle(lighter) == pytest.approx(3)
    assert speckle(redder) == pytest.approx(1.5)


def test_of_recipes_that_miss_alike_the_surer_and_evener_is_the_closest():
    (offered,) = offers(BENCH, [found(TONE, [SPECKED, EVEN], [0.0, 0.2])])
    assert [x.colour for x in offered["closest"][0]] == [PEACH]


def test_what_is_farther_off_than_nobody_sees_is_not_the_closest():
    (offered,) = offers(BENCH, [found(TONE, [SPECKED, EVEN], [0.0, 0.9])])
    assert [x.colour for x in offered["closest"][0]] == [BLACK]


def test_where_the_best_there_is_can_be_told_it_is_the_closest():
    few = Workbench(KIT[:6], SHEET)
    assert Search(few, Rules()).countable
    assert Search(BENCH, Rules(max_layers=2)).countable
    assert not Search(BENCH, Rules()).countable
    for bench, rules in ((few, Rules()), (BENCH, Rules(max_layers=2))):
        (offered,) = offers(bench, [found(TONE, [SPECKED, EVEN], [0.0, 0.2], bench=bench, rules=rules)])
        assert [x.colour for x in offered["closest"][0]] == [BLACK]


def test_what_was_settled_on_stays_first_and_nothing_nearer_is_offered_beside_it():
    mine = found(TONE, [[(TAN, "light", 2), (PEACH, "firm", 1)], EVEN, SPECKED], [0.6, 0.2, 1.0], used=(0.5, 0.3, 0.2), first=0)
    (offered,) = offers(BENCH, [mine])
    assert [x.colour for x in offered["closest"][0]] == [TAN, PEACH]
    assert [x.colour for x in offered["fewest"][0]] == [BLACK]


def test_no_stack_is_offered_twice():
    stacks = [[(TAN, "light", 2), (PEACH, "firm", 3)], EVEN, EVEN]
    (offered,) = offers(BENCH, [found(TONE, stacks, [0.0, 0.8, 0.8], used=(0.6, 0.2, 0.2))])
    layers = [layers for layers, _ in offered.values()]
    assert len(layers) == len(set(layers))


def test_preferred_colours_are_laid_where_they_miss_alike():
    tan, peach = [(TAN, "medium", 2)], [(PEACH, "medium", 2)]
    rules = Rules(prefer=frozenset({TAN}))
    (offered,) = offers(BENCH, [found(TONE, [peach, tan], [0.0, 0.2], rules=rules)])
    assert [x.colour for x in offered["closest"][0]] == [TAN]


def test_a_kit_with_nothing_to_lay_offers_nothing():
    assert offers(BENCH, [found(TONE, [], [])]) == [{}]


def test_what_a_recipe_promises_is_its_miss_and_its_doubt_in_squares():
    mine = found(TONE, [EVEN], [2.0])
    ((likely, _),) = promises(BENCH, [(mine, np.array([0]))])
    assert likely[0] == pytest.approx(np.hypot(mine.miss[0], mine.seen[0].uncertainty))


@pytest.mark.parametrize("seed", range(3))
def test_nothing_surer_plainer_softer_and_evener_at_once_is_passed_over(seed):
    rng = np.random.default_rng(seed)
    bench = random_bench(rng, 24, 1)
    search, target = Search(bench, Rules()), Target("skin", rng.uniform((40, 8, 10), (84, 24, 30)))
    mine = Found(search, target, Rules(), sought(bench, search, target))
    (offered,) = offers(bench, [mine])
    rows = mine.closest[:40]
    ((likely, specks),) = promises(bench, [(mine, rows)])
    at = next(i for i, row in enumerate(rows) if mine.layers(row) == offered["closest"][0])
    burdens = np.stack([likely + mine.burden[rows], specks, mine.work[rows], mine.candidates.used[rows]], axis=1)
    better = (burdens < burdens[at]).all(axis=1)
    assert not any(better[i] and not cautions(bench, mine.layers(row)) for i, row in enumerate(rows))
    assert mine.miss[rows[at]] + mine.burden[rows[at]] <= (mine.miss + mine.burden).min() + 0.3
