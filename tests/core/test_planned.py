"""A complexion under a light one plans. Published sources are named; the rest is common practice, without one."""

import colour
import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from caltin_core.colour.difference import chroma, delta_e_2000
from caltin_core.colour.sources import spectrum_of
from caltin_core.colour.spectra import lab_from_reflectance, reflectance_from_lab
from caltin_core.colour.tables import DAYLIGHT, ILLUMINANTS, WAVELENGTHS
from caltin_core.colour.words import warmth
from caltin_core.errors import BadRequest
from caltin_core.skin.planned import Bounce, Head, Key

TONES = ((88.0, 6.0, 14.0), (68.0, 16.0, 20.0), (52.0, 18.0, 24.0), (38.0, 14.0, 16.0), (24.0, 9.0, 9.0))
FALLING = ("highlight", "light", "base", "half_tone", "shadow", "deepest_accent", "nostril")
BASE = TONES[1]


def lit(base=BASE, elevation=30.0, azimuth=45.0, key=5000.0, fill=5000.0, stops=2.0, bounce=None):
    return Head(np.array(base), Key(spectrum_of(key), elevation, azimuth), spectrum_of(fill), stops, bounce).tones()


def test_the_spectra_of_lights_are_those_published():
    # CIE 015:2018: illuminant A is a Planckian radiator of 2856 K; D50 and D65 are daylight of 5003 K and 6504 K.
    for kelvin, name in ((2856, "A"), (5003, "D50"), (6504, "D65")):
        table = ILLUMINANTS[name] / ILLUMINANTS[name].mean()
        assert spectrum_of(kelvin) == pytest.approx(table, rel=0.01), name
    for row, name in zip(DAYLIGHT, ("S0", "S1", "S2"), strict=True):
        assert row == pytest.approx(colour.colorimetry.SDS_BASIS_FUNCTIONS_CIE_ILLUMINANT_D_SERIES[name][WAVELENGTHS], abs=1e-4)
    with pytest.raises(BadRequest):
        spectrum_of(1200)


def test_what_a_lamp_makes_of_a_made_up_skin_is_about_what_it_makes_of_published_ones():
    # The ColorChecker's dark and light skin, spectra as tabulated by colour-science (BabelColor average). What blood does between
    # 540 and 580 nm is not in a made-up spectrum: a lamp's red on light skin is missed by 2.
    chart = colour.SDS_COLOURCHECKERS["BabelColor Average"]
    for name in ("dark skin", "light skin"):
        real = chart[name][WAVELENGTHS]
        made = reflectance_from_lab(lab_from_reflectance(real))
        for light in ("A", "D65"):
            assert delta_e_2000(lab_from_reflectance(real, light), lab_from_reflectance(made, light)) < 2.2


@pytest.mark.parametrize("base", TONES)
def test_in_plain_light_the_base_is_what_it_was_said_to_be(base):
    assert delta_e_2000(lit(base)["base"], np.array(base)) < 1.0


@settings(max_examples=40, deadline=None)
@given(
    st.sampled_from(TONES), st.floats(-10, 60), st.floats(-110, 110), st.sampled_from((2700.0, 4000.0, 5500.0, 8000.0)),
    st.sampled_from((2700.0, 5000.0, 9000.0)), st.floats(1, 4),
)  # fmt: skip
def test_values_fall_from_highlight_to_accent_whatever_the_light(base, elevation, azimuth, key, fill, stops):
    tones = lit(base, elevation, azimuth, key, fill, stops)
    values = [tones[role][0] for role in FALLING]
    assert values == sorted(values, reverse=True)
    assert values[0] <= 100
    assert tones["base"][0] == pytest.approx(base[0], abs=0.01)
    assert all(np.isfinite(lab).all() for lab in tones.values())


@settings(max_examples=60, deadline=None)
@given(
    st.sampled_from(TONES), st.floats(-90, 90), st.floats(-180, 180), st.floats(1667, 25000), st.floats(1667, 25000),
    st.floats(0, 12),
)  # fmt: skip
def test_no_light_however_odd_gives_a_tone_that_cannot_be(base, elevation, azimuth, key, fill, stops):
    tones = np.array(list(lit(base, elevation, azimuth, key, fill, stops).values()))
    assert tones[:, 0].min() >= 0
    assert tones[:, 0].max() <= 100
    assert np.abs(tones[:, 1:]).max() < 150


@pytest.mark.parametrize("base", TONES)
def test_light_from_above_makes_the_upper_lip_the_darker_one_and_the_nostril_darkest(base):
    tones = lit(base, elevation=45, azimuth=20)
    assert tones["upper_lip"][0] < tones["lower_lip"][0] - 3
    assert tones["nostril"][0] == min(lab[0] for lab in tones.values())
    below = lit(base, elevation=-45, azimuth=20)
    assert below["upper_lip"][0] > below["lower_lip"][0]


@pytest.mark.parametrize("base", TONES)
def test_blood_shows_in_flush_and_lips_and_whites_are_greys(base):
    tones = lit(base)
    for role in ("flush", "lower_lip"):
        assert tones[role][1] > tones["base"][1] + 2
    assert chroma(tones["eye_white"]) < 15
    assert tones["eye_white"][0] < 85


@pytest.mark.parametrize("base", TONES)
def test_which_half_is_the_warmer_depends_on_the_lights(base):
    for key, fill, sign in ((2700, 8000, 1), (8000, 2700, -1)):
        tones = lit(base, key=key, fill=fill)
        assert sign * (warmth(tones["light"]) - warmth(tones["shadow"])) > 0


def test_more_fill_lifts_the_shadow_and_no_more():
    low, high = lit(stops=4), lit(stops=1)
    assert high["shadow"][0] > low["shadow"][0] + 10
    assert high["base"][0] == pytest.approx(low["base"][0], abs=0.01)


def test_a_red_sleeve_reddens_the_reflected_light_most_and_none_changes_nothing():
    red = reflectance_from_lab(np.array([40.0, 50.0, 30.0]))
    plain, by = lit(), lit(bounce=Bounce(red, 0.8))
    gained = {role: by[role][1] - plain[role][1] for role in plain}
    assert gained["reflected_light"] > 5
    assert gained["reflected_light"] > gained["light"] + 5
    nothing = lit(bounce=Bounce(red, 0.0))
    assert all(nothing[role] == pytest.approx(plain[role], abs=1e-9) for role in plain)


def test_a_highlight_is_the_light_itself_and_stands_out_more_on_deep_skin():
    # The dichromatic model (Shafer 1985): what the surface throws back has the light's colour.
    gains = [lit(base)["highlight"][0] - base[0] for base in TONES]
    assert gains == sorted(gains)
    for base in TONES[2:]:
        tones = lit(base)
        assert chroma(tones["highlight"]) < chroma(tones["light"])


def test_left_and_right_are_alike():
    left, right = lit(azimuth=-60), lit(azimuth=60)
    for role in left:
        assert left[role] == pytest.approx(right[role], abs=0.6), role


def test_edges_of_shadows_on_skin_are_redder_than_the_light_makes_them():
    tones = lit(azimuth=90, elevation=0)
    towards = np.degrees(np.arctan2(tones["half_tone"][2], tones["half_tone"][1]))
    assert towards < np.degrees(np.arctan2(BASE[2], BASE[1]))


def test_light_from_behind_leaves_the_face_in_the_fill():
    tones = lit(azimuth=180, elevation=40)
    assert tones["light"][0] > tones["base"][0] + 10
    assert tones["base"][0] - tones["shadow"][0] < 10
    assert abs(tones["upper_lip"][0] - tones["lower_lip"][0]) < 9


def test_the_ball_shows_the_tones_where_they_lie():
    head = Head(np.array(BASE), Key(spectrum_of(5000), 0.0, 60.0), spectrum_of(6500), 2.0)
    lab, inside = head.ball(41)
    assert inside.mean() == pytest.approx(np.pi / 4, abs=0.02)
    tones, middle = head.tones(), lab[20]
    assert middle[36, 0] > tones["base"][0] > middle[12, 0]
    assert middle[3, 0] == pytest.approx(tones["shadow"][0], abs=4)
    brightest = np.unravel_index(np.argmax(lab[..., 0]), inside.shape)
    assert brightest[1] > 26
    assert lab[brightest][0] == pytest.approx(tones["highlight"][0], abs=1)


def test_what_is_nearly_black_cannot_be_lit():
    with pytest.raises(BadRequest, match="too dark"):
        lit((1.0, 0.0, 0.0))
