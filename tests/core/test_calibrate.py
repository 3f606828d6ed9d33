"""Calibration, judged by patches from the stand-in sheet, whose physics are its own. All data here are invented."""

import json

import numpy as np
import pytest

from caltin_core.cli import answer
from caltin_core.colour.difference import delta_e_2000
from caltin_core.colour.spectra import lab_from_reflectance
from caltin_core.media.calibrate import Patch, calibrate, doubt, fitting, step_from
from caltin_core.media.colourants import Ground, Swatch, solids_from_lab
from caltin_core.media.fits import sheet_bounds
from caltin_core.media.hand import HAND
from caltin_core.media.layers import Blend, Lay, Lift, Stroke
from caltin_core.media.moves import Space
from caltin_core.media.predict import colours_of, predict
from caltin_core.media.tooth import TEETH
from caltin_core.media.workbench import Workbench
from tests.core.worlds import LABS, MEDIA, fitted, misses, strokes, world


# With each the natures that most concern it; the bench has all with all.
@pytest.mark.parametrize(
    ("medium", "nature"),
    [
        *(("wax_pencil", nature) for nature in ("glossy", "pressed")),
        *(("soft_pastel", nature) for nature in ("other law", "pressed")),
        *(("alcohol_marker", nature) for nature in ("crowded", "pressed")),
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
    # The issue asks it for one layer or six; the bounds are wider than of all together, for one kit's thirty patches stand behind each.
    sheet, *_ = world(medium)
    found, rng, how = fitted(medium).bench, np.random.default_rng(8), strokes(medium)
    told = []
    for layers in (1, 3, 6):
        drawn = [(rng.integers(len(LABS), size=layers), rng.integers(len(how), size=layers)) for _ in range(30)]
        stacks = [tuple(Lay(int(c), how[h]) for c, h in zip(*one, strict=True)) for one in drawn]
        seen = predict(found, stacks)
        share = delta_e_2000(np.array([sheet.patch(s) for s in stacks]), np.array([p.lab for p in seen]))
        share = share / np.array([p.uncertainty for p in seen])
        assert 0.4 < np.quantile(share, 0.8) < 1.8
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


def test_a_fit_does_not_stay_where_it_began():
    # Dye that soaks deep into this sheet, unlike the usual: with all their say at once the patches held the fit at the usual.
    _, bench, patches, _, _ = world("alcohol_marker", "pressed", seed=8)
    assert np.median(calibrate(bench, patches).misses) < 0.45


def test_a_fit_ends_where_it_still_changes_something():
    # This sheet throws back less than none by its patches; beyond the least there is, every slope is level and a fit was lost.
    least, most = sheet_bounds(TEETH["vellum"])
    fit = np.array(fitted().bench.ground.fit)
    assert (fit >= least - 1e-9).all()
    assert (fit <= most + 1e-9).all()
    assert fit[6] == pytest.approx(least[6], abs=1e-9)


def test_what_would_go_beyond_its_bound_stays_there_and_all_else_steps_as_if_alone():
    _, bench, _, _, _ = world("alcohol_marker")
    space = Space(bench, range(len(LABS)))
    at = HAND + 6
    theta, pull, normal = np.zeros(space.size), np.ones(space.size), 2 * np.eye(space.size)
    theta[at], normal[at, 0], normal[0, at] = space.least[at], 0.9, 0.9
    out = step_from(space, theta, normal, pull)
    assert out[at] == 0
    assert np.delete(out, at) == pytest.approx(-0.5)
    assert space.small_step(space.most, at) < 0 < space.small_step(theta, at)
    # The way back is free, and a step that would cross a bound ends on it.
    assert step_from(space, theta, normal, -pull)[at] > 0
    assert (theta + step_from(space, theta, normal, 100 * pull))[HAND + 7] == pytest.approx(space.least[HAND + 7])


def test_patches_that_show_nothing_new_are_sure_of_it():
    # What fits from the first leaves a fit where it began, as sure as one that had to be moved.
    _, bench, patches, unseen, _ = world()
    foreseen = [Patch(p.layers, lab) for p, (lab, _) in zip(patches, colours_of(bench, [p.layers for p in patches]), strict=True)]
    told = [np.median([p.uncertainty for p in predict(b, unseen)]) for b in (calibrate(bench, foreseen).bench, fitted().bench)]
    assert told[0] < 1.1 * told[1]


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


def test_a_fit_can_be_left_between_steps_and_changes_nothing_then():
    _, bench, patches, _, _ = world()
    steps = fitting(bench, patches)
    assert next(steps)[0] == 0
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
