"""What every medium does by itself: facts of the trade (common practice, no source) for varied swatches."""

import itertools
from dataclasses import replace

import numpy as np
import pytest

from caltin_core.colour.difference import chroma, delta_e_2000, hue_angle
from caltin_core.media.alcohol_marker import ALCOHOL_MARKER
from caltin_core.media.cautions import cautions
from caltin_core.media.fits import MANNER, ColourFit
from caltin_core.media.layers import Blend, Lay, Stroke
from caltin_core.media.predict import predict
from caltin_core.media.workbench import Workbench
from tests.core.builders import PLAIN, stack, swatch
from tests.core.tables import KITS, SHEETS, Table, kit, markers, pastels

# Pencil: the mixing table, for swatches about the plain ones

TABLE = [
    ("yellow medium 3,blue light 3", 95, 200), ("blue light 3,yellow medium 3", 95, 200), ("yellow medium 2,pink medium 2", 38, 85),
    ("pink medium 2,yellow medium 2", 38, 85), ("blue medium 2,pink medium 3", 285, 352), ("pink medium 3,blue medium 2", 285, 352),
    ("red medium 3,brown medium 2", 30, 58), ("orange medium 4,blue medium 2", 20, 100), ("yellow light 2,pink medium 2", 42, 82),
    ("brown firm 2,black firm 2,brown firm 2", 25, 88), ("violet medium 4,yellow medium 3", 25, 105),
]  # fmt: skip


@pytest.mark.parametrize("medium", ["wax_pencil", "oil_pencil"])
@pytest.mark.parametrize("seed", KITS)
@pytest.mark.parametrize(("text", "low", "high"), TABLE)
def test_the_mixing_table_of_pencils_holds_for_varied_swatches(text, low, high, seed, medium):
    bench = kit(medium, "vellum", seed, **PLAIN)
    assert low < float(hue_angle(predict(bench, [stack(bench, text)])[0].lab)) < high


@pytest.mark.parametrize("medium", ["wax_pencil", "oil_pencil"])
@pytest.mark.parametrize("seed", KITS)
def test_what_calms_calms_for_varied_swatches(seed, medium):
    bench = kit(medium, "vellum", seed, **PLAIN)

    def lab(text):
        return predict(bench, [stack(bench, text)])[0].lab

    for before, after in (
        ("red medium 3", ",green light 2"),
        ("pink firm 3", ",cream medium 2"),
        ("violet medium 4", ",yellow medium 2"),
    ):
        assert chroma(lab(before + after)) < chroma(lab(before))
    assert lab("red medium 3,green light 2")[0] < lab("red medium 3")[0]
    assert lab("pink firm 3,cream medium 2")[0] > lab("pink firm 3")[0]
    turn = float(hue_angle(lab("red medium 4,blue medium 2")) - hue_angle(lab("red medium 4")))
    assert (turn + 180) % 360 - 180 < -2
    assert chroma(lab("blue firm 2,brown firm 4")) > chroma(lab("black firm 6")) + 4


# Marker


@pytest.mark.parametrize("seed", KITS)
@pytest.mark.parametrize("name", ["skin", "brown", "red", "blue", "deep"])
def test_a_second_coat_darkens_and_each_coat_changes_less(seed, name):
    table = markers(seed)
    labs = np.array([table.lab((name, n)) for n in range(1, 6)])
    steps = -np.diff(np.log(np.maximum(lab_luminance(labs), 1e-4)))
    assert np.all(steps > 0)
    assert all(b < a for a, b in itertools.pairwise(steps))


def lab_luminance(labs):
    return ((labs[:, 0] + 16) / 116) ** 3


@pytest.mark.parametrize("seed", KITS)
@pytest.mark.parametrize("dark", ["brown", "red", "blue"])
def test_a_pale_wet_coat_or_the_blender_pushes_dye_away_and_repeated_ones_nearly_erase(seed, dark):
    table = markers(seed)
    before = table.lab((dark, 2))[0]
    paler = [table.lab((dark, 2), ("pale", n, "wet"))[0] for n in range(1, 7)]
    assert before < paler[0]
    assert all(a < b for a, b in itertools.pairwise(paler))
    assert paler[-1] > before + 25
    assert table.lab((dark, 2), Blend("blender"))[0] > before + 3


@pytest.mark.parametrize("seed", KITS)
def test_a_dry_under_painting_crossed_once_stays_and_working_wet_moves_it(seed):
    table = markers(seed)
    alone, dry, wet = table.lab(("red", 1)), table.lab(("red", 1), ("skin", 1)), table.lab(("red", 1), ("skin", 1, "wet"))
    assert dry[0] < alone[0] + 1
    assert wet[0] > dry[0] + 2


@pytest.mark.parametrize("seed", KITS)
def test_dark_skin_coats_mute_what_lies_below(seed):
    table = markers(seed)
    light, deep = (delta_e_2000(table.lab(("red", 1), (c, 2)), table.lab(("blue", 1), (c, 2))) for c in ("skin", "deep"))
    assert deep < 0.8 * light


@pytest.mark.parametrize("seed", KITS)
def test_pale_violet_under_a_light_skin_coat_is_a_cool_shadow_of_that_skin(seed):
    table = markers(seed)
    skin, shadow = table.lab(("skin", 2)), table.lab(("violet", 1), ("skin", 2))
    assert shadow[0] < skin[0] - 5
    assert shadow[2] < skin[2] - 5
    assert shadow[1] > 0


@pytest.mark.parametrize("seed", KITS)
def test_a_cool_grey_over_light_skin_deadens_and_is_warned_of_and_a_warm_one_is_not(seed):
    table = markers(seed)
    cool, warm = ([("skin", 2), (grey, 1)] for grey in ("grey", "warm_grey"))
    assert chroma(table.lab(*cool)) < chroma(table.lab(*warm))
    assert float(hue_angle(table.lab(*cool))) > float(hue_angle(table.lab(*warm))) - 6
    assert "dead" in " ".join(cautions(table.bench, table.layers(cool)))
    assert cautions(table.bench, table.layers(warm)) == []


def test_wet_on_bare_paper_changes_nothing():
    table = markers(0)
    assert table.lab(("brown", 3, "wet")) == pytest.approx(table.lab(("brown", 3)), abs=1e-9)


@pytest.mark.parametrize("seed", KITS)
@pytest.mark.parametrize("name", ["skin", "brown", "blue"])
def test_coats_laid_in_one_go_are_coats_laid_apart(seed, name):
    table = markers(seed)
    assert table.lab((name, 3)) == pytest.approx(table.lab(*[(name, 1)] * 3), abs=1e-6)
    over = ("red", 1)
    assert table.lab(over, (name, 3, "wet")) == pytest.approx(table.lab(over, *[(name, 1, "wet")] * 3), abs=1e-6)


@pytest.mark.parametrize("wet", [False, True])
@pytest.mark.parametrize("coats", [1, 2, 4])
def test_what_finds_no_room_takes_it_from_what_is_there_and_as_much_lies_there_as_before(coats, wet):
    offset = MANNER.index("crowds_wet" if wet else "crowds_dry")
    seen = []
    for crowds in (-8.0, 8.0):
        fit = ColourFit(manner=tuple(crowds if i == offset else 0.0 for i in range(len(MANNER))))
        pale, dark = (
            replace(swatch(name, lab, "alcohol_marker", SHEETS["paper"]), fit=fit)
            for name, lab in (("pale", (88, 6, 14)), ("dark", (38, 24, 18)))
        )
        bench = Workbench((pale, dark), SHEETS["paper"])
        (found,) = predict(bench, [[Lay(1, Stroke("coat", coats)), Lay(0, Stroke("coat", 2, wet=wet))]])
        seen.append((found.uptake, float(found.lab[0])))
    (held, dark), (crowded, paler) = seen
    assert crowded == pytest.approx(held, abs=1e-5)
    # The fuller the paper, the more is fought for; hardly anything where there is room.
    assert paler > dark + (0.5 if coats == 1 else 2.0)


def test_paper_that_refuses_late_drinks_the_first_coats_wholly_and_then_holds_no_more_than_any():
    held = {}
    for late in (0.0, 1.5):
        fit = ColourFit(manner=tuple(late if name == "late" else 0.0 for name in MANNER))
        bench = Workbench((replace(swatch("dye", (70, 20, 20), "alcohol_marker", SHEETS["paper"]), fit=fit),), SHEETS["paper"])
        stacks = [[Lay(0, Stroke("coat", n))] for n in range(1, 7)]
        held[late] = np.array([p.uptake for p in predict(bench, stacks)])
    assert held[1.5][1] == pytest.approx(2 * held[1.5][0], rel=0.03)
    assert held[0.0][1] < 1.75 * held[0.0][0]
    assert (np.diff(held[1.5]) >= 0).all()
    for uptakes in held.values():
        assert uptakes.max() <= ALCOHOL_MARKER.uptake + 1e-9
        # What the last coat adds is little: the paper is nearly full.
        assert uptakes[-1] - uptakes[-2] < 0.25 * uptakes[0]


def test_densities_add_and_dry_dyes_may_change_places():
    # Beer-Lambert: absorbances add, whatever the order; what is washed away aside, so with a dye that washes nothing.
    bench = Workbench(
        (swatch("a", (70, 30, 20), "ink_line", SHEETS["paper"]), swatch("b", (60, -20, -20), "ink_line", SHEETS["paper"])),
        SHEETS["paper"],
    )
    one, other = Lay(0, Stroke("coat", 1)), Lay(1, Stroke("coat", 1))
    a, b, both = (p.reflectance for p in predict(bench, [[one], [other], [one, other]]))
    paper = bench.ground.reflectance
    new = float(np.log(paper / both) @ np.log(paper / b) - np.log(paper / a) @ np.log(paper / b)) / float(
        np.log(paper / b) @ np.log(paper / b)
    )
    # The second coat of ink finds half the room of inks taken.
    assert new == pytest.approx(0.5, abs=0.03)
    assert np.log(paper / both) == pytest.approx(np.log(paper / a) + new * np.log(paper / b), abs=0.02)


# That ink dries on top of marker and stays is common practice.


@pytest.mark.parametrize("seed", KITS)
@pytest.mark.parametrize("full", [1, 3, 6])
def test_an_ink_line_shows_on_paper_full_of_marker_and_neither_dissolves_the_other(seed, full):
    sheet = SHEETS["paper"]
    rng = np.random.default_rng(seed)
    labs = [np.array(lab) + rng.normal(0, 2, 3) for lab in ((84, 6, 24), (28, 2, 2), (60, 30, 30))]
    media = ("alcohol_marker", "ink_line", "alcohol_marker")
    bench = Workbench(
        tuple(swatch(f"c{i}", tuple(lab), m, sheet) for i, (lab, m) in enumerate(zip(labs, media, strict=True))), sheet
    )
    ground, line, over = Lay(0, Stroke("coat", full)), Lay(1, Stroke("coat", 1)), Lay(2, Stroke("coat", 2, wet=True))
    bare, inked, marked, first = predict(bench, [[line], [ground, line], [ground], [line, over]])
    assert inked.lab[0] < bare.lab[0]
    # What each lets through, multiplied: all of the marker is still there, and all of the line.
    paper = bench.ground.reflectance
    assert inked.reflectance == pytest.approx(marked.reflectance * bare.reflectance / paper, rel=0.02, abs=0.002)
    assert inked.uptake == marked.uptake
    # A wet marker over the line leaves it where it is.
    assert first.lab[0] < bare.lab[0]


# Pastel


@pytest.mark.parametrize("seed", KITS)
@pytest.mark.parametrize("medium", ["soft_pastel", "hard_pastel", "oil_pastel"])
def test_light_goes_over_dark(seed, medium):
    table = pastels(seed, medium)
    assert table.lab(("dark", "firm 2"), ("white", "firm 2"))[0] > table.lab(("dark", "firm 2"))[0] + 18
    # A white pencil, no lighter than its paper, hardly does.
    pencil = Table(kit("wax_pencil", "vellum", 0, white=(94, 0, 2), dark=(25, 8, -10)))
    assert pencil.lab(("dark", "firm 2"), ("white", "firm 2"))[0] < pencil.lab(("dark", "firm 2"))[0] + 18


@pytest.mark.parametrize("seed", KITS)
def test_lemon_glazed_on_warm_red_over_white_glows_more_than_the_red_alone_on_the_tone(seed):
    table = pastels(seed)
    red = table.lab(("red", "medium 2"))
    glow = table.lab(("white", "firm 2"), ("red", "medium 2"), ("lemon", "light 2"))
    assert chroma(glow) > chroma(red)


@pytest.mark.parametrize("seed", KITS)
def test_white_pulled_over_a_shadow_tints_it_up(seed):
    table = pastels(seed)
    assert table.lab(("brown", "medium 3"), ("white", "light 1"))[0] > table.lab(("brown", "medium 3"))[0] + 2


@pytest.mark.parametrize("seed", KITS)
def test_oil_pastel_begun_with_peach_loses_its_richness(seed):
    table = pastels(seed, "oil_pastel")
    rich, wiped = table.lab(("brown", "firm 2")), table.lab(("peach", "firm 2"), ("brown", "firm 2"))
    assert wiped[0] > rich[0] + 4


def test_pastel_over_charcoal_takes_some_of_it_along():
    white, char = (
        swatch(n, lab, m, SHEETS["tone"]) for n, lab, m in (("white", (96, 0, 1), "soft_pastel"), ("char", (22, 0, 1), "charcoal"))
    )
    table = Table(Workbench((white, char), SHEETS["tone"]))
    assert table.lab(("char", "medium 2"), ("white", "medium 2"))[0] < table.lab(("white", "medium 2"))[0] - 3
