"""Ways of seeing, development and balance: second opinions by scikit-image and OpenCV, charts with known lights."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from skimage.color import rgb2lab
from skimage.filters import threshold_otsu

from caltin_core.colour.difference import delta_e_2000
from caltin_core.colour.sources import planckian_white
from caltin_core.colour.spaces import SRGB_TO_XYZ, SRGB_TO_XYZ50, WHITE_D50, lab_from_xyz, xyz50_from_srgb
from caltin_core.colour.value import munsell_value
from caltin_core.errors import BadRequest
from caltin_core.reference import areas, cast, seeing
from caltin_core.reference.develop import PLAIN, Develop, balanced_by, balanced_for, balanced_to, shown
from caltin_core.reference.points import balance, tone
from tests.core.pictures import bytes_of, chart, lab_of, portrait, sphere


def ramp(width=256, height=64):
    return np.repeat(np.arange(width, dtype=np.uint8)[None, :, None], height, axis=0).repeat(3, axis=2)


def test_developing_quickly_and_exactly_agree_and_go_back():
    pixels = np.random.default_rng(1).integers(0, 256, (40, 40, 3)).astype(np.uint8)
    assert PLAIN.of_pixels(pixels) == pytest.approx(PLAIN.lab(pixels / 255.0), abs=2e-3)
    assert np.abs(shown(PLAIN.of_pixels(pixels)).astype(int) - pixels).max() <= 1


def test_scikit_image_reads_the_same_lightness():
    pixels = portrait("purser", 200)
    ours, theirs = PLAIN.of_pixels(pixels)[..., 0], rgb2lab(pixels)[..., 0]
    # Theirs is under D65, ours under D50 by Bradford: L* differs a little where the colour is strong.
    assert np.quantile(np.abs(ours - theirs), 0.99) < 1.2


@pytest.mark.parametrize("steps", range(2, 11))
def test_values_come_in_equal_steps_whose_shares_add_up(steps):
    found = seeing.values(lab_of(ramp()), steps)
    assert len(found.shares) == steps
    assert sum(s.share for s in found.shares) == pytest.approx(1)
    assert len(np.unique(found.pixels.reshape(-1, 3), axis=0)) == steps
    assert [s.value for s in found.shares] == sorted((s.value for s in found.shares), reverse=True)
    assert np.diff([s.value for s in found.shares]) == pytest.approx([-10 / steps] * (steps - 1))


def test_two_masses_part_where_otsu_parts_them():
    lab = lab_of(portrait("pilot", 300))
    found = seeing.notan(lab)
    value = munsell_value(np.stack([lab[..., 0], 0 * lab[..., 0], 0 * lab[..., 0]], axis=-1).astype(float))
    light = float((value > threshold_otsu(value)).mean())
    assert found.shares[0].share == pytest.approx(light, abs=0.03)
    assert len(np.unique(found.pixels.reshape(-1, 3), axis=0)) == 2
    assert seeing.notan(lab, 9.5).shares[0].share < 0.02


def test_squinting_takes_grain_and_keeps_the_great_edge():
    step = np.full((200, 200, 3), 60, dtype=np.uint8)
    step[:, 100:] = 190
    grain = np.clip(step + np.random.default_rng(2).normal(0, 9, step.shape), 0, 255).astype(np.uint8)
    calm = lab_of(seeing.squint(lab_of(grain)).pixels)[..., 0]
    assert calm[:, 20:80].std() < 0.3 * lab_of(grain)[:, 20:80, 0].std()
    assert calm[100, 110] - calm[100, 90] > 0.85 * (lab_of(step)[100, 110, 0] - lab_of(step)[100, 90, 0])


def test_the_ends_are_named_where_they_are():
    pixels = np.full((150, 200, 3), 128, dtype=np.uint8)
    pixels[20:40, 30:50], pixels[100:120, 150:170] = 8, 250
    words = {w.words: w for w in seeing.extremes(lab_of(pixels)).words}
    assert pixels[words["darkest"].y, words["darkest"].x, 0] == 8
    assert pixels[words["lightest"].y, words["lightest"].x, 0] == 250


def test_hue_alone_has_one_value():
    found = lab_of(seeing.hue(lab_of(portrait("cook", 200))).pixels)
    inside = np.hypot(found[..., 1], found[..., 2]) < 60
    assert found[..., 0][inside].std() < 1.0


def test_one_value_lifted_out_keeps_its_colour_and_pales_the_rest():
    lab = lab_of(portrait("deckhand", 240))
    found = seeing.one_value(lab, 5.0, 0.5)
    here = np.abs(munsell_value(lab.astype(float)) - 5) < 0.4
    assert delta_e_2000(lab[here].astype(float), lab_of(found.pixels)[here].astype(float)).max() < 1
    away = np.abs(munsell_value(lab.astype(float)) - 5) > 0.7
    assert lab_of(found.pixels)[away][:, 0].min() > 75


def test_warm_and_cool_are_relative_to_this_skin():
    made = sphere(1.0, 0.3)
    pixels = made.pixels.astype(float)
    pixels[150:190, 150:190] *= (0.8, 0.95, 1.35)
    lab = lab_of(np.clip(pixels, 0, 255).astype(np.uint8))
    found = lab_of(seeing.warm_and_cool(lab, made.mask).pixels)
    patch, beside = found[160:180, 160:180].reshape(-1, 3).mean(axis=0), found[160:180, 200:215].reshape(-1, 3).mean(axis=0)
    assert patch[2] < 0 < beside[2] + 6


@pytest.mark.parametrize("melanin", [0.2, 1.8])
def test_a_hidden_colour_is_named_where_it_lies(melanin):
    made = sphere(melanin, 0.3)
    pixels = made.pixels.astype(float)
    pixels[170:210, 150:190] *= (0.86, 0.86, 1.3)
    found = seeing.hidden(lab_of(np.clip(pixels, 0, 255).astype(np.uint8)), made.mask)
    word = next(w for w in found.words if 140 <= w.x < 200 and 160 <= w.y < 220)
    assert any(name in word.words for name in ("violet", "blue", "purple"))


def test_undertones_are_mapped_with_their_shares():
    made = sphere(1.0, 0.2)
    found = seeing.undertones(lab_of(made.pixels), made.mask)
    assert sum(s.share for s in found.shares) == pytest.approx(1, abs=0.02)
    assert {s.words for s in found.shares} <= {"pink", "orange", "yellow", "olive", "neutral"}


@pytest.mark.parametrize("which", ["melanin", "blood"])
def test_a_pigments_map_is_dark_where_there_is_more(which):
    made = sphere(0.8, 0.3, flush=0.5 if which == "blood" else 0.0)
    pixels = made.pixels
    if which == "melanin":
        more = sphere(1.3, 0.3).pixels
        pixels = np.where(made.spot[..., None], more, pixels)
    found = lab_of(seeing.pigment_map(lab_of(pixels), made.mask, which).pixels)[..., 0]
    assert found[made.spot].mean() < found[made.mask & ~made.spot].mean() - 15


def test_every_view_can_be_seen_of_every_picture():
    flat = np.full((40, 30, 3), 128, dtype=np.uint8)
    for pixels in (flat, ramp(60, 20), portrait("purser", 120)):
        lab = lab_of(pixels)
        mask = areas.skin_of(lab).mask
        for view in seeing.VIEWS:
            found = seeing.see(view, lab, mask, **({"value": 5.0} if view == "one_value" else {}))
            assert found.pixels.shape == pixels.shape


@pytest.mark.parametrize("illuminant", ["A", "D50", "D65"])
def test_a_chart_is_balanced_by_its_grey_to_the_true_neutral(illuminant):
    # ColorChecker (colour-science, "BabelColor Average") under A, D50 and D65, CIE 015.
    # Its greys are neutral among themselves to about 1.5 only; balanced by the middle one, its neighbours are judged.
    pixels, _, middles = chart(illuminant)
    develop = Develop(balance(pixels, *middles[20]))
    for index in (19, 20, 21):
        read = tone(pixels, *middles[index], 12, develop).lab
        assert float(delta_e_2000(read, np.array([read[0], 0, 0]))) < 1.5


@pytest.mark.parametrize("illuminant", ["A", "D50", "D65", "FL2"])
@pytest.mark.parametrize("exposure", [0.3, 0.5])
def test_the_cast_of_a_chart_is_guessed_within_one_and_a_half(illuminant, exposure):
    pixels, white, _ = chart(illuminant, exposure)
    truth = np.linalg.inv(SRGB_TO_XYZ) @ white @ SRGB_TO_XYZ50.T
    found = cast.guess(pixels)
    assert float(delta_e_2000(found.lab, lab_from_xyz(truth / truth[1]))) < 1.5
    assert found.confidence > 0.5
    assert found.clear == (illuminant != "D65")


def test_a_cast_of_a_portrait_is_not_proposed_for_want_of_greys():
    assert not cast.guess(portrait("cook")).clear


def test_a_flat_picture_has_a_guess_of_no_confidence():
    assert cast.guess(np.full((20, 20, 3), 90, dtype=np.uint8)).confidence < cast.SURE
    assert cast.guess(np.zeros((20, 20, 3), dtype=np.uint8)).confidence < cast.SURE


def test_the_light_of_a_lamp_is_that_of_the_published_loci():
    # CIE 015: illuminant A is a Planckian radiator of 2856 K, x 0.4476, y 0.4074; D65 is 6504 K, x 0.3127, y 0.3290.
    for kelvin, x, y in ((2856, 0.4476, 0.4074), (6504, 0.3127, 0.3290), (5003, 0.3457, 0.3585)):
        white = planckian_white(kelvin)
        assert white[0] / white.sum() == pytest.approx(x, abs=6e-4)
        assert white[1] / white.sum() == pytest.approx(y, abs=6e-4)
    with pytest.raises(BadRequest):
        planckian_white(900)


def test_a_lamps_light_is_taken_back_by_its_kelvin():
    pixels, _, middles = chart("A")
    develop = Develop(balanced_for(2856))
    read = tone(pixels, *middles[20], 12, develop).lab
    assert float(delta_e_2000(read, np.array([read[0], 0, 0]))) < 2.5


@given(st.floats(30, 80), st.floats(5, 30), st.floats(5, 35))
def test_a_known_skin_becomes_what_it_is_known_to_be(lightness, a, b):
    found, known = np.array([lightness, a, b]), np.array([60.0, 16, 18])
    xyz = lab_from_xyz_inverse(found)
    after = lab_from_xyz(balanced_to(found, known) @ xyz)
    scale = lightness / 60
    assert after[0] == pytest.approx(lightness, abs=0.5)
    assert after[1:] == pytest.approx(known[1:] * scale, abs=0.5)


def lab_from_xyz_inverse(lab):
    from caltin_core.colour.spaces import xyz_from_lab

    return xyz_from_lab(lab)


def test_what_is_too_dark_cannot_balance():
    with pytest.raises(BadRequest, match="too dark"):
        balanced_by(np.zeros(3))
    with pytest.raises(BadRequest, match="too dark"):
        balanced_to(np.array([1.0, 0, 0]), np.array([60.0, 10, 10]))


def test_exposure_moves_luminance_by_stops_and_contrast_turns_about_mid_grey():
    grey = np.full((1, 1, 3), 100, dtype=np.uint8)
    plain = xyz50_from_srgb(grey / 255.0)[0, 0]
    from caltin_core.colour.spaces import xyz_from_lab

    brighter = xyz_from_lab(Develop(stops=1).of_pixels(grey)[0, 0].astype(float))
    assert brighter[1] == pytest.approx(2 * plain[1], rel=1e-3)
    soft = Develop(contrast=0.5).of_pixels(np.array([[[255, 255, 255], [0, 0, 0]]], dtype=np.uint8))[0]
    assert soft[:, 0] == pytest.approx([75, 25], abs=0.01)
    assert Develop(balanced_by(WHITE_D50)).matrix == pytest.approx(np.eye(3), abs=1e-9)
    assert bytes_of(np.ones((2, 2, 3))).max() == 255
