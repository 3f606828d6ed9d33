"""Calibration, judged by patches from the stand-in sheet, whose physics are its own. All data here are invented."""

import json
from collections import Counter
from copy import deepcopy
from dataclasses import replace
from functools import lru_cache

import numpy as np
import pytest

from caltin_core.cli import answer
from caltin_core.colour.difference import delta_e_2000
from caltin_core.colour.spectra import lab_from_reflectance, reflectance_from_lab
from caltin_core.errors import BadRequest
from caltin_core.media.calibrate import Patch, calibrate, doubt, fitting
from caltin_core.media.colourants import Ground, Handling, Swatch, sheet_from_fitted, solids_from_lab
from caltin_core.media.fits import COLOUR, MANNER, ColourFit, colour_from_fitted, colour_spread, medium_with, tinted
from caltin_core.media.hand import MEMBERS
from caltin_core.media.kinds import MEDIA as MANNERS
from caltin_core.media.layers import Blend, Lay, Lift, Stroke
from caltin_core.media.learnt import learnt, learnt_words
from caltin_core.media.predict import colours_of, predict
from caltin_core.media.teaching import further_rows, teaching
from caltin_core.media.workbench import Workbench
from caltin_core.standins.paper import Nature
from caltin_core.standins.pressed import Pressed, sheet_of

NATURES = {
    "even": Nature(),
    "coarse": Nature(grain=2.2, spread=1.0),
    "other law": Nature(law="geometric"),
    "heavy": Nature(harder=1.3),
    "glossy": Nature(gloss=0.03),
    "pressed": Pressed(),
}
SEED = 3
MEDIA = {"wax_pencil": ((95, 0, 2), "vellum"), "soft_pastel": ((62, 3, 12), "sanded"), "alcohol_marker": ((95, 0, 1), "card")}
LABS = (
    (90, 4, 16), (78, 18, 16), (70, 12, 40), (62, 38, 22), (48, 34, 30), (36, 18, 20), (58, 2, -18), (60, -12, 20), (80, 8, 26), (44, 22, -16),
)  # fmt: skip


def strokes(medium):
    if medium == "alcohol_marker":
        return [Stroke("coat", 1), Stroke("coat", 2)]
    return [Stroke("light", 3), Stroke("medium", 2), Stroke("firm", 2)]


def world(medium="wax_pencil", nature="even", drawn_on=None):
    """A sheet, the bench an artist would type in, single and paired patches, and stacks it has never seen with their truth; where it
    is `drawn_on` paper of another colour than it was swatched on, that sheet."""
    sheet, *rest = _world(medium, nature, drawn_on)
    return deepcopy(sheet), *rest


@lru_cache(maxsize=32)
def _world(medium, nature, drawn_on):
    lab, tooth = MEDIA[medium]
    paper = reflectance_from_lab(np.array(lab, dtype=float))
    sheet, ground = sheet_of(paper, tooth, NATURES[nature], SEED), Ground(paper, tooth)
    solids = solids_from_lab(
        [sheet.solid(sheet.add(np.array(v, dtype=float), medium)) for v in LABS], [ground] * len(LABS), [medium] * len(LABS)
    )
    swatches, here = tuple(Swatch(f"c{i}", s, medium, ground) for i, s in enumerate(solids)), ground
    if drawn_on:
        here = Ground(reflectance_from_lab(np.array(drawn_on, dtype=float)), tooth)
        sheet, sticks = sheet_of(here.reflectance, tooth, NATURES[nature], SEED), sheet.sticks
        sheet.sticks = sticks
    bench = Workbench(swatches, here)
    rng = np.random.default_rng(SEED)
    how = strokes(medium)
    stacks = [(Lay(c, h),) for c in range(len(LABS)) for h in how]
    stacks += [(Lay(int(a), how[1]), Lay(int(b), how[0])) for a, b in rng.choice(len(LABS), (12, 2))]
    patches = tuple(Patch(s, sheet.patch(s)) for s in stacks)
    unseen = [tuple(Lay(int(c), how[int(rng.integers(len(how)))]) for c in rng.integers(len(LABS), size=n)) for n in (2, 3, 4) * 12]
    truth = np.array([sheet.patch(s) for s in unseen])
    return sheet, bench, patches, unseen, truth


def misses(bench, unseen, truth):
    return delta_e_2000(truth, np.array([lab for lab, _ in colours_of(bench, unseen)]))


def fitted(medium="wax_pencil", nature="even", many=None):
    """The world's bench calibrated by its patches, or by so many of them."""
    return _fitted(medium, nature, many)


@lru_cache(maxsize=32)
def _fitted(medium, nature, many):
    _, bench, patches, _, _ = world(medium, nature)
    some = patches if many is None else [patches[i] for i in np.linspace(0, len(patches) - 1, many).round().astype(int)]
    return calibrate(bench, some)


# With each the natures that most concern it; the bench has all with all.
@pytest.mark.parametrize(
    ("medium", "nature"),
    [
        *(("wax_pencil", nature) for nature in ("even", "glossy", "heavy", "pressed")),
        *(("soft_pastel", nature) for nature in ("other law", "pressed")),
        *(("alcohol_marker", nature) for nature in ("coarse", "pressed")),
    ],
)
def test_calibration_helps_on_stacks_it_never_saw_whatever_the_paper_is_like(medium, nature):
    _, bench, _, unseen, truth = world(medium, nature)
    before, after = (misses(b, unseen, truth) for b in (bench, fitted(medium, nature).bench))
    assert np.median(after) < 0.92 * np.median(before)
    # Where the default was right already there is little to win, and the worst tenth is mostly the unsteady hand.
    assert np.quantile(after, 0.9) < 1.1 * np.quantile(before, 0.9)


def test_a_surface_that_was_read_with_the_patches_is_found():
    even, glossy = (fitted("wax_pencil", nature).bench for nature in ("even", "glossy"))
    assert even.ground.teeth.outer < 0.01
    assert 0.012 < glossy.ground.teeth.outer < 0.04
    # What the solids were read as stays, with the surface that was read.
    seen = np.array([lab for lab, _ in colours_of(glossy, [(Lay(c, Stroke("burnish", 3)),) for c in range(len(LABS))])])
    assert delta_e_2000(seen, world("wax_pencil", "glossy")[1].solids).max() < 1.5


@pytest.mark.parametrize("medium", sorted(MEDIA))
def test_few_patches_help_and_none_harm(medium):
    _, bench, _, unseen, truth = world(medium)
    before = np.mean(misses(bench, unseen, truth))
    for many in (1, 12):
        assert np.mean(misses(fitted(medium, "even", many).bench, unseen, truth)) < before + 0.25


@pytest.mark.parametrize("medium", sorted(MEDIA))
def test_uncertainty_is_honest_calibrated_or_not(medium):
    _, bench, _, unseen, truth = world(medium)
    for one in (bench, fitted(medium).bench):
        seen = predict(one, unseen)
        share = delta_e_2000(truth, np.array([p.lab for p in seen])) / np.array([p.uncertainty for p in seen])
        assert 0.4 < np.quantile(share, 0.8) < 1.6
    assert np.median([p.uncertainty for p in seen]) < 0.75 * np.median([p.uncertainty for p in predict(bench, unseen)])


@pytest.mark.parametrize("medium", ["wax_pencil", "alcohol_marker"])
def test_what_was_swatched_on_white_paper_is_learnt_on_toned_and_honestly_so(medium):
    _, bench, patches, unseen, truth = world(medium, drawn_on=(66, 2, 14))
    found = calibrate(bench, patches).bench
    away = misses(found, unseen, truth)
    assert np.median(away) < 0.85 * np.median(misses(bench, unseen, truth))
    # The sheet of which there is no patch is not doubted once more: its solids stand as the patches bore them out.
    assert 0.4 < np.quantile(away / [p.uncertainty for p in predict(found, unseen)], 0.8) < 1.6


@pytest.mark.parametrize("medium", sorted(MEDIA))
def test_every_layer_more_is_less_sure_and_honestly_so(medium):
    # The issue asks it for one layer or six; the bounds are wider than of all together, for fewer patches stand behind each.
    sheet, *_ = world(medium)
    found, rng, how = fitted(medium).bench, np.random.default_rng(8), strokes(medium)
    told = []
    for layers in (1, 3, 6):
        drawn = [(rng.integers(len(LABS), size=layers), rng.integers(len(how), size=layers)) for _ in range(30)]
        stacks = [tuple(Lay(int(c), how[h]) for c, h in zip(*one, strict=True)) for one in drawn]
        seen = predict(found, stacks)
        share = delta_e_2000(np.array([sheet.patch(s) for s in stacks]), np.array([p.lab for p in seen]))
        share = share / np.array([p.uncertainty for p in seen])
        assert 0.4 < np.quantile(share, 0.8) < 1.6
        told.append(np.median([p.uncertainty for p in seen]))
    assert told[0] < told[-1]


def test_the_same_patches_give_the_same_fit():
    _, bench, patches, _, _ = world()
    assert fitted().bench.hand == calibrate(bench, patches).bench.hand


def test_a_wrong_patch_is_named_and_does_little_harm():
    _, bench, patches, unseen, truth = world()
    at = 4
    twice = (Lay(patches[at].layers[0].colour, Stroke("medium", 4)),)
    spoilt = list(patches)
    spoilt[at] = Patch(patches[at].layers, world()[0].patch(twice))
    found = calibrate(bench, spoilt)
    assert at in found.worst
    assert np.median(misses(found.bench, unseen, truth)) < np.median(misses(fitted().bench, unseen, truth)) + 0.25
    wild = list(patches)
    wild[at] = Patch(patches[at].layers, np.array([20.0, -60, 60]))
    assert calibrate(bench, wild).worst[0] == at


def test_what_may_have_happened_to_a_patch_is_asked():
    bench = fitted().bench
    one, four = (Lay(5, Stroke("medium", n)) for n in (2, 4))
    seen = colours_of(bench, [(four,)])[0][0]
    miss = float(delta_e_2000(seen, colours_of(bench, [(one,)])[0][0]))
    assert doubt(bench, Patch((one,), seen), miss) == "laid twice?"
    assert doubt(bench, Patch((one,), seen), 0.5) == ""


def test_a_hand_is_carried_to_another_kit_of_its_medium():
    sheet, bench, _, _, _ = world(nature="heavy")
    ground = Ground(bench.ground.reflectance, bench.ground.tooth)
    at = [sheet.add(np.array(lab, dtype=float), "wax_pencil") for lab in ((66, 20, 30), (40, 10, 14), (84, 8, 20))]
    solids = solids_from_lab([sheet.solid(i) for i in at], [ground] * 3, ["wax_pencil"] * 3)
    swatches = tuple(Swatch(f"n{i}", s, "wax_pencil", ground) for i, s in enumerate(solids))
    stacks = [(Lay(c, Stroke(p, 2)),) for c in range(3) for p in ("light", "medium", "firm")]
    truth = np.array(
        [
            np.mean([lab_from_reflectance(sheet.reflectance([Lay(at[s[0].colour], s[0].stroke)])) for _ in range(4)], axis=0)
            for s in stacks
        ]
    )
    plain = misses(Workbench(swatches, ground), stacks, truth)
    mine = misses(Workbench(swatches, ground, fitted("wax_pencil", "heavy").bench.hand), stacks, truth)
    assert np.mean(mine) < np.mean(plain)


@pytest.mark.parametrize("medium", ["wax_pencil", "alcohol_marker"])
def test_a_sheet_chosen_by_information_teaches_more_than_one_at_random(medium):
    sheet, bench, _, unseen, truth = world(medium)
    left = {}
    for random in (False, True):
        stacks = teaching(bench, 12, random=random)
        assert len(set(stacks)) == 12
        left[random] = np.mean(misses(calibrate(bench, [Patch(s, sheet.patch(s)) for s in stacks]).bench, unseen, truth))
    assert left[False] < left[True]


def test_a_sheet_for_markers_asks_for_many_coats_and_for_wet_pairs():
    _, bench, _, _, _ = world("alcohol_marker")
    laid = teaching(bench, 30)
    assert max(x.stroke.passes for stack in laid if len(stack) == 1 for x in stack) > 3
    assert any(x.stroke.wet for stack in laid for x in stack)
    # There is nothing wet on bare paper.
    assert not any(stack[0].stroke.wet for stack in laid)


def test_nothing_is_wet_on_pencil():
    _, bench, _, _, _ = world()
    _, markers, _, _, _ = world("alcohol_marker")
    dyes = tuple(replace(s, id=f"m{s.id}") for s in markers.swatches)
    mixed = replace(bench, swatches=(*bench.swatches, *dyes))
    wet = [(a, b) for a, b in teaching(mixed, 60, layers=2) if b.stroke.wet]
    assert wet
    assert all(mixed.swatches[a.colour].kind == "dye" for a, _ in wet)


def test_only_singles_or_only_pairs_can_be_asked_for():
    _, bench, _, _, _ = world()
    singles = teaching(bench, 8, layers=1)
    pairs = teaching(bench, 8, singles, layers=2)
    assert {len(s) for s in singles} == {1}
    assert {len(s) for s in pairs} == {2}
    assert len(singles) == len(pairs) == 8


def test_no_more_of_one_colour_is_asked_than_said():
    _, bench, _, _, _ = world()
    free, even = teaching(bench, 2 * len(LABS), layers=1), teaching(bench, 2 * len(LABS), layers=1, each=2)
    assert set(Counter(s[0].colour for s in even).values()) == {2}
    assert max(Counter(s[0].colour for s in free).values()) > 2


def test_what_is_known_already_is_not_asked_again():
    _, bench, patches, _, _ = world()
    fresh = teaching(bench, 10)
    after = teaching(bench, 10, known=[p.layers for p in patches])
    assert fresh != after
    assert not set(after) & {p.layers for p in patches}


def test_further_rows_are_told_by_what_they_would_leave_in_doubt():
    _, bench, patches, _, _ = world()
    blank, rows = further_rows(bench, [])
    now, after = further_rows(bench, [p.layers for p in patches])
    assert now < 0.8 * blank
    assert [r.doubt for r in rows] == sorted(r.doubt for r in rows)
    assert all(r.doubt < blank and r.cells for r in rows)
    assert blank - rows[0].doubt > now - after[0].doubt > 0
    assert not {c for r in after for c in r.cells} & {p.layers for p in patches}
    assert all(len(r.cells) == 8 for r in rows)
    assert further_rows(bench, [], frozenset(range(len(LABS)))) == (0.0, [])


def test_what_was_never_laid_wet_is_what_a_marker_s_row_would_teach_most():
    # Wet dye washes the dye below away, more or less of it by brand and paper (common practice): dry patches say nothing of it.
    _, bench, patches, _, _ = world("alcohol_marker")
    now, (first, *others) = further_rows(bench, [p.layers for p in patches])
    assert all(cell[1].stroke.wet for cell in first.cells)
    assert "wet" in first.words
    assert now - first.doubt > 2 * (now - min(r.doubt for r in others))
    _, after = further_rows(bench, [*(p.layers for p in patches), *first.cells])
    assert after[0].words != first.words


def fit_of(strength, scatter=0.0, spread=0.02):
    own = (strength, scatter, *[0.0] * (COLOUR - 2))
    zeros = [0.0] * len(MANNER)
    rows = [(strength + d, scatter, *own[2:], *zeros) for d in np.linspace(-spread, spread, MEMBERS)]
    return ColourFit(own, tuple(zeros), tuple(rows))


@pytest.mark.parametrize(
    ("strength", "says"), [(0.0, ""), (-0.3, "weak"), (0.1, "soft"), (0.18, "very soft"), (-0.1, "hard"), (-0.22, "very hard")]
)
def test_swatches_show_how_hard_a_stick_is_and_its_prediction_stays(strength, says):
    _, bench, _, _, _ = world()
    before = replace(bench.swatches[1], fit=fit_of(strength))
    after = learnt(before)
    assert says in learnt_words(before.handling, after.handling)
    assert after.handling.weak == (says == "weak")
    benches = [Workbench((bench.swatches[0], s, *bench.swatches[2:]), bench.ground) for s in (before, after)]
    (lab, _), (other, _) = (colours_of(b, [(Lay(1, Stroke("medium", 2)),)])[0] for b in benches)
    assert np.allclose(lab, other, atol=1e-6)


def test_what_swatches_do_not_show_stays_as_it_was_set():
    _, bench, _, _, _ = world()
    mine = Handling(hardness=5, crumbles=True, keeps_point=False)
    unsure = replace(bench.swatches[1], handling=mine, fit=fit_of(-0.3, spread=0.5))
    assert learnt(unsure).handling == mine
    assert learnt(unsure, [3.0, 3.0], 3.0).handling == replace(mine, crumbles=False)
    assert learnt(bench.swatches[1], [9.0, 8.0], 2.0).handling.crumbles
    pale = replace(bench.swatches[0], fit=fit_of(0.0, scatter=0.8))
    assert learnt_words(pale.handling, learnt(pale).handling) == "Its swatches show: goes chalky."


def test_a_fit_can_be_left_between_steps_and_changes_nothing_then():
    _, bench, patches, _, _ = world()
    steps = fitting(bench, patches)
    assert next(steps) == (0, 9)
    assert next(steps)[0] == 1
    steps.close()
    assert not bench.ground.fit


def test_a_blend_and_a_lift_may_be_among_the_patches():
    sheet, bench, patches, unseen, truth = world()
    more = [(Lay(3, Stroke("medium", 3)), Blend("stump")), (Lay(5, Stroke("medium", 3)), Lift("kneaded"))]
    found = calibrate(bench, [*patches, *(Patch(s, sheet.patch(s)) for s in more)])
    assert len(found.misses) == len(patches) + 2
    assert np.median(misses(found.bench, unseen, truth)) < np.median(misses(bench, unseen, truth))


@pytest.mark.parametrize("medium", ["wax_pencil", "alcohol_marker"])
def test_what_the_command_returns_goes_back_into_predict_and_match(medium):
    _, bench, patches, unseen, _ = world(medium)
    lab, tooth = MEDIA[medium]

    def said(stack):
        if medium == "alcohol_marker":
            return [{"colour": f"c{x.colour}", "passes": x.stroke.passes} for x in stack]
        return [{"colour": f"c{x.colour}", "pressure": x.stroke.pressure, "passes": x.stroke.passes} for x in stack]

    request = {
        "surface": {"name": "sheet", "lab": list(lab), "tooth": tooth},
        "colours": [{"id": s.id, "lab": [float(v) for v in s.lab], "medium": medium} for s in bench.swatches],
        "patches": [{"layers": said(p.layers), "lab": [float(v) for v in p.lab]} for p in patches],
    }
    found = json.loads(json.dumps(answer("calibrate", json.dumps(request).encode())))
    assert set(found) == {"surface", "colours", "hand", "residuals"}
    assert [c["id"] for c in found["colours"]] == [s.id for s in bench.swatches]
    residuals = found["residuals"]
    assert residuals["median_de00"] < residuals["p90_de00"] < 6
    assert [w["de00"] for w in residuals["worst"]] == sorted((w["de00"] for w in residuals["worst"]), reverse=True)
    kit = {k: found[k] for k in ("surface", "colours", "hand")}
    seen = answer("predict", json.dumps({**kit, "stacks": [{"id": "a", "layers": said(unseen[0])}]}).encode())["results"][0]
    own = predict(fitted(medium).bench, [unseen[0]])[0]
    assert seen["lab"] == pytest.approx(list(own.lab), abs=0.1)
    assert seen["uncertainty_de00"] == pytest.approx(own.uncertainty, rel=0.1)
    match = answer("match", json.dumps({**kit, "targets": [{"role": "base", "lab": [60, 16, 18]}]}).encode())["matches"][0]
    assert match["recipes"]
    again = answer("calibrate", json.dumps({**request, "surface": kit["surface"], "colours": kit["colours"]}).encode())
    assert again["hand"] == found["hand"]


def test_a_single_patch_that_fits_nothing_still_gives_a_kit_to_predict_with():
    def oil(colour, lab):
        return {"id": colour, "lab": lab, "medium": "oil_pencil"}

    layers = [
        {"colour": "white", "pressure": "light", "passes": 5, "point": "side"},
        {"colour": "olive", "pressure": "burnish", "passes": 6},
        {"colour": "white", "pressure": "firm", "passes": 3},
    ]
    request = {
        "surface": {"name": "toned", "lab": [55, 5, 12], "tooth": "sanded"},
        "colours": [oil("white", [98, 0, 0]), oil("olive", [34, -17.2, 49.7])],
        "patches": [{"layers": layers, "lab": [47.8, 12.8, 19.2]}],
    }
    found = answer("calibrate", json.dumps(request).encode())
    kit = {k: found[k] for k in ("surface", "colours", "hand")}
    seen = answer("predict", json.dumps({**kit, "stacks": [{"id": "a", "layers": layers}]}).encode())["results"][0]
    assert 0 < seen["uncertainty_de00"] < 200


@pytest.mark.parametrize(("own", "manners"), [(7, 10), (9, 11), (9, 14)])
def test_a_fit_kept_from_before_with_fewer_terms_is_taken_as_it_was(own, manners):
    fit = fitted().bench.swatches[0].fit
    now = fit.fitted()
    once = {
        **now, "own": now["own"][:own], "manner": now["manner"][:manners],
        "members": [m[:own] + m[COLOUR : COLOUR + manners] for m in now["members"]],
    }  # fmt: skip
    taken = colour_from_fitted(once, "wax_pencil")
    assert taken.own == (*fit.own[:own], *[0.0] * (COLOUR - own))
    assert taken.manner[:manners] == fit.manner[:manners]
    kept = [*range(own), *range(COLOUR, COLOUR + manners)]
    assert [[row[i] for i in kept] for row in taken.members] == [[row[i] for i in kept] for row in fit.members]
    with pytest.raises(BadRequest, match="plain numbers"):
        colour_from_fitted({**once, "manner": now["manner"]}, "wax_pencil")


@pytest.mark.parametrize("medium", ["wax_pencil", "soft_pastel", "alcohol_marker"])
def test_a_fit_kept_from_before_knows_even_fillers_and_films_none_on_a_full_tooth_and_ways_of_light_all_alike(medium):
    zeros = [0.0] * 11
    once = {"own": [0.0] * COLOUR, "manner": zeros, "members": [[0.0] * COLOUR + zeros] * MEMBERS}
    taken = colour_from_fitted(once, medium)
    for manner in (taken.manner, taken.members[0][COLOUR:]):
        found = medium_with(MANNERS[medium], manner)
        assert found.bluer == pytest.approx(0, abs=1e-9)
        assert found.paths < 1e-5
        assert found.specks < 1e-5
        assert found.heaps < 1e-5


@pytest.mark.parametrize(("medium", "first"), [("wax_pencil", 0.25), ("oil_pencil", 0.35), ("soft_pastel", 0.7)])
def test_a_fit_kept_from_before_media_had_todays_usual_numbers_grips_as_it_did(medium, first):
    own, manner = [0.2] + [0.0] * (COLOUR - 1), [0.0] * len(MANNER)
    manner[MANNER.index("grip_after")] = 0.5
    now = {"own": own, "manner": manner, "members": [own + manner] * MEMBERS, "usual": 2}
    assert colour_from_fitted(now, medium).fitted() == {**now, "noise": None, "further": 0.0}
    taken = colour_from_fitted({k: v for k, v in now.items() if k != "usual"}, medium)
    assert taken.own == tuple(own)
    for row in (taken.manner, taken.members[0][COLOUR:]):
        grip = medium_with(MANNERS[medium], row).grip_after
        assert np.log(grip / (1 - grip)) == pytest.approx(np.log(first / (1 - first)) + 0.5)


@pytest.mark.parametrize("tooth", [[0.1, -0.2, 0.0, 0.3, 0.1], [0.1, -0.2, 0.0, 0.3, 0.1, 8.0]])
def test_a_sheet_kept_from_before_is_refused_by_all_it_lays_and_has_no_surface(tooth):
    once = {"tooth": tooth, "members": [[0.0] * len(tooth)] * MEMBERS}
    ground = sheet_from_fitted(Ground(reflectance_from_lab(np.array([95.0, 0, 2])), "vellum"), once)
    assert ground.fit[: len(tooth)] == tuple(tooth)
    assert ground.teeth.own > 0.99
    assert (ground.teeth.outer, ground.teeth.inner) == (0, 0)
    assert {len(row) for row in ground.members} == {9}
    assert ground.teeth.edge == 1
    assert sheet_from_fitted(ground, ground.fitted()) == ground
    with pytest.raises(BadRequest, match="9 plain numbers"):
        sheet_from_fitted(ground, {**once, "tooth": [0.1] * 4})


def test_what_is_not_known_of_a_spectrum_hardly_moves_its_colour():
    # Metamers: the shape of a solid is free only as far as it still looks like the solid that was read.
    solid = reflectance_from_lab(np.array([55.0, 24, 26]))
    spread = colour_spread(solid, measured=False)[2:, 2:]
    tries = tinted(solid, np.random.default_rng(1).multivariate_normal(np.zeros(len(spread)), spread, 400))
    away = delta_e_2000(lab_from_reflectance(solid), lab_from_reflectance(tries))
    assert np.median(away) < 1.5
    assert np.sqrt(((tries - solid) ** 2).mean(axis=1)).mean() > 0.01
    lamp = delta_e_2000(lab_from_reflectance(solid, "A"), lab_from_reflectance(tries, "A"))
    assert np.median(lamp) > 0.5


def test_a_pastel_may_be_lighter_than_its_paper_and_a_dye_may_not():
    toned = Ground(reflectance_from_lab(np.array([62.0, 3, 12])), "sanded")
    red = np.array([52.0, 35, 22])
    pastel, dye = solids_from_lab([red, red], [toned] * 2, ["soft_pastel", "alcohol_marker"])
    assert (pastel / toned.reflectance).max() > 1.5
    assert (dye / toned.reflectance).max() < 1.13
    # A dye has to make that red out of a tan sheet, by an absorption no wider than it must be; a pastel brings its own light.
    assert np.abs(np.diff(pastel)).max() < 0.75 * np.abs(np.diff(dye)).max()
    assert np.array([lab_from_reflectance(r) for r in (pastel, dye)]) == pytest.approx(np.stack([red, red]), abs=0.1)
