"""The stand-in sheets themselves: what common practice knows of paper and patches holds on them too. All data here are invented."""

from copy import deepcopy

import numpy as np
import pytest

from caltin_core.colour.difference import delta_e_2000
from caltin_core.colour.spectra import lab_from_reflectance, reflectance_from_lab
from caltin_core.media.layers import Blend, Lay, Lift, Stroke
from caltin_core.standins.crowded import Crowded, CrowdedSheet
from caltin_core.standins.paper import Nature, Sheet, Stick
from caltin_core.standins.pressed import Pressed, PressedSheet
from caltin_core.standins.rubbed import Rubbed, RubbedSheet
from caltin_core.standins.sheets import sheet_of


@pytest.mark.parametrize("washing", ["flow", "drunk", "even"])
def test_on_the_stand_in_too_pale_coats_laid_wet_lighten_and_on_bare_paper_wet_changes_nothing(washing):
    sheet = Sheet(reflectance_from_lab(np.array([95.0, 0, 1])), "card", Nature(washing=washing))
    dark, pale = (sheet.add(np.array(lab), "alcohol_marker") for lab in ((40.0, 25, 20), (88.0, 8, 14)))

    def seen(*coats):
        return lab_from_reflectance(sheet.reflectance([Lay(c, Stroke("coat", n, wet=w)) for c, n, w in coats], steady=True))

    before = seen((dark, 1, False))[0]
    paler = [seen((dark, 1, False), (pale, n, True))[0] for n in (1, 2, 4, 6)]
    assert paler == sorted(paler)
    # Common practice: repeated pale coats nearly erase. Only a paper that no longer drinks keeps what it has.
    assert paler[-1] > before + (10 if washing == "drunk" else 25)
    assert seen((pale, 1, False), (dark, 2, False))[0] < seen((pale, 1, False))[0] - 20
    assert seen((dark, 3, True)) == pytest.approx(seen((dark, 3, False)))


def test_on_the_stand_in_a_stroke_pulls_along_only_what_it_meets():
    sheet = Sheet(reflectance_from_lab(np.array([62.0, 3, 12])), "sanded", Nature(unsteady=0))
    green, red = (sheet.add(np.array(lab), "soft_pastel") for lab in ((67.0, -34, 2), (30.0, 32, 7)))
    under, touched = [Lay(green, Stroke("firm", 4))], [Lay(red, Stroke("light", 1))]
    seen = lab_from_reflectance(sheet.reflectance([*under, *touched], steady=True))
    assert seen[1] < -5, "most of the green was not touched"


@pytest.mark.parametrize("medium", ["wax_pencil", "soft_pastel", "alcohol_marker"])
def test_the_stand_ins_sticks_are_mixed_of_pigments_that_owe_nothing_to_the_models_spectra(medium):
    paper = reflectance_from_lab(np.array([95.0, 0, 2]))
    aims = np.array([[70.0, 12, 20], [40.0, 15, 12], [60.0, -10, -15], [80.0, 6, 10]])
    made = []
    for seed in (1, 2):
        sheet = Sheet(paper, "vellum", seed=seed)
        made.append(np.array([sheet.solid_reflectance(sheet.add(lab, medium)) for lab in aims]))
        assert delta_e_2000(aims, lab_from_reflectance(made[-1])).max() < 1.5
    # Two makers reach one colour by unlike spectra, neither of them the one that is made up.
    assert np.sqrt(((made[0] - made[1]) ** 2).mean(axis=1)).max() > 0.01
    assert np.sqrt(((made[0] - reflectance_from_lab(aims)) ** 2).mean(axis=1)).min() > 0.001


def test_on_the_stand_in_a_surface_is_read_with_all_that_lies_there():
    paper = reflectance_from_lab(np.array([95.0, 0, 2]))
    plain, glossy = (Sheet(paper, nature=Nature(gloss=gloss, unsteady=0), seed=2) for gloss in (0.0, 0.04))
    black, brown = np.array([12.0, 0, 0]), np.array([40.0, 20, 25])
    for sheet in (plain, glossy):
        assert sheet.reflectance([]) == pytest.approx(paper, abs=1e-9)
        assert delta_e_2000(brown, sheet.solid(sheet.add(brown, "wax_pencil"))) < 1
        sheet.add(black, "wax_pencil")
    assert plain.solid_reflectance(1).min() < 0.02
    # Saunderson 1942: nothing is read darker than what the surface itself throws back.
    assert glossy.solid_reflectance(1).min() > 0.04


@pytest.mark.parametrize("medium", ["wax_pencil", "soft_pastel", "alcohol_marker"])
@pytest.mark.parametrize("kind", [Sheet, PressedSheet, RubbedSheet])
def test_the_stand_in_gives_its_solids_and_follows_from_its_seed(kind, medium):
    aim, stroke = np.array([50.0, 20, 20]), Stroke("coat", 2) if medium == "alcohol_marker" else Stroke("firm", 2)
    seen = []
    for _ in range(2):
        sheet = kind(reflectance_from_lab(np.array([95.0, 0, 2])), seed=5)
        assert sheet.add(aim, medium) == 0
        assert delta_e_2000(aim, sheet.solid(0)) < 1
        seen.append(sheet.patch([Lay(0, stroke)]))
    assert seen[0] == pytest.approx(seen[1])


@pytest.mark.parametrize("law", ["adding", "plain", "geometric"])
def test_the_stand_in_darkens_with_every_pass_and_lightens_when_lifted(law):
    sheet = Sheet(reflectance_from_lab(np.array([95.0, 0, 2])), nature=Nature(law=law, unsteady=0, noise=0))
    brown = sheet.add(np.array([34.0, 18, 20]), "wax_pencil")
    labs = [sheet.patch([Lay(brown, Stroke("medium", n))])[0] for n in (1, 2, 4, 6)]
    assert labs == sorted(labs, reverse=True)
    assert sheet.patch([Lay(brown, Stroke("medium", 4)), Lift("stick")])[0] > labs[2] + 3


# The second sheet, on which strokes rest as loads, the third, off which flakes are rubbed, and the fourth, on which films and dyes
# crowd one another


def pressed(tooth="vellum", **nature):
    return PressedSheet(reflectance_from_lab(np.array([95.0, 0, 2])), tooth, Pressed(unsteady=0, noise=0, **nature), 4)


def rubbed(tooth="vellum", **nature):
    return RubbedSheet(reflectance_from_lab(np.array([95.0, 0, 2])), tooth, Rubbed(unsteady=0, noise=0, **nature), 4)


def crowded(tooth="vellum", **nature):
    return CrowdedSheet(reflectance_from_lab(np.array([95.0, 0, 2])), tooth, Crowded(noise=0, **nature), 4)


def lightness(sheet, *layers):
    return float(lab_from_reflectance(sheet.reflectance(layers, steady=True))[0])


def test_a_sheet_is_of_the_kind_its_nature_is():
    paper = reflectance_from_lab(np.array([95.0, 0, 2]))
    for nature, kind in ((Nature(), Sheet), (Pressed(), PressedSheet), (Rubbed(), RubbedSheet), (Crowded(), CrowdedSheet)):
        assert type(sheet_of(paper, "card", nature, 1)) is kind


@pytest.mark.parametrize("made", [pressed, rubbed, crowded])
@pytest.mark.parametrize("medium", ["wax_pencil", "soft_pastel"])
def test_pressure_and_passes_darken_and_leave_valleys_to_a_rougher_sheet(medium, made):
    sheet, rough = made(), made("textured")
    for one in (sheet, rough):
        one.add(np.array([34.0, 18, 20]), medium)
    for pressure in ("light", "medium", "firm"):
        each = [lightness(sheet, Lay(0, Stroke(pressure, n))) for n in (1, 2, 4, 6)]
        assert each == sorted(each, reverse=True)
    by_pressure = [lightness(sheet, Lay(0, Stroke(p, 2))) for p in ("light", "medium", "firm", "burnish")]
    assert by_pressure == sorted(by_pressure, reverse=True)
    # Common practice: a rough sheet keeps its white in the valleys; the side of the point reaches less deep.
    assert lightness(rough, Lay(0, Stroke("medium", 2))) > lightness(sheet, Lay(0, Stroke("medium", 2)))
    assert lightness(sheet, Lay(0, Stroke("medium", 2, point="side"))) > lightness(sheet, Lay(0, Stroke("medium", 2)))


@pytest.mark.parametrize("made", [pressed, rubbed, crowded])
def test_what_is_burnished_takes_hold_weakly_and_what_is_lifted_lightens(made):
    sheet = made()
    pale, dark = (sheet.add(np.array(lab), "wax_pencil") for lab in ((86.0, 6, 20), (30.0, 12, 10)))
    over = Lay(dark, Stroke("medium", 3))
    after_firm, after_burnish = (lightness(sheet, Lay(pale, Stroke(p, 2)), over) for p in ("firm", "burnish"))
    assert after_burnish > after_firm + 2
    assert lightness(sheet, over, Lift("stick")) > lightness(sheet, over) + 3
    # Common practice: solvent carries colour into the valleys, so that less white is left.
    assert lightness(sheet, over, Blend("solvent")) < lightness(sheet, over) - 2


def test_of_dyed_fibres_k_over_s_adds_and_not_density():
    # Kubelka & Munk 1931: K/S = (1 - R)² / 2 R adds with the dye. Coats that sink no deeper, are not refused and wash nothing away.
    sheet = pressed("card", sinks=0.0, fills=0.0, wash=0.0, spread=0.0)
    sheet.thirst = np.ones_like(sheet.thirst)
    sheet.add(np.array([60.0, 30, 20]), "alcohol_marker")
    r = [sheet.paper, *(sheet.reflectance([Lay(0, Stroke("coat", n))], steady=True) for n in (1, 2))]
    bare, one, two = ((1 - x) ** 2 / (2 * x) for x in r)
    assert two - bare == pytest.approx(2 * (one - bare), rel=1e-6)
    dense = np.log(r[0] / r[1])
    dyed = dense > 0.5
    assert dyed.any()
    assert np.all(np.log(r[0] / r[2])[dyed] < 1.8 * dense[dyed])


def test_wet_coats_wash_more_away_than_dry_ones():
    sheet = pressed("card")
    dark, pale = (sheet.add(np.array(lab), "alcohol_marker") for lab in ((40.0, 25, 20), (88.0, 8, 14)))
    dry, wet = (lightness(sheet, Lay(dark, Stroke("coat", 1)), Lay(pale, Stroke("coat", 3, wet=w))) for w in (False, True))
    assert wet > dry + 3


def test_air_in_a_film_laid_lightly_scatters_and_a_burnish_presses_it_out():
    # On black paper a film shows what it scatters itself.
    airy, dense = (
        RubbedSheet(reflectance_from_lab(np.array([12.0, 0, 0])), nature=Rubbed(unsteady=0, noise=0, air=air), seed=4)
        for air in (2.0, 0.0)
    )
    for sheet in (airy, dense):
        sheet.sticks = [Stick(np.full(31, 0.01), np.full(31, 0.3), 1.0, "wax_pencil")]
    assert lightness(airy, Lay(0, Stroke("light", 4))) > lightness(dense, Lay(0, Stroke("light", 4))) + 2
    assert lightness(airy, Lay(0, Stroke("burnish", 2))) == pytest.approx(lightness(dense, Lay(0, Stroke("burnish", 2))), abs=0.2)


def test_dye_met_at_every_depth_shows_less_the_deeper_it_lies_and_wet_coats_push_it_down():
    sheet = rubbed("card")
    pale, dark = (sheet.add(np.array(lab), "alcohol_marker") for lab in ((85.0, 5, 25), (50.0, 25, -10)))
    r = [sheet.paper, *(sheet.reflectance([Lay(dark, Stroke("coat", n))], steady=True) for n in (1, 2))]
    bare, one, two = ((1 - x) ** 2 / (2 * x) for x in r)
    assert (two > one).all()
    assert ((two - bare) < 2 * (one - bare)).all()
    dry, wet = (lightness(sheet, Lay(dark, Stroke("coat", 1)), Lay(pale, Stroke("coat", 1, wet=w))) for w in (False, True))
    assert wet > dry + 1
    # As much dye further down is seen less.
    state = sheet._begun()
    state.depths[0] = 0.3
    shallow = sheet._pile(state.depths)
    assert (sheet._pile(np.roll(state.depths, 4, axis=0)) > shallow).all()


def test_dyes_compete_for_the_places_there_are():
    sheet = crowded("card")
    pale, dark = (sheet.add(np.array(lab), "alcohol_marker") for lab in ((88.0, 8, 14), (40.0, 25, 20)))
    drawn = sheet._begun()
    for coats in range(1, 6):
        sheet._coat(drawn, sheet.sticks[dark], False, 1.0)
        assert drawn.drunk.mean() < min(coats * 1.5, sheet.crowded.places * 1.5)
    full, dye = float(drawn.drunk.mean()), drawn.dye.mean(axis=(0, 1))
    # Langmuir 1918: full fibres hold no more, but what is brought takes its part of the places; the more where all is wet.
    left = []
    for wet in (False, True):
        there = deepcopy(drawn)
        sheet._coat(there, sheet.sticks[pale], wet, 1.0)
        assert there.drunk.mean() < full + 0.35
        ours = there.drunk.mean() * sheet.sticks[pale].absorbs
        assert (there.dye.mean(axis=(0, 1)) < dye + ours).all()
        left.append(float(there.dye.mean(axis=(0, 1)).sum()))
    assert left[1] < left[0] < float(dye.sum())
    # Where there is room one wet coat is as good as laid dry, and pushes nothing away.
    dry, wet = (lightness(sheet, Lay(pale, Stroke("coat", 1)), Lay(dark, Stroke("coat", 1, wet=w))) for w in (False, True))
    assert wet == pytest.approx(dry, abs=0.5)


def test_a_blender_leaves_wax_slick_and_dust_not():
    # Common practice, as a burnish does.
    for medium, slick in (("wax_pencil", True), ("soft_pastel", False)):
        sheet = Sheet(reflectance_from_lab(np.array([95.0, 0, 2])), nature=Nature(unsteady=0, noise=0), seed=4)
        sheet.add(np.array((80.0, 6, 20)), medium)
        state = sheet._begun()
        sheet._lay(state, sheet.sticks[0], Stroke("medium", 2), 1.0, 1.0)
        sheet._blend(state, Blend("blender"))
        assert (state.polished > 0) == slick
