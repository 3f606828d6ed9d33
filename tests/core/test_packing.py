"""Which few colours to take: the worst served target served best. All kits and targets here are invented."""

from functools import lru_cache
from itertools import combinations

import numpy as np
import pytest

from caltin_core.colour.difference import delta_e_2000
from caltin_core.errors import BadRequest
from caltin_core.recipes.coverage import role_tones
from caltin_core.recipes.match import all_matches
from caltin_core.recipes.packing import choose
from caltin_core.recipes.rules import Rules
from caltin_core.recipes.targets import Target
from tests.core.asking import MATCH, ask
from tests.core.builders import demo_bench, random_bench

TARGETS = [Target(role, lab) for role, lab in role_tones(np.array([57.0, 12.0, 20.0])).items()][1:6:2]
KEPT = frozenset({7})


@lru_cache(maxsize=4)
def packed(count):
    return choose(demo_bench(), TARGETS, count, keep=KEPT)


def away(found):
    return [m.recipes[0].difference.de00 for m in found]


@pytest.mark.parametrize("count", [3, 7])
def test_so_many_colours_are_chosen_what_is_kept_among_them_and_nothing_else_is_laid(count):
    found = packed(count)
    assert len(found.colours) == count
    assert set(found.colours) >= KEPT
    assert {x.colour for m in found.matches for r in m.recipes for x in r.layers} <= set(found.colours)
    assert found.worst == pytest.approx(max(away(found.matches)))
    assert found.mean == pytest.approx(np.mean(away(found.matches)))


def test_the_next_colour_is_not_among_them_and_helps_as_much_as_is_said():
    found = packed(3)
    assert found.next_best.colour not in found.colours
    assert found.next_best.worst <= found.worst
    left_out = frozenset(range(len(demo_bench().swatches))) - {*found.colours, found.next_best.colour}
    with_it = all_matches(demo_bench(), TARGETS, Rules(avoid=left_out))
    assert max(away(with_it)) <= found.next_best.worst + 0.3


def test_more_colours_serve_the_worst_no_worse():
    assert packed(7).worst <= packed(3).worst + 0.1


@pytest.mark.parametrize("seed", [3])
def test_no_other_set_of_a_small_kit_serves_the_worst_much_better(seed):
    bench, targets = random_bench(np.random.default_rng(seed), 5), TARGETS[:2]
    every = set(range(5))
    best = min(
        max(away(all_matches(bench, targets, Rules(avoid=frozenset(every - set(some)))))) for some in combinations(range(5), 2)
    )
    assert choose(bench, targets, 2).worst <= best + 0.3


def test_what_cannot_be_chosen_from_is_taken_whole():
    bench = random_bench(np.random.default_rng(1), 5)
    found = choose(bench, TARGETS[:1], 8)
    assert found.colours == tuple(range(5))
    assert found.next_best is None


def test_more_kept_than_may_be_taken_is_refused():
    with pytest.raises(BadRequest) as fault:
        choose(demo_bench(), TARGETS, 1, keep=frozenset({1, 2}))
    assert fault.value.where == "count"


def test_the_command_keeps_the_order_of_the_request_and_counts_what_is_kept():
    asked = {**{k: MATCH[k] for k in ("surface", "colours")}, "targets": MATCH["targets"][:2], "count": 3}
    kept = MATCH["colours"][0]["id"]
    told = ask("choose", {**asked, "keep": [kept]})
    order = [c["id"] for c in MATCH["colours"]]
    assert len(told["chosen"]) == 3
    assert told["chosen"] == [c for c in order if c in told["chosen"]]
    assert kept in told["chosen"]
    assert told["worst_de00"] == max(m["recipes"][0]["de00"] for m in told["matches"])
    assert told["next_best"]["id"] not in told["chosen"]
    first = told["matches"][0]
    assert first["recipes"][0]["de00"] == pytest.approx(
        float(delta_e_2000(np.array(first["target"]), np.array(first["recipes"][0]["lab"]))), abs=1e-3
    )
