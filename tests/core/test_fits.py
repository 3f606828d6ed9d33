"""What a fit says of a stick, and fits kept from before. All data here are invented."""

from dataclasses import astuple, replace
from functools import partial
from itertools import combinations, product

import numpy as np
import pytest

from caltin_core.colour.difference import delta_e_2000
from caltin_core.colour.spectra import lab_from_reflectance, reflectance_from_lab
from caltin_core.errors import BadRequest
from caltin_core.media.colourants import Ground, Handling, sheet_from_fitted, solids_from_lab
from caltin_core.media.film import dyed
from caltin_core.media.fits import (
    COLOUR,
    MANNER,
    ColourFit,
    colour_from_fitted,
    colour_spread,
    manner_bounds,
    medium_with,
    sheet_bounds,
    tinted,
    tooth_with,
)
from caltin_core.media.hand import MEMBERS
from caltin_core.media.kinds import MEDIA as MANNERS
from caltin_core.media.layers import Lay, Stroke
from caltin_core.media.learnt import learnt, learnt_words
from caltin_core.media.predict import colours_of
from caltin_core.media.tooth import TEETH
from caltin_core.media.workbench import Workbench
from tests.core.worlds import fitted, world


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


@pytest.mark.parametrize(
    ("bounds", "moved", "ends"),
    [
        # Of a surface what it throws back of light from outside and inside, and the end of a stroke's reach: both ways.
        (sheet_bounds(TEETH["vellum"]), partial(tooth_with, TEETH["vellum"]), 6),
        # By what the surface grows; how late full paper refuses and how deep a dye soaks in, both ways.
        (manner_bounds(MANNERS["wax_pencil"]), partial(medium_with, MANNERS["wax_pencil"]), 3),
        (manner_bounds(MANNERS["alcohol_marker"]), partial(medium_with, MANNERS["alcohol_marker"]), 5),
    ],
)
def test_offsets_tell_where_they_stop_changing_anything(bounds, moved, ends):
    told = 0
    for at, step in product(range(len(bounds[0])), (-1.0, 1.0)):
        end = np.zeros(len(bounds[0]))
        end[at] = bounds[int(step > 0)][at]
        beyond, within = end.copy(), end.copy()
        beyond[at] += step
        within[at] -= 0.1 * step
        if abs(end[at]) < 8:
            assert astuple(moved(beyond)) == pytest.approx(astuple(moved(end)), abs=1e-12), at
            told += astuple(moved(within)) != astuple(moved(end))
    assert told == ends


@pytest.mark.parametrize(("own", "manners"), [(7, 10), (9, 11), (9, 14), (9, 15), (9, 17), (9, 19)])
def test_a_fit_kept_from_before_with_fewer_terms_is_taken_as_it_was(own, manners):
    fit = fitted().bench.swatches[0].fit
    now = fit.fitted()
    once = {
        **now, "own": now["own"][:own], "manner": now["manner"][:manners],
        "members": [m[:own] + m[COLOUR : COLOUR + manners] for m in now["members"]],
    }  # fmt: skip
    taken = colour_from_fitted(once, "wax_pencil")
    assert taken.own == (*fit.own[:own], *[0.0] * (COLOUR - own))
    # How deep a dye soaks in was told otherwise by those with 14 and 15.
    same = [i for i in range(manners) if MANNER[i] != "soak" or manners > 15]
    assert [taken.manner[i] for i in same] == [fit.manner[i] for i in same]
    kept = [*range(own), *(COLOUR + i for i in same)]
    assert [[row[i] for i in kept] for row in taken.members] == [[row[i] for i in kept] for row in fit.members]
    with pytest.raises(BadRequest, match="plain numbers"):
        colour_from_fitted({**once, "manner": now["manner"]}, "wax_pencil")


@pytest.mark.parametrize("medium", ["wax_pencil", "soft_pastel", "alcohol_marker"])
def test_a_fit_kept_from_before_knows_even_fillers_and_films_none_on_a_full_tooth_and_dyes_that_do_not_soak_in(medium):
    zeros = [0.0] * 11
    once = {"own": [0.0] * COLOUR, "manner": zeros, "members": [[0.0] * COLOUR + zeros] * MEMBERS}
    taken = colour_from_fitted(once, medium)
    for manner in (taken.manner, taken.members[0][COLOUR:]):
        found = medium_with(MANNERS[medium], manner)
        assert found.bluer == pytest.approx(0, abs=1e-9)
        assert found.soak < 1e-3
        assert max(found.sinks, found.crowds_wet, found.crowds_dry) < 1e-5
        assert found.specks < 1e-5
        assert found.heaps < 1e-5
        assert found.builds < 1e-5
        assert found.late == 1


@pytest.mark.parametrize("unlike", [0.02, 0.1, 0.4, 0.9])
def test_a_dye_kept_from_when_the_ways_of_light_through_it_were_unlike_looks_as_it_did(unlike):
    # What it was then: R = (R0^-w + 2 w A)^(-1/w), of a variance w of the ways against the square of their mean.
    manner = [0.0] * 15
    manner[MANNER.index("soak")] = float(np.log(unlike / (1 - unlike)) - np.log(0.1 / 0.9))
    once = {"own": [0.0] * COLOUR, "manner": manner, "members": [[0.0] * COLOUR + manner] * MEMBERS, "usual": 2}
    soak = medium_with(MANNERS["alcohol_marker"], colour_from_fitted(once, "alcohol_marker").manner).soak
    paper, amounts = np.full((1, 1, 1), 0.85), np.linspace(0, 40, 4001)
    now = dyed(paper, np.ones((1, 1)), amounts, np.full((1, 1), soak))[0, :, 0]
    for once_seen in (0.3, 0.6):
        one = (once_seen**-unlike - 0.85**-unlike) / (2 * unlike)
        two = (0.85**-unlike + 2 * unlike * 1.6 * one) ** (-1 / unlike)
        there = np.interp(-once_seen, -now, amounts)
        assert np.interp(1.6 * there, amounts, now) == pytest.approx(two, abs=0.012)


@pytest.mark.parametrize(("medium", "first"), [("wax_pencil", 0.25), ("oil_pencil", 0.35), ("soft_pastel", 0.7)])
def test_a_fit_kept_from_before_media_had_todays_usual_numbers_grips_as_it_did(medium, first):
    own, manner = [0.2] + [0.0] * (COLOUR - 1), [0.0] * len(MANNER)
    manner[MANNER.index("grip_after")] = 0.5
    now = {"own": own, "manner": manner, "members": [own + manner] * MEMBERS, "usual": 3}
    assert colour_from_fitted(now, medium).fitted() == {**now, "noise": None, "further": 0.0}
    taken = colour_from_fitted({k: v for k, v in now.items() if k != "usual"}, medium)
    assert taken.own == tuple(own)
    for row in (taken.manner, taken.members[0][COLOUR:]):
        grip = medium_with(MANNERS[medium], row).grip_after
        assert np.log(grip / (1 - grip)) == pytest.approx(np.log(first / (1 - first)) + 0.5)


def test_a_fit_kept_from_before_made_up_spectra_rose_in_the_far_red_looks_as_it_did(monkeypatch):
    tones = [(72, 22, 30), (48, 40, 18), (60, -25, 20), (40, 10, -35), (85, 4, 40), (55, 0.5, 1)]
    now = reflectance_from_lab(np.array(tones, dtype=float))
    monkeypatch.setattr("caltin_core.colour.spectra._REDDER", 0.0)
    once = reflectance_from_lab(np.array(tones, dtype=float))
    monkeypatch.undo()
    own = [0.1, -0.2, 0.05, 0.1, -0.1, *[0.0] * 4]
    kept = {"own": own, "manner": [0.0] * len(MANNER), "members": [own + [0.0] * len(MANNER)] * MEMBERS, "usual": 2}
    fits = [colour_from_fitted(kept, "alcohol_marker", made) for made in now]
    assert all(f.own[:2] == (0.1, -0.2) and f.members[0][:COLOUR] == f.own for f in fits)
    today, taken, then = (
        np.array([tinted(solid, np.array(offsets)) for solid, offsets in zip(solids, each, strict=True)])
        for solids, each in ((now, [own[2:]] * 6), (now, [f.own[2:] for f in fits]), (once, [own[2:]] * 6))
    )
    # Three layers of dye let through what one and one and one do.
    three = np.array(list(combinations(range(6), 3)))
    seen, as_kept, as_then = (lab_from_reflectance(np.prod(solids[three], axis=1)) for solids in (today, taken, then))
    assert delta_e_2000(as_kept, as_then).max() < 0.2
    assert np.median(delta_e_2000(as_kept, as_then)) < 0.2 * np.median(delta_e_2000(seen, as_then))
    # One that was measured is what it was measured to be.
    assert colour_from_fitted(kept, "alcohol_marker").own == tuple(own)


@pytest.mark.parametrize("usual", [0, 4, 2.5, "2", None, [2]])
def test_a_fit_against_numbers_that_never_were_is_refused(usual):
    kept = {**fitted().bench.swatches[0].fit.fitted(), "usual": usual}
    with pytest.raises(BadRequest, match="not a colour that Caltin fitted"):
        colour_from_fitted(kept, "wax_pencil")


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
