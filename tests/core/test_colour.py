"""Colour against its published sources; colour-science is the second opinion."""

import warnings

import colour
import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from caltin_core.colour.by_eye import Seen, lab_by_eye, seen_by_eye
from caltin_core.colour.difference import chroma, delta_e_2000, hue_angle, parts
from caltin_core.colour.spaces import (
    SRGB_TO_XYZ50,
    adaptation,
    hex_from_lab,
    hexes_from_lab,
    lab_d65_from_lab_d50,
    lab_from_hex,
    lab_from_srgb,
    lab_from_xyz,
    srgb_from_lab,
    xyz_from_lab,
)
from caltin_core.colour.spectra import (
    lab_from_reflectance,
    lab_from_thinned,
    reflectance_from_lab,
    reflectance_from_samples,
    thin_weights,
    thinned,
    usual_logits,
    weights,
)
from caltin_core.colour.tables import CMFS, ILLUMINANTS, SENSOR_TO_SRGB, WAVELENGTHS
from caltin_core.colour.value import lightness_of_value, munsell_value
from caltin_core.colour.words import difference, hue_word, tone_words
from caltin_core.errors import BadRequest
from caltin_core.media.fits import colour_spread
from caltin_core.media.usual_sheets import USUAL_SHEETS
from tests.sources.ciede2000 import PAIRS


@pytest.mark.parametrize("row", PAIRS)
def test_ciede2000_gives_every_pair_of_sharma_wu_dalal_2005(row):
    assert float(delta_e_2000(np.array(row[:3]), np.array(row[3:6]))) == pytest.approx(row[6], abs=5e-5)
    assert float(delta_e_2000(np.array(row[3:6]), np.array(row[:3]))) == pytest.approx(row[6], abs=5e-5)


def test_there_are_34_pairs():
    assert len(PAIRS) == 34


def test_ciede2000_agrees_with_colour_science_on_random_colours(rng):
    one, two = (np.column_stack([rng.uniform(0, 100, 500), rng.uniform(-90, 90, (500, 2))]) for _ in range(2))
    assert delta_e_2000(one, two) == pytest.approx(colour.delta_E(one, two, method="CIE 2000"), abs=1e-6)


def test_tables_are_those_of_colour_science():
    cmfs = colour.MSDS_CMFS["CIE 1931 2 Degree Standard Observer"]
    assert np.abs(cmfs[WAVELENGTHS] - CMFS).max() < 1e-7
    for name, table in ILLUMINANTS.items():
        assert np.abs(colour.SDS_ILLUMINANTS[name][WAVELENGTHS] - table).max() < 1e-4


def test_a_usual_camera_s_channels_show_the_colorchecker_about_as_it_is():
    # A sensor measured at a national laboratory (Darrodi et al. 2015) and the ColorChecker, both from colour-science.
    (sensor,) = (kept for name, kept in colour.MSDS_CAMERA_SENSITIVITIES.items() if name.endswith("5100 (NPL)"))
    senses = sensor.copy()[WAVELENGTHS] * ILLUMINANTS["D50"][:, None]
    chart = colour.SDS_COLOURCHECKERS["BabelColor Average"].values()
    spectra = np.array([np.interp(WAVELENGTHS, sd.wavelengths, sd.values) for sd in chart])
    seen = spectra @ (senses / senses.sum(axis=0)) @ SENSOR_TO_SRGB.T @ SRGB_TO_XYZ50.T
    assert np.median(delta_e_2000(lab_from_xyz(seen), lab_from_reflectance(spectra))) < 1.5
    assert np.allclose(SENSOR_TO_SRGB.sum(axis=1), 1, atol=1e-3)


def test_d50_white_is_lab_100_0_0_and_close_to_icc():
    # ICC.1:2022, D50 white 0.9642, 1, 0.8249.
    _, white = weights("D50")
    assert white == pytest.approx([0.9642, 1.0, 0.8249], abs=2e-3)
    assert lab_from_reflectance(np.ones(31)) == pytest.approx([100, 0, 0], abs=1e-9)
    assert lab_from_hex("#ffffff") == pytest.approx([100, 0, 0], abs=1e-9)


def test_srgb_agrees_with_colour_science_through_bradford(rng):
    # IEC 61966-2-1; Bradford adaptation (Lam 1985).
    encoded = rng.uniform(0, 1, (200, 3))
    space = colour.RGB_COLOURSPACES["sRGB"]
    whites = colour.CCS_ILLUMINANTS["CIE 1931 2 Degree Standard Observer"]
    xyz = colour.RGB_to_XYZ(encoded, space, whites["D50"], chromatic_adaptation_transform="Bradford", apply_cctf_decoding=True)
    assert delta_e_2000(lab_from_srgb(encoded), colour.XYZ_to_Lab(xyz, whites["D50"])).max() < 0.06


@pytest.mark.parametrize(("name", "lab"), [("dark skin", (38.42, 13.68, 14.42)), ("light skin", (65.93, 17.93, 17.88))])
def test_colorchecker_skins_from_their_spectra(name, lab):
    # BabelColor Average of the ColorChecker, as shipped with colour-science; Lab under D50.
    spectrum = colour.SDS_COLOURCHECKERS["BabelColor Average"][name]
    values = spectrum.copy().align(colour.SpectralShape(380, 730, 10)).values
    found = lab_from_reflectance(reflectance_from_samples(380, 10, np.asarray(values)))
    assert float(delta_e_2000(found, np.array(lab))) < 0.25


def test_munsell_value_is_astm_d1535(rng):
    lab = np.column_stack([rng.uniform(2, 99, 60), np.zeros((60, 2))])
    published = colour.munsell_value(100 * xyz_from_lab(lab)[:, 1], method="ASTM D1535")
    assert munsell_value(lab) == pytest.approx(published, abs=2e-3)
    # ASTM D1535: value 5 has a luminance factor of 19.27 % (19.77 % of magnesium oxide, Newhall, Nickerson & Judd 1943).
    assert float(100 * ((lightness_of_value(np.array(5.0)) + 16) / 116) ** 3) == pytest.approx(19.27, abs=0.01)
    assert munsell_value(np.array([float(lightness_of_value(np.array(7.3))), 0, 0])) == pytest.approx(7.3, abs=1e-3)


def test_a_colour_said_by_value_strength_and_hue_is_that_colour_and_said_back(rng):
    for value, strength, hue in zip(rng.uniform(0.5, 9.9, 40), rng.uniform(5, 80, 40), rng.uniform(0, 360, 40), strict=True):
        lab = lab_by_eye(Seen(value, strength, hue))
        assert float(munsell_value(lab)) == pytest.approx(value, abs=2e-3)
        assert float(hue_angle(lab)) == pytest.approx(hue, abs=1e-6)
        assert float(chroma(lab)) == pytest.approx(strength)
        assert seen_by_eye(lab).value == pytest.approx(value, abs=2e-3)
        assert seen_by_eye(lab).hue == pytest.approx(hue)
    # ASTM D1535 counts on from magnesium oxide, so that its 10 is more than a perfect white: that is the lightest there is.
    assert lab_by_eye(Seen(10, 0, 0)) == pytest.approx([100, 0, 0])
    assert lab_by_eye(Seen(0, 0, 200)) == pytest.approx([0, 0, 0], abs=1e-9)


def test_usual_sheets_go_from_white_to_black_and_look_as_they_are_called():
    sheets = {name: np.array(lab) for name, lab in USUAL_SHEETS.items()}
    assert max(sheets, key=lambda n: sheets[n][0]) == "white"
    assert min(sheets, key=lambda n: sheets[n][0]) == "black"
    greys = {name for name in sheets if hue_word(sheets[name]) == "grey"}
    assert greys == {"white", "light grey", "mid grey", "dark grey", "black"}
    assert "brown" in tone_words(sheets["brown"])
    assert hue_word(sheets["blue grey"]) == "blue"


def _colorchecker(chart):
    """Published reflectances (24, 31) of the ColorChecker, its eighteen chromatic patches first."""
    shape = colour.SpectralShape(400, 700, 10)
    return np.clip(np.array([s.copy().align(shape).values for s in colour.SDS_COLOURCHECKERS[chart].values()]), 1e-3, 0.97)


CHARTS = ("BabelColor Average", "ISO 17321-1", "ColorChecker N Ohta")


@pytest.mark.parametrize("chart", CHARTS)
def test_every_measured_surface_colour_comes_back_from_its_likeliest_spectrum(chart):
    lab = lab_from_reflectance(_colorchecker(chart))
    assert delta_e_2000(lab, lab_from_reflectance(reflectance_from_lab(lab))).max() < 0.1


@pytest.mark.parametrize(("step", "most"), [(1, 1e-9), (2, 0.6), (3, 1.5)])
def test_the_colorcheckers_colours_are_about_those_of_fewer_bands(step, most):
    measured = _colorchecker(CHARTS[0])
    away = delta_e_2000(lab_from_reflectance(measured), lab_from_thinned(thinned(measured, step)))
    assert away.max() < most
    assert thin_weights(30 // step + 1).sum(axis=0) == pytest.approx(weights()[1])


@pytest.mark.parametrize("chart", CHARTS)
def test_spectra_made_up_from_the_colorcheckers_colours_mix_as_its_measured_ones(chart):
    """Kubelka & Munk 1931: K/S of a mixture is the mean of its parts'. Spectra from Lab alone know nothing else of them."""
    true = _colorchecker(chart)[:18]
    made = reflectance_from_lab(lab_from_reflectance(true))
    one, other = np.triu_indices(18, 1)

    def mixed(spectra):
        ratio = (1 - spectra) ** 2 / (2 * spectra)
        both = (ratio[one] + ratio[other]) / 2
        return lab_from_reflectance(1 + both - np.sqrt(both**2 + 2 * both))

    away = delta_e_2000(mixed(true), mixed(made))
    assert np.median(away) < 1.5
    assert np.quantile(away, 0.9) < 4.0


def test_the_wandering_of_spectra_is_the_likeliest_for_the_colorcheckers_chromatic_patches():
    """Marginal likelihood of a Gaussian process (Rasmussen & Williams 2006, 2.30), written out with any stray and reach."""
    logits = np.concatenate([np.log(r / (1 - r)) for r in (_colorchecker(chart)[:18] for chart in CHARTS[::2])])
    apart = np.sqrt(5) * np.abs(WAVELENGTHS[:, None] - WAVELENGTHS)

    def likelihood(stray, alike):
        d = apart / alike
        # What reading and rounding add, so that no spectrum must be smooth to the last digit.
        table = stray**2 * ((1 + d + d**2 / 3) * np.exp(-d) + 1e-4 * np.eye(31)) + 3.0**2
        _, size = np.linalg.slogdet(table)
        about = logits - logits.mean(axis=1, keepdims=True)
        return -0.5 * (np.einsum("nb,bc,nc->", about, np.linalg.inv(table), about) + len(logits) * size)

    grid = {(stray, alike): likelihood(stray, alike) for stray in (0.6, 0.72, 0.85, 1.0, 1.2) for alike in (50, 65, 80, 100, 125)}
    assert max(grid, key=grid.get) == (0.85, 80)
    d = apart / 80
    assert usual_logits() == pytest.approx(3.0**2 + 0.85**2 * (1 + d + d**2 / 3) * np.exp(-d))


@pytest.mark.parametrize("chart", CHARTS)
def test_made_up_spectra_rise_in_the_far_red_as_the_colorcheckers_ones_do(chart, monkeypatch):
    """A rise there shows in another light, adapted by Bradford, and in what three layers of dye let through (Beer–Lambert)."""
    true = _colorchecker(chart)
    coloured, three = slice(0, 18), np.random.default_rng(0).integers(18, size=(3, 400))
    table, white = weights("A")
    to_day = adaptation(white, weights("D50")[1]).T

    def misses():
        made = reflectance_from_lab(lab_from_reflectance(true))
        lit = delta_e_2000(lab_from_xyz(true @ table @ to_day), lab_from_xyz(made @ table @ to_day))
        through, as_made = (lab_from_reflectance(np.prod(spectra[three], axis=0)) for spectra in (true, made))
        light = through[:, 0] > 15
        return np.median(lit[coloured]), lit[18:].max(), np.median(delta_e_2000(through, as_made)[light])

    lit, grey, layers = misses()
    monkeypatch.setattr("caltin_core.colour.spectra._REDDER", 0.0)
    level_lit, level_grey, level_layers = misses()
    assert lit < 0.85 * level_lit
    assert layers < 0.9 * level_layers
    # What has no colour lets the far red through no better than the rest.
    assert grey < level_grey + 0.1


@pytest.mark.parametrize("chart", CHARTS)
def test_what_is_left_open_of_a_spectrum_is_as_wide_as_the_colorcheckers_ones_stray(chart):
    true = _colorchecker(chart)[:18]
    solids = reflectance_from_lab(lab_from_reflectance(true))
    off = np.log(true / (1 - true)) - np.log(solids / (1 - solids))
    terms = off @ np.linalg.pinv(np.polynomial.legendre.legvander(np.linspace(-1, 1, 31), 6)).T
    spreads = [colour_spread(solid, measured=False)[2:, 2:] for solid in solids]
    # Seven terms less the three that the colour tells.
    widest = [np.linalg.eigh(spread) for spread in spreads]
    ratio = np.array([(v.T @ t)[-4:] / np.sqrt(w[-4:]) for (w, v), t in zip(widest, terms, strict=True)])
    assert 0.8 < np.sqrt((ratio**2).mean()) < 1.25


@pytest.mark.parametrize("lab", [(10, 5, 92), (54, -9, -156), (4, -31, -77), (89, 2, -117), (0, 0, 0), (100, 0, 0)])
def test_a_colour_no_surface_has_is_given_the_nearest_spectrum_in_silence(lab):
    with warnings.catch_warnings():
        warnings.simplefilter("error")
        made = reflectance_from_lab(np.array(lab, dtype=float))
    assert np.all((made > 0) & (made < 1))


@given(st.lists(st.floats(0.02, 0.98), min_size=3, max_size=9))
def test_likeliest_spectra_of_any_surface_colour_stay_in_range_and_come_back(knots):
    reflectance = np.interp(WAVELENGTHS, np.linspace(400, 700, len(knots)), knots)
    lab = lab_from_reflectance(reflectance)
    back = reflectance_from_lab(lab)
    assert back.shape == (31,)
    assert np.all((back > 0) & (back < 1))
    assert float(delta_e_2000(lab, lab_from_reflectance(back))) < 0.1


@given(st.floats(0.2, 0.9), st.floats(5, 30), st.floats(0, 360))
def test_a_share_of_what_a_medium_throws_back_is_never_more_and_comes_back(most, strength, hue):
    above = np.full(31, most)
    top = float(lab_from_reflectance(above)[0])
    lab = np.array([0.6 * top, 0.5 * strength * np.cos(np.radians(hue)), 0.5 * strength * np.sin(np.radians(hue))])
    back = reflectance_from_lab(np.stack([lab, lab]), np.stack([above, np.full(31, 0.95)]))
    assert np.all(back[0] <= most * 1.12 + 1e-9)
    assert delta_e_2000(lab, lab_from_reflectance(back)).max() < 0.1


@given(st.tuples(*[st.integers(0, 255)] * 3))
def test_hex_comes_back_through_lab(rgb):
    text = "#" + "".join(f"{v:02x}" for v in rgb)
    assert hex_from_lab(lab_from_hex(text)) == (text, True)


def test_many_colours_turned_at_once_are_those_turned_one_by_one(rng):
    labs = rng.uniform((0, -100, -100), (100, 100, 100), (200, 3))
    shown, inside = hexes_from_lab(labs)
    assert list(zip(shown, inside.tolist(), strict=True)) == [hex_from_lab(lab) for lab in labs]
    assert 20 < inside.sum() < 180
    assert hexes_from_lab(np.zeros((0, 3)))[0] == []


def test_a_colour_outside_srgb_is_told_and_clipped():
    encoded, inside = srgb_from_lab(np.array([50.0, -80.0, -40.0]))
    assert not inside
    assert encoded.min() == 0.0


def test_d65_lab_of_a_d50_white_is_white():
    assert lab_d65_from_lab_d50(np.array([100.0, 0, 0])) == pytest.approx([100, 0, 0], abs=1e-6)


@pytest.mark.parametrize("illuminant", ["A", "D50", "D65", "FL2", "LED-B3"])
def test_a_grey_is_grey_under_every_light(illuminant):
    assert lab_from_reflectance(np.full(31, 0.18), illuminant)[1:] == pytest.approx([0, 0], abs=1e-9)


def test_measured_samples_of_any_step_are_read_at_the_bands():
    fine = reflectance_from_samples(380, 1, np.linspace(0.1, 0.8, 351))
    coarse = reflectance_from_samples(380, 20, np.linspace(0.1, 0.8, 351)[::20])
    assert fine == pytest.approx(coarse, abs=1e-9)
    for start, step, many, where in ((410, 10, 31, "values"), (400, 25, 31, "step"), (400, 10, 30, "values")):
        with pytest.raises(BadRequest) as fault:
            reflectance_from_samples(start, step, np.full(many, 0.5))
        assert fault.value.where == where
    with pytest.raises(BadRequest, match="between 0 and 1"):
        reflectance_from_samples(400, 10, np.full(31, -0.1))


def test_parts_are_recipe_minus_target_with_a_signed_hue():
    target, recipe = np.array([50.0, 20.0, 0.0]), np.array([55.0, 0.0, 25.0])
    dl, dc, dh = parts(recipe, target)
    assert (float(dl), float(dc)) == (5.0, 5.0)
    assert float(dh) > 0
    assert float(parts(target, recipe)[2]) == pytest.approx(-float(dh))


@pytest.mark.parametrize(
    ("lab", "words"),
    [
        ((44, 20, 20), "darker"),
        ((56, 20, 20), "lighter"),
        ((50, 30, 30), "stronger"),
        ((50, 12, 12), "duller"),
        ((50, 12, 26), "yellower"),
        ((50, 28, 2), "redder"),
    ],
)
def test_differences_are_said_in_artists_words(lab, words):
    assert words in difference(np.array(lab, dtype=float), np.array([50.0, 20.0, 20.0])).words


def test_the_same_colour_is_said_to_be_the_same():
    assert difference(np.array([50.0, 20, 20]), np.array([50.0, 20, 20])).words == "the same to the eye"


@given(st.floats(0, 100), st.floats(-80, 80), st.floats(-80, 80))
def test_every_colour_has_words(lightness, a, b):
    assert tone_words(np.array([lightness, a, b]))
