"""Media over one another, acts and other lights: facts of the trade (common practice, no source), and what must hold of any stack."""

from dataclasses import replace

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from caltin_core.colour.difference import delta_e_2000
from caltin_core.colour.spectra import DARKEST, LIGHTEST, lab_from_reflectance
from caltin_core.media.cautions import cautions
from caltin_core.media.colourants import Handling, solid_of
from caltin_core.media.film import surface_put_on, surface_taken_off
from caltin_core.media.kinds import MEDIA
from caltin_core.media.layers import BLENDS, LIFTS, PRESSED, STROKES, Blend, Lay, Lift, Stroke
from caltin_core.media.lights import NOT_KNOWN, drift
from caltin_core.media.predict import colours_of, courses_of, predict
from caltin_core.media.tooth import QUANTILES
from caltin_core.media.workbench import Start, Workbench
from tests.core.builders import PLAIN, ground, plain_bench, random_stack, swatch
from tests.core.tables import FILMS, SHEETS, Table, markers, pastels

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


def test_a_brush_nib_fills_the_paper_sooner_than_a_chisel_and_one_coat_is_the_swatch_with_both():
    # Common practice.
    sheet = ground("card")
    bench = Workbench(
        tuple(swatch("red", PLAIN["red"], "alcohol_marker", sheet, handling=Handling(nib=nib)) for nib in ("brush", "chisel")),
        sheet,
    )
    brush, chisel = (predict(bench, [[Lay(c, Stroke("coat", n))] for n in (1, 2)]) for c in (0, 1))
    assert np.allclose(brush[0].lab, chisel[0].lab, atol=1e-6)
    assert all(b.uptake > c.uptake for b, c in zip(brush, chisel, strict=True))
    assert brush[1].lab[0] > chisel[1].lab[0]


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


@pytest.mark.parametrize("medium", ["wax_pencil", "soft_pastel", "alcohol_marker", "white_pen", "any"])
def test_stacks_are_told_layer_by_layer_whatever_is_computed_with_them(rng, medium):
    bench = MIXED if medium == "any" else plain_bench(medium=medium)
    stacks = [random_stack(rng, bench, layers) for layers in (2, 5, 1, 3, 1, 4, 5)]
    courses, ends = courses_of(bench, [(), *stacks]), colours_of(bench, [*stacks, ()])
    for i, (layers, seen) in enumerate(zip(stacks, predict(bench, stacks), strict=True)):
        for last in range(len(layers)):
            (alone,) = predict(bench, [layers[: last + 1]])
            assert seen.after_lab[last] == pytest.approx(alone.lab, abs=1e-6)
            assert seen.after_used[last] == pytest.approx(alone.tooth_used, abs=1e-6)
            assert seen.after_grain[last] == pytest.approx(alone.grain_lab, abs=1e-6)
        assert (len(seen.after_lab), len(seen.after_used), len(seen.after_grain)) == (len(layers),) * 3
        assert seen.reflectance == pytest.approx(alone.reflectance, abs=1e-9)
        assert seen.uptake == pytest.approx(alone.uptake)
        assert courses[i + 1][0][1:] == pytest.approx(seen.after_lab, abs=1e-6)
        assert ends[i][0] == pytest.approx(seen.lab, abs=1e-6)
        assert ends[i][1] == pytest.approx(seen.tooth_used, abs=1e-6)
    assert courses[0][0] == pytest.approx(ends[-1][0][None], abs=1e-6)


def test_what_a_knife_left_nothing_of_is_blended_over_a_strong_pen():
    pen = swatch("pen", (94, 0, 0), "white_pen", measured=True)
    bench = Workbench((replace(pen, solid=np.full(31, DARKEST)), swatch("cream", (92, 0, 18), "oil_pencil")), ground())
    layers = [Lay(1, Stroke("firm", 5)), Lay(0, Stroke("coat", 3)), Lay(1, Stroke("medium", 3)), Lift("knife")]
    with np.errstate(invalid="raise", divide="raise"):
        bare, worked = predict(bench, [layers, [*layers, Blend("finger"), Blend("stump")]])
    assert delta_e_2000(bare.lab, worked.lab) < 2
    assert np.isfinite(worked.uncertainty)


def test_many_stacks_in_single_precision_are_the_same_to_a_hundredth(rng):
    stacks = [any_stack(rng, MIXED) for _ in range(300)]
    exact, quick = predict(MIXED, stacks), predict(MIXED, stacks, quick=True)
    assert any(not np.array_equal(a.lab, b.lab) for a, b in zip(exact, quick, strict=True))
    for one, other in zip(exact, quick, strict=True):
        assert delta_e_2000(one.after_lab, other.after_lab).max(initial=0) < 0.01
        assert delta_e_2000(one.grain_lab, other.grain_lab).max() < 0.01
        assert other.tooth_used == pytest.approx(one.tooth_used, abs=1e-5)
        assert other.uncertainty == pytest.approx(one.uncertainty, abs=1e-6)


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
