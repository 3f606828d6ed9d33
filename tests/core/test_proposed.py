"""Which recipe is proposed: sure ones first, then about two colours and few layers. Common practice throughout."""

import numpy as np
import pytest

from caltin_core.media.layers import Lay, Stroke
from caltin_core.plan.make import plan
from caltin_core.plan.steps import Area
from caltin_core.recipes.candidates import Candidates, effort, effort_of
from caltin_core.recipes.padded import NO_COLOUR
from caltin_core.recipes.proposed import Offer, is_warned, proposed, shared
from tests.core.builders import plain_bench, stack


def test_nothing_is_proposed_of_nothing():
    assert proposed([]) is None


def test_what_is_nearest_but_in_great_doubt_gives_way_to_a_surer_one():
    nearest, surer = Offer(0.1, 11.7, 4, 4), Offer(1.0, 3.5, 2, 2)
    assert proposed([nearest, surer]) == 1
    # What is as much in doubt is judged by what it misses by.
    assert proposed([nearest, Offer(1.0, 11.5, 4, 4), surer]) == 2
    assert proposed([nearest, Offer(1.0, 11.5, 4, 4)]) == 0


@pytest.mark.parametrize(
    ("others", "why"),
    [
        (Offer(0.2, 2.0, 1, 1), "a single colour looks like a cartoon"),
        (Offer(0.2, 2.0, 4, 3), "four colours are more than the eye needs"),
        (Offer(0.2, 2.0, 2, 6), "six layers tire the paper"),
        (Offer(1.0, 2.0, 2, 3), "of two alike the nearer one"),
        (Offer(0.2, 9.0, 2, 2), "in doubt"),
        (Offer(0.2, 2.0, 2, 2, True), "what is warned of is not proposed"),
        (Offer(0.2, 2.0, 2, 2, left_out=1), "a school is chosen for what it lays"),
        (Offer(0.2, 2.0, 2, 2, specks=11.0), "specks of a dark colour are not skin"),
    ],
)
def test_about_two_colours_and_few_layers_are_proposed_where_nobody_could_tell(others, why):
    plain = Offer(0.9, 2.0, 2, 3)
    assert proposed([plain, others]) == 0, why
    assert proposed([others, plain]) == 1, why


def test_work_is_told_of_layers_as_it_is_of_rows():
    stacks = [
        (Lay(0, Stroke("firm", 6)), Lay(1, Stroke("light", 2, "side", True))),
        (Lay(0, Stroke("burnish", 1)), Lay(0, Stroke("firm", 3)), Lay(2, Stroke("coat", 2, wet=True))),
        (Lay(1, Stroke("medium", 3)),),
    ]
    colour, stroke = np.full((2, 3, 3), NO_COLOUR)
    for row, layers in enumerate(stacks):
        colour[row, : len(layers)], stroke[row, : len(layers)] = zip(*((x.colour, x.stroke.index) for x in layers), strict=True)
    rows = effort(Candidates(colour, stroke, np.zeros((3, 3)), np.zeros(3), np.zeros(3)))
    assert [effort_of(layers) for layers in stacks] == pytest.approx(rows.tolist())
    # Six passes count as a layer more, two as a third; side and turn a half each, and so does softer on harder.
    assert effort_of(stacks[0]) == pytest.approx(2 + 1 + (1 / 3 + 1) + 0.5)


def test_what_a_plan_would_speak_against_is_warned_of_too():
    # Common practice: after a burnish of wax a stroke takes hold only weakly.
    wax, chalk = plain_bench(), plain_bench("sanded", "soft_pastel")
    shut, last = "brown burnish 1, pink firm 2", "pink firm 2, brown burnish 1"
    assert is_warned(wax, stack(wax, shut))
    assert not is_warned(wax, stack(wax, last))
    assert not is_warned(chalk, stack(chalk, shut))
    assert [c.what for c in plan(wax, [Area("a", tuple(stack(wax, shut)), 0.1)]).conflicts]


def test_what_anyone_can_tell_is_not_proposed_for_being_plain():
    assert proposed([Offer(0.3, 1.0, 4, 6), Offer(2.1, 1.0, 2, 2)]) == 0


def test_places_of_one_kind_share_the_recipe_that_is_hard_to_tell_from_their_own():
    own = [Offer(0.2, 2.0, 3, 4), Offer(1.1, 2.0, 2, 2)]
    theirs = [[own[0], Offer(1.0, 2.0, 3, 4)], [Offer(1.5, 2.0, 2, 2), own[1]]]
    assert shared(theirs, own) == 1
    too_far = [[own[0], Offer(3.0, 2.0, 3, 4)], [Offer(1.9, 2.0, 2, 2), own[1]]]
    assert shared(too_far, own) is None
    doubtful = [[own[0], Offer(1.0, 9.0, 2, 2)], [Offer(1.5, 9.0, 2, 2), own[1]]]
    assert shared(doubtful, own) is None
    warned = [[own[0], Offer(1.0, 2.0, 2, 2, True)], [Offer(1.5, 2.0, 2, 2, True), own[1]]]
    assert shared(warned, own) is None


@pytest.mark.parametrize(("layers", "alike"), [(2, 0), (5, None)], ids=["saves a layer", "costs more than it saves"])
def test_places_of_one_kind_share_no_recipe_that_is_more_trouble_than_two(layers, alike):
    own = [Offer(0.2, 1.0, 2, 2), Offer(0.2, 1.0, 2, 2)]
    assert shared([[Offer(0.2, 1.0, 2, layers), Offer(1.0, 1.0, 2, layers)]], own) == alike
