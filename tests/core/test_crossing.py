"""Which layer crosses an edge, with what stroke, how far. All of it is common practice."""

import pytest

from caltin_core.media.layers import Lay, Stroke, as_coat
from caltin_core.media.workbench import Workbench
from caltin_core.plan.crossing import as_drawn, crossing, told
from caltin_core.reference.roles import MEETS
from tests.core.builders import PLAIN, ground, plain_bench, stack, swatch

WAX = plain_bench()
LIGHT, DARK = stack(WAX, "cream firm 3, pink light 2"), stack(WAX, "ochre firm 2, brown firm 6")
NAMES = ("the light", "the shadow")


def test_nothing_crosses_a_hard_edge():
    found = crossing(WAX, (LIGHT, DARK), NAMES, "hard")
    assert (found.side, found.layer, found.far_mm) == (None, None, 0.0)
    assert "the light stops at the line" in found.words


def test_the_layer_nearest_the_tone_between_crosses_a_soft_edge_half_its_width():
    found = crossing(WAX, (LIGHT, DARK), NAMES, "soft", 8.0)
    assert found.side == 1
    assert WAX.swatches[DARK[found.layer].colour].id == "ochre"
    assert found.far_mm == pytest.approx(4.0)


def test_a_colour_of_both_sides_is_carried_through():
    other = stack(WAX, "pink light 1, brown medium 3")
    found = crossing(WAX, (LIGHT, other), NAMES, "soft", 8.0)
    assert found.both
    assert "pink belongs to both" in found.words.lower()


@pytest.mark.parametrize("outlined", ["eye_white", "iris", "teeth"])
def test_what_has_an_outline_of_its_own_keeps_it_where_it_is_seen(outlined):
    assert as_drawn("soft", (MEETS["base"], MEETS[outlined])) == "hard"
    assert as_drawn("lost", (MEETS[outlined], MEETS["shadow"])) == "lost"
    assert as_drawn("soft", (MEETS["base"], MEETS["upper_lip"])) == "soft"


@pytest.mark.parametrize(("medium", "word"), [("alcohol_marker", "is dry"), ("soft_pastel", "edge of the stick"), ("wax_pencil", "fresh point")])  # fmt: skip
def test_hair_is_drawn_out_over_skin_that_goes_on_under_it(medium, word):
    sides, bench = _sides(medium)
    found = crossing(bench, sides, ("the cheek", "the hair"), "soft", 8.0, meets=(MEETS["base"], MEETS["hair_in_shade"]))
    assert (found.side, found.both, found.far_mm) == (1, False, 4.0)
    assert found.layer == len(sides[1]) - 1
    assert word in found.words
    assert "the cheek a little way in under the hair" in found.words


def test_hair_that_ends_at_a_line_is_drawn_along_its_growth_whichever_is_darker():
    for sides in ((LIGHT, DARK), (DARK, LIGHT)):
        found = crossing(WAX, sides, ("the cheek", "the brow"), "hard", meets=(MEETS["base"], MEETS["brow"]))
        assert found.words == (
            "Nothing crosses: the cheek stops at the line, and the brow is drawn hair by hair along the growth and not outlined, "
            "with a fresh point."
        )


def test_hair_meets_hair_as_tones_do():
    sides, bench = _sides("wax_pencil")
    hair = MEETS["hair_in_light"], MEETS["hair_in_shade"]
    assert crossing(bench, sides, NAMES, "soft", meets=hair) == crossing(bench, sides, NAMES, "soft")


def test_a_burnish_does_not_cross_while_another_layer_can():
    light = stack(WAX, "pink light 2, cream burnish 1")
    found = crossing(WAX, (light, DARK), NAMES, "lost")
    assert found.side == 0
    assert light[found.layer].stroke.pressure == "light"


def test_the_palest_layer_closes_a_lost_edge_and_no_line_is_marked():
    found = crossing(WAX, (LIGHT, DARK), NAMES, "lost")
    assert WAX.swatches[LIGHT[found.layer].colour].id == "cream"
    assert "no line" in found.words
    assert found.far_mm > crossing(WAX, (LIGHT, DARK), NAMES, "soft").far_mm


@pytest.mark.parametrize(("medium", "word"), [("alcohol_marker", "flicked from the dark"), ("soft_pastel", "merged"), ("wax_pencil", "fades")])  # fmt: skip
def test_the_stroke_is_that_of_the_medium(medium, word):
    sides, bench = _sides(medium)
    assert word in crossing(bench, sides, NAMES, "soft").stroke


def _sides(medium):
    sheet = ground("card" if medium == "alcohol_marker" else "vellum")
    bench = Workbench(tuple(swatch(n, lab, medium, sheet) for n, lab in PLAIN.items()), sheet)
    coats = medium == "alcohol_marker"
    sides = (stack(bench, "cream medium 2"), stack(bench, "brown medium 2, orange medium 1"))
    if coats:
        sides = tuple([Lay(x.colour, as_coat(x.stroke)) for x in side] for side in sides)
    return sides, bench


def test_wet_dye_is_kept_from_creeping_over_a_hard_edge():
    sheet = ground("card")
    bench = Workbench(
        (swatch("pale", (90, 4, 9), "alcohol_marker", sheet), swatch("deep", (45, 9, 12), "alcohol_marker", sheet)), sheet
    )
    sides = ([Lay(0, Stroke("coat", 1))], [Lay(1, Stroke("coat", 2))])
    assert "dry" in crossing(bench, sides, NAMES, "hard").words


def test_edges_alike_but_for_the_place_beyond_are_told_in_one():
    # The second is said from the other side.
    one = crossing(WAX, (DARK, LIGHT), ("the jaw", "the cheek"), "soft", 10.0)
    other = crossing(WAX, (LIGHT, DARK), ("the light", "the jaw"), "soft", 6.0)
    (words,) = told([one, other])
    assert "from the jaw 3 to 5 mm into the cheek and the light, " in words
    (beside,) = told([crossing(WAX, (LIGHT, DARK), ("the light", name), "hard") for name in ("the lid", "the jaw")])
    assert beside.startswith("Nothing crosses: the light stops at the line, and the lid and the jaw are drawn along the line,")
    hard = [crossing(WAX, (LIGHT, DARK), (name, "the shadow"), "hard") for name in ("the light", "the lid")]
    assert told([hard[0], other, hard[1]]) == (
        "Nothing crosses: the light and the lid stop at the line, and the shadow is drawn along the line, not across it, "
        "with a fresh point.",
        other.words,
    )
