"""The artist's own order: every recipe's order kept, alike layers laid together, nothing lost."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from caltin_core.errors import BadRequest
from caltin_core.media.layers import Lay, Stroke
from caltin_core.plan.presses import checked_order, mended_order, presses

DARK, MID, PALE = 0, 1, 2
LIGHT, FIRM, BURNISH = Stroke("light", 2), Stroke("firm", 1), Stroke("burnish", 1)
layers = st.builds(Lay, st.integers(0, 2), st.sampled_from([LIGHT, FIRM, BURNISH]))
recipes = st.dictionaries(st.sampled_from(["a", "b", "c", "d"]), st.lists(layers, min_size=1, max_size=5), max_size=4)


def flat(steps):
    return [t for step in steps for t in step]


def shuffled(given_recipes, random):
    every = [(place, i) for place, layers_ in given_recipes.items() for i in range(len(layers_))]
    return random.sample(every, len(every))


@given(recipes, st.randoms(use_true_random=False))
def test_every_layer_comes_once_and_in_its_recipes_order(given_recipes, random):
    listed = flat(presses(given_recipes, shuffled(given_recipes, random)))
    assert sorted(listed) == sorted((p, i) for p, r in given_recipes.items() for i in range(len(r)))
    for place, recipe in given_recipes.items():
        assert [i for p, i in listed if p == place] == list(range(len(recipe)))


@given(recipes, st.randoms(use_true_random=False))
def test_a_step_lays_one_thing_on_all_its_places(given_recipes, random):
    for step in presses(given_recipes, shuffled(given_recipes, random)):
        assert len({given_recipes[place][index] for place, index in step}) == 1


def test_one_step_serves_all_places_that_are_due_for_it():
    listed = presses({"a": [Lay(DARK, LIGHT), Lay(PALE, LIGHT)], "b": [Lay(DARK, LIGHT)]}, [("a", 0), ("a", 1)])
    assert listed == [(("a", 0), ("b", 0)), (("a", 1),)]


@given(recipes, st.randoms(use_true_random=False))
def test_the_artists_own_order_is_kept(given_recipes, random):
    own = flat(mended_order(given_recipes, [[t] for t in shuffled(given_recipes, random)]))
    listed = presses(given_recipes, own)
    assert checked_order(given_recipes, listed, dict.fromkeys(given_recipes, "place")) == flat(listed)
    begun = [own.index(step[0]) for step in listed]
    assert begun == sorted(begun)


def test_an_order_that_would_lay_a_layer_before_the_one_below_it_is_refused():
    two = {"cheek": [Lay(DARK, LIGHT), Lay(PALE, LIGHT)]}
    with pytest.raises(BadRequest, match="Left cheek") as fault:
        checked_order(two, [[("cheek", 1)], [("cheek", 0)]], {"cheek": "Left cheek"})
    assert fault.value.where == "steps[0]"


def test_a_step_that_is_no_longer_there_is_refused():
    with pytest.raises(BadRequest, match="no longer"):
        checked_order({"a": [Lay(DARK, LIGHT)]}, [[("gone", 0)]], {"a": "a"})


def test_layers_an_own_order_does_not_know_still_come():
    two = {"b": [Lay(DARK, LIGHT)], "a": [Lay(PALE, LIGHT)]}
    assert flat(presses(two, [("a", 0)])) == [("a", 0), ("b", 0)]


@given(st.integers(0, 2**32 - 1))
def test_the_nearest_order_holds_every_layer_once_and_never_breaks_a_recipe(seed):
    rng = np.random.default_rng(seed)
    recipes = {name: [Lay(int(c), LIGHT) for c in rng.integers(4, size=rng.integers(1, 5))] for name in "abc"}
    tokens = [(place, i) for place, layers in recipes.items() for i in range(len(layers))]
    asked = [[tokens[i]] for i in rng.permutation(len(tokens))]
    mended = mended_order(recipes, asked)
    assert checked_order(recipes, mended, {n: n for n in recipes}) == [t for step in mended for t in step]
    assert sorted(t for step in mended for t in step) == sorted(tokens)


def test_an_order_that_can_be_is_not_touched_and_one_that_cannot_waits_no_longer_than_it_must():
    recipes = {"a": [Lay(0, LIGHT), Lay(1, LIGHT)], "b": [Lay(2, LIGHT)]}
    fine = [[("a", 0)], [("b", 0)], [("a", 1)]]
    assert mended_order(recipes, fine) == fine
    assert mended_order(recipes, [[("a", 1)], [("a", 0)], [("b", 0)]]) == [[("a", 0)], [("a", 1)], [("b", 0)]]
