"""Each row of the mixing table as a recipe: asked for what it reads as, the search lays just those colours. Common practice."""

import numpy as np
import pytest

from caltin_core.media.cautions import cautions
from caltin_core.media.layers import Lay, Stroke
from caltin_core.media.predict import predict
from caltin_core.media.workbench import Workbench
from caltin_core.recipes.match import matches
from caltin_core.recipes.rules import Rules
from caltin_core.recipes.targets import Target
from tests.core.builders import PLAIN, ground, stack, swatch

# What is laid, what it reads as, and the colours beside them in the box, none of which could do it.
ROWS = {
    "yellow and blue: green": ("yellow medium 3, blue light 3", "white red brown"),
    "yellow and pink: orange": ("yellow medium 2, pink medium 3", "white blue green"),
    "blue and pink: purple": ("blue medium 2, pink medium 3", "white yellow green"),
    "red and brown: a sienna": ("red medium 3, brown medium 2", "white blue yellow"),
    "orange and blue, more orange: warm grey": ("orange medium 4, blue medium 2", "white yellow pink"),
    "orange and blue, more blue: cool grey": ("orange medium 3, blue medium 4", "white yellow pink"),
    "ochre and ultramarine: green": ("ochre medium 3, blue light 2", "white pink red"),
    "blue over warm red: colder": ("red medium 4, blue medium 1", "white yellow green"),
    "green over red, thin: calmer": ("red medium 3, green light 2", "white yellow blue"),
    "yellow over violet: towards brown": ("violet medium 4, yellow medium 3", "white blue green"),
    "dark violet with brown: a living shadow": ("violet firm 3, brown firm 4", "white yellow green"),
    "pink on yellow: a light skin": ("yellow light 2, pink medium 2", "white blue violet"),
}


@pytest.mark.parametrize("row", ROWS)
def test_the_search_lays_the_colours_of_the_mixing_table(row):
    text, beside = ROWS[row]
    names = list(dict.fromkeys([part.split()[0] for part in text.split(", ")]))
    bench = Workbench(tuple(swatch(n, PLAIN[n]) for n in [*names, *beside.split()]), ground())
    target = predict(bench, [stack(bench, text)])[0].lab
    (found,) = matches(bench, [Target(row, target)], Rules(max_layers=3, max_colours=2))
    assert found.reach.ok
    assert {bench.swatches[x.colour].id for x in found.recipes[0].layers} == set(names)


def test_lemon_glazed_on_warm_red_over_white_is_stronger_than_the_red_on_the_tone():
    toned = ground("sanded", (55.0, 4.0, 10.0))
    tones = {"white": (96, 0, 1), "red": (50, 52, 36), "lemon": (88, -2, 70)}
    bench = Workbench(tuple(swatch(n, lab, "soft_pastel", toned) for n, lab in tones.items()), toned)
    target = predict(bench, [stack(bench, "white firm 2, red medium 2, lemon light 1")])[0].lab
    (found,) = matches(bench, [Target("glow", target)], Rules(max_layers=3))
    assert {"red", "lemon"} <= {bench.swatches[x.colour].id for x in found.recipes[0].layers}
    red = predict(bench, [stack(bench, "red medium 2")])[0].lab
    assert np.hypot(*found.recipes[0].prediction.lab[1:]) > np.hypot(*red[1:])


def test_pale_violet_beneath_a_light_skin_coat_makes_a_cool_shadow_and_a_cool_grey_over_it_is_warned_of():
    card = ground("card", (96.0, 0.0, 0.5))
    tones = {"violet": (76, 12, -14), "skin": (82, 12, 18), "grey": (70, -2, -5), "warm grey": (70, 4, 6)}
    bench = Workbench(tuple(swatch(n, lab, "alcohol_marker", card) for n, lab in tones.items()), card)
    coat = Stroke("coat", 1)
    target = predict(bench, [[Lay(0, coat), Lay(1, coat)]])[0].lab
    (found,) = matches(bench, [Target("shadow", target)], Rules(max_layers=2, max_colours=2))
    assert {x.colour for x in found.recipes[0].layers} == {0, 1}
    assert cautions(bench, [Lay(1, coat), Lay(2, coat)])
    assert not cautions(bench, [Lay(1, coat), Lay(3, coat)])


def test_brown_black_brown_is_found_for_a_dark_that_brown_alone_does_not_reach():
    bench = Workbench(tuple(swatch(n, PLAIN[n]) for n in ("brown", "black", "white", "yellow")), ground())
    target = predict(bench, [stack(bench, "brown firm 3, black firm 2, brown firm 2")])[0].lab
    (found,) = matches(bench, [Target("pupil", target)], Rules(black="under", max_layers=3))
    assert [bench.swatches[x.colour].id for x in found.recipes[0].layers].count("black") >= 1
    assert found.recipes[0].prediction.lab[0] < predict(bench, [stack(bench, "brown firm 6")])[0].lab[0]
