"""Pencil on toothed paper: physical properties, and the facts of the trade (common practice, no source)."""

import itertools
from dataclasses import replace

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from caltin_core.colour.difference import chroma, delta_e_2000, hue_angle
from caltin_core.colour.spectra import lab_from_reflectance, reflectance_from_lab
from caltin_core.media.colourants import Handling, colourants, colourants_of
from caltin_core.media.fits import ColourFit
from caltin_core.media.hand import HANDS, Hand, hand_from_fitted
from caltin_core.media.kinds import MEDIA
from caltin_core.media.layers import STROKE_INDEX, STROKES, Blend, Lay, Lift, Stroke
from caltin_core.media.predict import drawn_states, predict
from caltin_core.media.tooth import TEETH
from caltin_core.media.workbench import Workbench
from tests.core.builders import PLAIN, WHITE_LAB, ground, plain_bench, random_stack, stack, swatch

BENCH = plain_bench()
PRESSED = st.sampled_from(["light", "medium", "firm"])


def lab(text, bench=BENCH):
    return predict(bench, [stack(bench, text)])[0].lab


def hue(text, bench=BENCH):
    return float(hue_angle(lab(text, bench)))


def used(text, bench=BENCH):
    return predict(bench, [stack(bench, text)])[0].tooth_used


@pytest.mark.parametrize("medium", ["wax_pencil", "oil_pencil"])
@pytest.mark.parametrize("tooth", sorted(TEETH))
def test_three_burnished_passes_give_the_solid_back(medium, tooth):
    swatches = tuple(swatch(name, value, medium, ground(tooth)) for name, value in PLAIN.items())
    bench = Workbench(swatches, ground(tooth))
    solid = [[Lay(i, Stroke("burnish", 3))] for i in range(len(swatches))]
    found = np.array([p.lab for p in predict(bench, solid)])
    assert delta_e_2000(found, np.array(list(PLAIN.values()), dtype=float)).max() < 0.05


@pytest.mark.parametrize(
    ("medium", "tooth", "paper"),
    [
        ("wax_pencil", "vellum", WHITE_LAB),
        ("soft_pastel", "sanded", (62, 3, 12)),
        ("alcohol_marker", "card", (95, 0, 1)),
    ],
)
@pytest.mark.parametrize(("by", "wrong"), [(0.02, 1.0), (0.5, 1.0), (0.02, 300.0)])
def test_k_and_s_found_from_those_of_a_kit_like_it_are_those_found_from_nothing(medium, tooth, paper, by, wrong):
    on = ground(tooth, paper)
    kit = [swatch(name, value, medium, on) for name, value in PLAIN.items()]
    known = colourants(kit, Hand())
    moved = [replace(s, fit=ColourFit(own=(by, -by, by, -by, 0, 0, 0, 0, 0))) for s in kit]
    hand = Hand().pressed(1 + by)
    anew, near = colourants(moved, hand), colourants(moved, hand, near=(known.k * wrong, known.s * wrong))
    assert near.s == pytest.approx(anew.s, rel=3e-4)
    # Where a band lies at an end of what K may be, nothing is solved.
    inside = (anew.k > 1e-3) & (anew.k < 1e3)
    assert inside.mean() > 0.7
    assert near.k[inside] == pytest.approx(anew.k[inside], rel=3e-4)
    assert near.k[~inside] == pytest.approx(anew.k[~inside], abs=1e-5, rel=0.1)


def test_k_and_s_of_many_kits_found_at_once_are_those_of_each_kit_alone():
    def kit(medium, on, names):
        return [swatch(name, PLAIN[name], medium, on) for name in names]

    names = list(PLAIN)
    kits = [
        (kit("wax_pencil", ground("vellum"), names), Hand()), ([], Hand()),
        (kit("soft_pastel", ground("sanded", (62, 3, 12)), names[:3]), HANDS["heavy"].hand),
        (kit("alcohol_marker", ground("card"), names[2:]) + kit("wax_pencil", ground("smooth"), names[:1]), Hand(coat=1.3)),
    ]  # fmt: skip
    found = colourants_of(kits)
    assert [len(f.kind) for f in found] == [len(swatches) for swatches, _ in kits]
    for (swatches, hand), together in zip(kits, found, strict=True):
        if swatches:
            alone = colourants(swatches, hand)
            for name in ("k", "s", "deposit", "uptake", "kind"):
                assert np.array_equal(getattr(together, name), getattr(alone, name)), name


@pytest.mark.parametrize("reflects", [0.0, 1.0])
def test_a_solid_that_no_film_can_be_is_met_as_nearly_as_one_can(reflects):
    solid = np.where(np.arange(31) % 2 == 0, reflects, 0.4)
    with np.errstate(all="raise"):
        (k,) = colourants([replace(swatch("odd", (50, 0, 0)), solid=solid)], Hand()).k
    most = 1e4 if reflects == 0 else 1e-5
    assert k[::2] == pytest.approx(most, rel=0.01)
    assert 0.001 < k[1::2].min() < k[1::2].max() < 10


def test_bare_paper_is_seen_where_nothing_lies():
    assert predict(BENCH, [[]])[0].lab == pytest.approx([95, 0, 2], abs=1e-3)


@given(st.integers(0, 10_000))
def test_reflectance_stays_between_zero_and_one_and_tooth_within_its_capacity(seed):
    done = predict(BENCH, [random_stack(np.random.default_rng(seed), BENCH)])[0]
    assert np.all((done.reflectance > 0) & (done.reflectance < 1))
    assert 0 <= done.tooth_used <= 1
    assert np.all(np.diff(np.concatenate([[0.0], done.after_used])) >= -1e-9)


@given(st.sampled_from([n for n in PLAIN if n not in ("white",)]), st.sampled_from(STROKES))
def test_more_passes_never_lighten_a_darker_film(name, stroke):
    index = list(PLAIN).index(name)
    passes = [replace(stroke, passes=n) for n in range(1, 7)]
    lightness = [p.lab[0] for p in predict(BENCH, [[Lay(index, s)] for s in passes])]
    assert all(b <= a + 1e-6 for a, b in itertools.pairwise(lightness))


@given(st.integers(1, 3), PRESSED)
def test_passes_laid_apart_are_passes_laid_together(passes, pressure):
    apart = ",".join([f"brown {pressure} {passes}"] * 2)
    assert lab(apart) == pytest.approx(lab(f"brown {pressure} {2 * passes}"), abs=1e-6)


def test_a_pass_pulls_along_only_what_it_meets():
    # In the valleys that a light stroke of a loose chalk does not reach, what lay there stays under it as it was.
    bench = replace(BENCH, swatches=tuple(replace(s, medium="soft_pastel") for s in BENCH.swatches))

    def act(colour, stroke):
        return np.array([(list(PLAIN).index(colour), STROKE_INDEX[stroke])])

    first = bench.step(bench.start(1), act("brown", Stroke("firm", 3)))
    then = bench.step(first, act("white", Stroke("light", 1)))
    moved = 1 - then.below.thick[0] / first.thick[0]
    assert moved[0] > 5 * moved[-1]
    assert moved[0] < MEDIA["soft_pastel"].drag + 1e-9


def test_what_a_heavy_hand_presses_on_bare_paper_may_be_more_than_full_tooth_ever_takes():
    full_then = "brown firm 4,brown burnish 1"

    def laid(own):
        bench = Workbench(
            BENCH.swatches, replace(BENCH.ground, fit=(0.0, 0.0, 0.0, 0.0, 0.0, own, 0.0, 0.0, 0.0)), BENCH.hand.pressed(1.6)
        )
        return [float(d.fill.mean()) for d in drawn_states(bench, [stack(bench, t) for t in ("brown burnish 1", full_then)])]

    at_once, after = laid(-4.0)
    assert at_once > after
    at_once, after = laid(4.0)
    assert at_once < after


@given(st.sampled_from(list(PLAIN)), PRESSED, st.integers(1, 6))
def test_harder_lays_more(name, pressure, passes):
    harder = {"light": "medium", "medium": "firm", "firm": "burnish"}[pressure]
    assert used(f"{name} {harder} {passes}") > used(f"{name} {pressure} {passes}")


def test_light_layers_leave_white_in_the_valleys():
    grain = predict(BENCH, [stack(BENCH, "brown light 3")])[0].grain_lab[:, 0]
    assert grain[-1] > 88
    assert grain[-1] - grain[0] > 12


def test_rework_from_another_angle_darkens_without_pressing_harder():
    assert lab("brown medium 2,brown medium 1 turned")[0] < lab("brown medium 2,brown medium 1")[0] - 0.2


def test_a_sharp_point_reaches_deeper_than_the_side():
    sharp, side = (predict(BENCH, [stack(BENCH, f"brown medium 2{x}")])[0].grain_lab[-1, 0] for x in ("", " side"))
    assert sharp < side - 1


@given(st.sampled_from(["black", "blue", "brown", "white", "cream", "yellow"]), PRESSED)
def test_a_burnished_surface_takes_hold_only_weakly(name, pressure):
    fresh = used(f"brown firm 6,{name} {pressure} 2") - used("brown firm 6")
    closed = used(f"brown burnish 1,{name} {pressure} 2") - used("brown burnish 1")
    assert closed < 0.5 * fresh


@pytest.mark.parametrize("medium", ["wax_pencil", "soft_pastel", "oil_pastel"])
def test_on_a_full_tooth_a_firm_stroke_still_leaves_a_little(medium):
    # Common practice: after a burnish darks and lights become hard to add, but something still takes hold.
    bench = plain_bench(medium=medium)
    under = "brown firm 6,brown burnish 6,brown burnish 6"
    closed, over, fresh = predict(bench, [stack(bench, t) for t in (under, f"{under},cream firm 3", "brown firm 1,cream firm 3")])
    assert closed.tooth_used > 0.97
    assert over.tooth_used <= 1
    assert 0.3 < over.lab[0] - closed.lab[0] < 0.5 * (fresh.lab[0] - closed.lab[0])


def test_burnishing_fills_the_valleys_and_merges_the_layers():
    before = predict(BENCH, [stack(BENCH, "pink medium 2")])[0].grain_lab[:, 0]
    after = predict(BENCH, [stack(BENCH, "pink medium 2,cream burnish 1")])[0].grain_lab[:, 0]
    assert np.ptp(after) < np.ptp(before)


@pytest.mark.parametrize("cover", ["medium 2", "firm 1", "burnish 1"])
@pytest.mark.parametrize("vivid", ["pink", "red"])
def test_pale_cream_over_vivid_pink_lightens_and_calms_it(vivid, cover):
    first, second = lab(f"{vivid} firm 3"), lab(f"{vivid} firm 3,cream {cover}")
    assert second[0] > first[0]
    assert chroma(second) < chroma(first)


def test_a_thin_dull_violet_glaze_calms_it_further():
    bench = Workbench((*BENCH.swatches, swatch("dull violet", (48, 10, -10))), BENCH.ground)
    layers = stack(BENCH, "pink firm 3,cream medium 1")
    glaze = [*layers, Lay(len(BENCH.swatches), Stroke("light", 2))]
    before, after = predict(bench, [layers, glaze])
    assert chroma(after.lab) < chroma(before.lab)


@pytest.mark.parametrize("turned", [False, True])
def test_yellow_and_blue_read_as_green(turned):
    pair = ["yellow medium 3", "blue light 3"]
    assert 95 < hue(",".join(reversed(pair) if turned else pair)) < 200


@pytest.mark.parametrize("text", ["yellow medium 2,pink medium 2", "pink medium 2,yellow medium 2"])
def test_yellow_and_pink_read_as_orange(text):
    assert 40 < hue(text) < 85


@pytest.mark.parametrize("text", ["blue medium 2,pink medium 3", "pink medium 3,blue medium 2"])
def test_blue_and_pink_read_as_purple(text):
    assert 290 < hue(text) < 350


@pytest.mark.parametrize("text", ["red medium 3,brown medium 2", "brown medium 2,red medium 3"])
def test_red_and_brown_read_as_a_reddish_brown(text):
    assert hue("red medium 3") < hue(text) < hue("brown medium 2") + 8
    assert lab(text)[0] < 70


def test_orange_and_blue_meet_in_warm_or_cool_grey():
    warm, cool = lab("orange medium 4,blue medium 2"), lab("orange medium 2,blue medium 4")
    assert chroma(warm) < 0.6 * chroma(lab("orange medium 4"))
    assert 20 < hue("orange medium 4,blue medium 2") < 100
    assert 180 < hue("orange medium 2,blue medium 4") < 330
    assert chroma(cool) < 0.75 * chroma(lab("blue medium 4"))


@pytest.mark.parametrize("text", ["ochre medium 3,blue light {}", "blue light {},ochre medium 4"])
def test_yellow_ochre_under_or_over_ultramarine_goes_through_green(text):
    hues = [hue(text.format(n)) for n in range(1, 7)]
    assert any(95 < h < 200 for h in hues)
    assert all(70 < h < 290 for h in hues)


@pytest.mark.parametrize(("blue", "turn"), [("light 2", -1), ("light 4", -2.5), ("medium 3", -8)])
def test_blue_over_warm_red_is_colder_and_more_purple(blue, turn):
    before, after = hue("red medium 4"), hue(f"red medium 4,blue {blue}")
    assert (after - before + 180) % 360 - 180 < turn


@pytest.mark.parametrize("green", ["light 1", "light 2", "medium 1"])
@pytest.mark.parametrize("red", ["red medium 3", "orange medium 2,red medium 2"])
def test_thin_green_over_red_calms_it_a_little_darker_still_red(red, green):
    before, after = lab(red), lab(f"{red},green {green}")
    assert chroma(after) < chroma(before)
    assert before[0] - 8 < after[0] < before[0]
    assert float(hue_angle(after)) < 65


def test_yellow_over_violet_neutralises_it_towards_brown():
    before, after = lab("violet medium 4"), lab("violet medium 4,yellow medium 2")
    assert chroma(after) < chroma(before)
    assert 30 < hue("violet medium 4,yellow medium 3") < 100


@pytest.mark.parametrize("cool", ["blue", "violet"])
def test_brown_with_a_dark_cool_colour_is_livelier_than_black_of_its_value(cool):
    alive = lab(f"{cool} firm 2,brown firm 4")
    black = min(
        (lab(f"black {pressure} {n}") for pressure in ("medium", "firm", "burnish") for n in range(1, 7)),
        key=lambda dead: abs(dead[0] - alive[0]),
    )
    assert abs(black[0] - alive[0]) < 3
    assert chroma(alive) > chroma(black) + 4


def test_pink_on_yellow_is_a_light_skin():
    assert 45 < hue("yellow light 2,pink medium 2") < 80
    assert lab("yellow light 2,pink medium 2")[0] > 75


def test_black_between_browns_is_darker_and_still_brown():
    alone, sandwich = lab("brown firm 4"), lab("brown firm 2,black firm 2,brown firm 2")
    assert sandwich[0] < alone[0]
    assert 30 < float(hue_angle(sandwich)) < 85
    assert chroma(sandwich) > 5


def test_smooth_paper_is_full_sooner_than_toothed_paper():
    smooth, toothed = plain_bench("smooth"), plain_bench("textured")
    assert used("brown firm 3", smooth) > used("brown firm 3", toothed)


def test_oil_needs_more_layers_than_wax():
    assert lab("brown medium 3", plain_bench(medium="oil_pencil"))[0] > lab("brown medium 3")[0]


def test_a_hard_or_weak_lead_lays_less():
    for handling in (Handling(hardness=5), Handling(weak=True)):
        bench = Workbench((swatch("brown", PLAIN["brown"], handling=handling),), ground())
        assert used("brown medium 2", bench) < used("brown medium 2")


def test_hands_differ_and_travel_as_they_are():
    heavy = replace(BENCH, hand=HANDS["heavy"].hand)
    light = replace(BENCH, hand=HANDS["light"].hand)
    assert lab("brown medium 2", heavy)[0] < lab("brown medium 2")[0] < lab("brown medium 2", light)[0]
    assert hand_from_fitted(HANDS["heavy"].hand.fitted()) == HANDS["heavy"].hand
    assert hand_from_fitted(Hand().fitted()) == Hand()


@pytest.mark.parametrize("kind", ["stump", "finger", "blender", "solvent"])
def test_blending_evens_the_grain_and_keeps_every_amount(kind):
    layers = stack(BENCH, "red medium 3")
    before, after = predict(BENCH, [layers, [*layers, Blend(kind)]])
    assert np.ptp(after.grain_lab[:, 0]) < np.ptp(before.grain_lab[:, 0])
    assert after.tooth_used == pytest.approx(before.tooth_used, abs=1e-9)


@pytest.mark.parametrize("kind", ["kneaded", "stick", "knife"])
@pytest.mark.parametrize("text", ["black firm 3", "brown firm 2,black burnish 1", "red medium 2,blue firm 2"])
def test_lifting_never_darkens_a_dark_film_on_white_and_frees_tooth(kind, text):
    layers = stack(BENCH, text)
    before, after = predict(BENCH, [layers, [*layers, Lift(kind)]])
    assert after.lab[0] > before.lab[0]
    assert after.tooth_used < before.tooth_used


def test_a_knife_lifts_more_than_an_eraser():
    layers = stack(BENCH, "black firm 3")
    lights = [predict(BENCH, [[*layers, Lift(kind)]])[0].lab[0] for kind in ("kneaded", "stick", "knife")]
    assert lights == sorted(lights)


def test_order_matters():
    assert float(delta_e_2000(lab("cream firm 3,brown firm 2"), lab("brown firm 2,cream firm 3"))) > 1


def test_results_keep_the_order_of_the_stacks(rng):
    stacks = [random_stack(rng, BENCH) for _ in range(40)]
    together = predict(BENCH, stacks)
    for layers, found in zip(stacks, together, strict=True):
        alone = predict(BENCH, [layers])[0]
        assert found.lab == pytest.approx(alone.lab, abs=1e-9)
        assert len(found.after_lab) == len(layers)
        assert found.after_lab[-1] == pytest.approx(found.lab)


def test_what_is_assumed_shows_in_the_uncertainty():
    thin, solid = predict(BENCH, [stack(BENCH, "brown firm 2"), stack(BENCH, "brown burnish 3")])
    assert thin.uncertainty > solid.uncertainty > 0.5


def test_a_light_pencil_on_toned_paper_keeps_its_solid():
    toned = ground("vellum", (60.0, 2.0, 8.0))
    bench = Workbench((swatch("white", (93, 0, 1), on=toned),), toned)
    assert lab("white burnish 3", bench) == pytest.approx([93, 0, 1], abs=0.1)
    assert 60 < lab("white light 2", bench)[0] < 93


def test_grain_averages_to_what_is_seen():
    done = predict(BENCH, [stack(BENCH, "brown medium 2")])[0]
    quantiles = reflectance_from_lab(done.grain_lab)
    seen = lab_from_reflectance(np.sqrt(quantiles).mean(axis=0) ** 2)
    assert float(delta_e_2000(seen, done.lab)) < 1.0
