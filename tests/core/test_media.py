"""All media and acts: facts of the trade (common practice, no source) for varied swatches, and what must hold of any stack."""

import itertools

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from caltin_core.colour.difference import chroma, delta_e_2000, hue_angle
from caltin_core.colour.spectra import DARKEST, LIGHTEST, lab_from_reflectance
from caltin_core.media.cautions import cautions
from caltin_core.media.colourants import solid_of
from caltin_core.media.film import surface_put_on, surface_taken_off
from caltin_core.media.kinds import MEDIA
from caltin_core.media.layers import BLENDS, LIFTS, PRESSED, STROKES, Blend, Lay, Lift, Stroke
from caltin_core.media.lights import NOT_KNOWN, drift
from caltin_core.media.predict import predict
from caltin_core.media.tooth import QUANTILES
from caltin_core.media.workbench import Start, Workbench
from tests.core.builders import PLAIN, ground, stack, swatch

KITS = range(3)
FILMS = sorted(m for m, medium in MEDIA.items() if medium.kind == "film")
SHEETS = {"paper": ground("card", (96, 0, 1)), "tone": ground("sanded", (45, 2, 8)), "vellum": ground("vellum")}


def kit(medium, on, seed, **labs):
    """Swatches about these colours, another set for every seed."""
    rng = np.random.default_rng(seed)
    moved = {
        name: np.clip(np.add(lab, rng.uniform(-3, 3, 3) * (seed > 0)), [5, -99, -99], [97, 99, 99]) for name, lab in labs.items()
    }
    return Workbench(tuple(swatch(name, lab, medium, SHEETS[on]) for name, lab in moved.items()), SHEETS[on])


class Table:
    """A bench at which one lays by name: `("brown", "firm 2")`, `("grey", 2)` or `("grey", 1, "wet")`, blends and lifts."""

    def __init__(self, bench):
        self.bench = bench
        self.at = {s.id: i for i, s in enumerate(bench.swatches)}

    def layers(self, said):
        return [x if isinstance(x, Blend | Lift) else self._one(*x) for x in said]

    def _one(self, name, how, wet=""):
        if isinstance(how, int):
            return Lay(self.at[name], Stroke("coat", how, wet=bool(wet)))
        pressure, passes = how.split()
        return Lay(self.at[name], Stroke(pressure, int(passes)))

    def lab(self, *said):
        return predict(self.bench, [self.layers(said)])[0].lab


def markers(seed):
    return Table(
        kit(
            "alcohol_marker", "paper", seed, skin=(84, 10, 16), violet=(72, 14, -14), grey=(66, -1, -4), warm_grey=(66, 5, 10),
            brown=(42, 18, 22), pale=(94, 3, 6), red=(56, 50, 35), blue=(55, -5, -35), deep=(38, 14, 18),
        )
    )  # fmt: skip


def pastels(seed, medium="soft_pastel"):
    return Table(
        kit(
            medium, "tone", seed, white=(96, 0, 1), red=(50, 52, 36), lemon=(88, -2, 70), brown=(32, 16, 18), peach=(82, 16, 22),
            dark=(25, 8, -10),
        )
    )  # fmt: skip


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


# Over one another, and the acts


def test_marker_ground_under_pencil_warms_it_and_marker_over_wax_is_warned_of():
    tan, cream = swatch("tan", (66, 16, 26), "alcohol_marker"), swatch("cream", (90, 1, 18))
    table = Table(Workbench((tan, cream), ground()))
    assert table.lab(("tan", 1), ("cream", "light 2"))[0] < table.lab(("cream", "light 2"))[0] - 8
    wrong = table.layers([("cream", "firm 3"), ("tan", 1)])
    assert "wax keeps the dye out" in cautions(table.bench, wrong)[0]
    assert table.lab(("cream", "burnish 2"), ("tan", 1))[0] > table.lab(("tan", 1))[0]
    assert cautions(table.bench, wrong[::-1]) == []


def test_white_pen_comes_last_and_covers():
    pen, brown = swatch("pen", (94, 0, 0), "white_pen"), swatch("brown", (31, 18, 21))
    table = Table(Workbench((pen, brown), ground()))
    assert table.lab(("brown", "firm 4"), ("pen", 1))[0] > table.lab(("brown", "firm 4"))[0] + 25
    assert "comes last" in cautions(table.bench, table.layers([("pen", 1), ("brown", "light 1")]))[0]


def test_charcoal_wipes_back_and_wax_does_not():
    left = {}
    for medium in ("charcoal", "wax_pencil"):
        table = Table(Workbench((swatch("dark", (24, 0, 1), medium),), ground()))
        drawn, wiped = table.lab(("dark", "medium 2"))[0], table.lab(("dark", "medium 2"), Lift("stick"))[0]
        left[medium] = (95 - wiped) / (95 - drawn)
    assert left["charcoal"] < 0.5 * left["wax_pencil"] + 0.1


@pytest.mark.parametrize("kind", LIFTS)
@pytest.mark.parametrize("medium", FILMS)
def test_lifting_never_darkens_a_dark_film_on_white(kind, medium):
    bench = Workbench((swatch("dark", (28, 8, 10), medium),), ground())
    for stroke in (Stroke("light", 2), Stroke("firm", 3), Stroke("burnish", 2)):
        before, after = predict(bench, [[Lay(0, stroke)], [Lay(0, stroke), Lift(kind)]])
        assert after.lab[0] > before.lab[0]


@pytest.mark.parametrize("kind", BLENDS)
@pytest.mark.parametrize("medium", FILMS)
def test_blending_keeps_every_amount(kind, medium):
    bench = Workbench((swatch("a", (60, 40, 20), medium), swatch("b", (40, -10, -20), medium)), ground())
    stack = [Lay(0, Stroke("medium", 3)), Lay(1, Stroke("medium", 2))]
    before, after = predict(bench, [stack, [*stack, Blend(kind)]])
    assert after.tooth_used == pytest.approx(before.tooth_used, abs=1e-9)


@pytest.mark.parametrize("medium", sorted(MEDIA))
@pytest.mark.parametrize("sheet", sorted(SHEETS))
def test_every_solid_comes_back_as_it_was_swatched(medium, sheet):
    labs = {n: v for n, v in PLAIN.items() if MEDIA[medium].kind != "dye" or v[0] < 44}
    bench = Workbench(tuple(swatch(n, lab, medium, SHEETS[sheet]) for n, lab in labs.items()), SHEETS[sheet])
    how = Stroke("burnish", 3) if MEDIA[medium].kind == "film" else Stroke("coat", 1)
    found = np.array([p.lab for p in predict(bench, [[Lay(i, how)] for i in range(len(labs))])])
    reachable = np.array(list(labs.values()), dtype=float)[:, 0] < SHEETS[sheet].reflectance.mean() * 60
    away = delta_e_2000(found, np.array(list(labs.values()), dtype=float))
    assert away[reachable if MEDIA[medium].kind == "dye" else slice(None)].max(initial=0.0) < 0.12


def test_in_a_kit_of_all_media_each_solid_comes_back_and_each_colour_is_as_in_a_kit_of_its_own():
    on = SHEETS["vellum"]
    swatches = [swatch(m, (58 + 2 * i, 14 - 2 * i, 10 + i), m, on) for i, m in enumerate(sorted(MEDIA))]
    bench = Workbench(tuple(swatches), on)
    strokes = {s.id: solid_of(s.kind) for s in swatches}
    seen = predict(bench, [[Lay(i, strokes[s.id])] for i, s in enumerate(swatches)])
    for i, one in enumerate(swatches):
        assert delta_e_2000(seen[i].lab, one.lab) < 0.02, one.id
        alone, stroke = Workbench((one,), on), Stroke("coat", 2) if one.kind != "film" else Stroke("medium", 2)
        here, there = (predict(b, [[Lay(at, stroke)]])[0].lab for b, at in ((bench, i), (alone, 0)))
        assert here == pytest.approx(there, abs=1e-4), one.id


def any_stack(rng, bench):
    out = []
    for _ in range(int(rng.integers(1, 6))):
        c = int(rng.integers(len(bench.swatches)))
        low, high = (0, PRESSED) if bench.swatches[c].kind == "film" else (PRESSED, len(STROKES))
        act = rng.random()
        kinds = (Blend(BLENDS[int(rng.integers(4))]), Lift(LIFTS[int(rng.integers(3))]))
        out.append(kinds[int(act < 0.1)] if act < 0.2 else Lay(c, STROKES[int(rng.integers(low, high))]))
    return out


MIXED = Workbench(tuple(swatch(m, (70 - 4 * i, 10, 15), m) for i, m in enumerate(MEDIA)), ground())


@given(st.integers(0, 100_000))
def test_any_media_in_any_order_stay_within_bounds_and_alone_or_together_are_the_same(seed):
    rng = np.random.default_rng(seed)
    stacks = [any_stack(rng, MIXED) for _ in range(4)]
    together = predict(MIXED, stacks)
    for layers, seen in zip(stacks, together, strict=True):
        alone = predict(MIXED, [layers])[0]
        assert np.all((seen.reflectance > 0) & (seen.reflectance < 1))
        assert 0 <= seen.tooth_used <= 1
        assert seen.uncertainty > 0
        assert alone.lab == pytest.approx(seen.lab, abs=1e-6)
        assert alone.uncertainty == pytest.approx(seen.uncertainty, rel=1e-3)


@pytest.mark.parametrize(("thinned", "not_thinned"), [("THIRD", 1), ("FEW_QUANTILES", QUANTILES)])
def test_doubts_told_by_few_bands_and_depths_are_about_those_of_all(monkeypatch, rng, thinned, not_thinned):
    stacks = [any_stack(rng, MIXED) for _ in range(120)]
    few = np.array([p.uncertainty for p in predict(Workbench(MIXED.swatches, MIXED.ground), stacks)])
    monkeypatch.setattr(f"caltin_core.media.workbench.{thinned}", not_thinned)
    whole = np.array([p.uncertainty for p in predict(Workbench(MIXED.swatches, MIXED.ground), stacks)])
    assert not np.array_equal(few, whole)
    assert np.median(few / whole) == pytest.approx(1, abs=0.02)
    assert np.abs(few / whole - 1).max() < 0.25


def test_order_matters_for_films_that_hide():
    table = pastels(0)
    one, other = table.lab(("white", "firm 2"), ("brown", "firm 2")), table.lab(("brown", "firm 2"), ("white", "firm 2"))
    assert delta_e_2000(one, other) > 10


def test_a_start_takes_tooth_and_dye_along():
    table = markers(0)
    first = predict(table.bench, [table.layers([("brown", 2)])])[0]
    begun = predict(
        table.bench, [table.layers([("red", 1)])], starts=[Start(first.reflectance, 0.0, first.uptake)]
    )[0]  # fmt: skip
    fresh = predict(table.bench, [table.layers([("red", 1)])], starts=[Start(first.reflectance, 0.0)])[0]
    assert begun.lab[0] > fresh.lab[0]


def test_surface_reflection_is_taken_off():
    # Saunderson 1942: R = k1 + (1 - k1)(1 - k2) r / (1 - k2 r); worked: r = 0.5, k1 = 0.04, k2 = 0.6 gives R = 0.314286.
    assert float(surface_taken_off(np.array(0.04 + 0.96 * 0.4 * 0.5 / 0.7))) == pytest.approx(0.5, abs=1e-12)
    assert float(surface_taken_off(np.array(0.3142857142857143))) == pytest.approx(0.5, abs=1e-12)
    inside = np.linspace(0, 1, 11)
    assert surface_taken_off(0.04 + 0.96 * 0.4 * inside / (1 - 0.6 * inside)) == pytest.approx(inside, abs=1e-12)
    assert surface_put_on(np.array([0.0, 0.5, 1.0])) == pytest.approx([0.04, 0.3142857142857143, 1.0], abs=1e-12)
    assert surface_taken_off(surface_put_on(inside, 0.02, 0.3), 0.02, 0.3) == pytest.approx(inside, abs=1e-12)
    assert surface_taken_off(np.array([0.0, 0.02])) == pytest.approx([0, 0])


# Other lights


def test_metamers_drift_in_another_light_as_the_published_lights_say():
    # Two spectra of one D50 colour, seen under A: colour-science gives the colours independently of the core's tables.
    import colour

    bench = Workbench((swatch("brown", (45, 20, 20), measured=True),), ground())
    seen = predict(bench, [[Lay(0, Stroke("burnish", 3))]])[0]
    table = np.stack([_weights(light) for light in ("D50",)])[0]
    away = np.linalg.svd(table.T)[2][3:][7]
    metamer = seen.reflectance + 0.9 * away * min(
        np.min((LIGHTEST - seen.reflectance)[away > 0] / away[away > 0]), np.min((seen.reflectance - DARKEST)[away < 0] / -away[away < 0])
    )  # fmt: skip
    assert delta_e_2000(lab_from_reflectance(metamer), seen.lab) < 1e-6
    for light in ("A", "D65", "LED-B3"):
        found = drift(bench, [Lay(0, Stroke("burnish", 3))], seen, light, metamer)
        sds = [colour.SpectralDistribution(dict(zip(range(400, 701, 10), r, strict=True))) for r in (seen.reflectance, metamer)]
        white = colour.sd_to_XYZ(
            colour.SpectralDistribution(dict.fromkeys(range(400, 701, 10), 1.0)), illuminant=colour.SDS_ILLUMINANTS[light]
        )
        labs = []
        for sd in sds:
            xyz = colour.sd_to_XYZ(sd, illuminant=colour.SDS_ILLUMINANTS[light]) / white
            labs.append(colour.XYZ_to_Lab(xyz * colour.xy_to_XYZ([1 / 3, 1 / 3]), [1 / 3, 1 / 3]))
        assert found.de00 == pytest.approx(float(colour.delta_E(labs[1], labs[0], method="CIE 2000")), abs=0.15)
        assert found.words


def _weights(light):
    from caltin_core.colour.spectra import weights

    return weights(light)[0]


def test_made_up_spectra_give_no_word_on_other_lights():
    bench = Workbench((swatch("brown", (45, 20, 20)),), ground())
    seen = predict(bench, [[Lay(0, Stroke("firm", 2))]])[0]
    found = drift(bench, [Lay(0, Stroke("firm", 2))], seen, "A")
    assert (found.words, found.lab, found.de00) == (NOT_KNOWN, None, None)
