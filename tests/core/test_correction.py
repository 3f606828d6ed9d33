"""How a camera sees otherwise than an eye, told from photographs of swatch sheets. Colours are invented but the ColorChecker's."""

from dataclasses import replace

import numpy as np
import pytest

from caltin_core.charts.correction import SENSOR_TO_XYZ50, USUAL, XYZ50_TO_SENSOR, About, Correction, correction_of
from caltin_core.charts.lamp import as_lit, by_day
from caltin_core.charts.reading import read_sheet
from caltin_core.colour.difference import delta_e_2000
from caltin_core.colour.spaces import WHITE_D50, XYZ50_TO_SRGB, adaptation, decode_srgb, lab_from_xyz
from caltin_core.colour.spectra import lab_from_reflectance, weights
from caltin_core.colour.tables import SENSOR_TO_SRGB, WAVELENGTHS
from caltin_core.errors import UnreadablePicture
from caltin_core.standins.camera import Shot
from tests.core.swatch_sheets import CHECKER, LABS, PAPER, SIZE, misses, taken


def test_a_white_balance_that_was_amiss_cancels():
    # Cameras balance in the channels of their sensor; sRGB's are mixed of them afterwards.
    cell, paper = np.array([0.3, 0.2, 0.1]), np.array([0.9, 0.85, 0.8])
    for gains in ([1.0, 1.0, 1.0], [1.4, 1.0, 0.6]):
        light, bare = (SENSOR_TO_SRGB @ (np.array(gains) * x) for x in (cell, paper))
        assert np.allclose(Correction(0.0, 0.0, np.eye(3)).share(light, bare), cell / paper)
    there, amiss = ([p.lab for p in read_sheet(*reversed(taken(Shot(size=SIZE, astray=s, seed=5))), PAPER)] for s in (0.0, 0.1))
    assert np.median(delta_e_2000(np.array(there), np.array(amiss))) < 0.8


# What a sensor misses of reds under incandescent light, beside what an eye would, stays.
@pytest.mark.parametrize(("light", "least"), [("A", 0.85), ("LED-B3", 0.85), ("FL2", 0.7)])
def test_a_lamp_that_is_said_is_taken_back(light, least):
    layout, pixels = taken(Shot(light, SIZE, tilt=10, odd=0.2, curve=USUAL.contrast))
    plain, told = (np.median(misses(read_sheet(pixels, layout, PAPER, light=said))) for said in ("D50", light))
    assert told < least * plain
    assert told < 2.2


@pytest.mark.parametrize("light", ["A", "FL2", "LED-B3", "D65"])
def test_what_a_colour_is_by_day_is_told_from_what_it_is_under_a_lamp(light):
    # The ColorChecker's spectra (Ohta 1997) in the CIE's lights, adapted by Bradford; the core is given the colours only.
    spectra = np.array([np.interp(WAVELENGTHS, sd.wavelengths, sd.values) for sd in CHECKER.values()])
    table, white = weights(light)
    seen = lab_from_xyz(spectra @ table @ adaptation(white, WHITE_D50).T)
    truth = lab_from_reflectance(spectra)
    before, after = delta_e_2000(truth, seen), delta_e_2000(truth, by_day(seen, light))
    assert np.median(after) < 0.6 * np.median(before)
    assert np.abs(by_day(as_lit(LABS, light), light) - LABS).max() < 0.2
    assert np.array_equal(by_day(LABS, "D50"), LABS)


@pytest.mark.parametrize(("curve", "frame"), [(-0.1, True), (0.2, False)])
def test_a_darker_photograph_tells_the_contrast_a_camera_adds(curve, frame):
    shot = Shot(size=SIZE, curve=curve, odd=0.6, tilt=12, exposure=0.85)
    layout, pixels = taken(shot, frame)
    _, darker = taken(replace(shot, exposure=0.3, tilt=-5, turn=6, take=1), frame)
    plain, mended = (misses(read_sheet(pixels, layout, PAPER, again=second)) for second in (None, darker))
    assert np.median(mended) < 0.7 * np.median(plain)
    # The other way round it tells the same.
    assert np.median(misses(read_sheet(darker, layout, PAPER, again=pixels))) < 0.8 * np.median(plain)


def test_a_second_photograph_as_bright_as_the_first_is_refused():
    layout, pixels = taken(Shot(size=SIZE))
    _, other = taken(Shot(size=SIZE, exposure=0.75, tilt=6, take=1))
    with pytest.raises(UnreadablePicture, match="stop or two darker") as refused:
        read_sheet(pixels, layout, PAPER, again=other)
    assert refused.value.where == "again"
    with pytest.raises(UnreadablePicture, match="the second photograph: 0 of the sheet's 14 marks") as refused:
        read_sheet(pixels, layout, PAPER, again=np.full_like(pixels, 128))
    assert refused.value.where == "again"


def about(layout, every, within, rng):
    """Every so many cells known within so much."""
    known = [(cell, lab) for cell, lab in list(zip(layout.cells, LABS, strict=True))[::every]]
    return [About(cell, lab + rng.normal(0, within / 3**0.5, 3), within) for cell, lab in known]


@pytest.mark.parametrize(("curve", "frame"), [(-0.15, False), (0.2, True)])
def test_colours_known_roughly_tell_the_contrast_a_camera_adds(curve, frame):
    layout, pixels = taken(Shot(size=SIZE, curve=curve, odd=1.0, veil=0.004, tilt=12), frame)
    plain = np.delete(misses(read_sheet(pixels, layout, PAPER)), np.s_[::3])
    told = about(layout, 3, 3.0, np.random.default_rng(1))
    mended = np.delete(misses(read_sheet(pixels, layout, PAPER, told)), np.s_[::3])
    assert np.median(mended) < 0.6 * np.median(plain)


def test_a_colour_that_is_quite_another_says_nothing_of_the_camera():
    layout, pixels = taken(Shot(size=SIZE, curve=0.15))
    told = about(layout, 2, 3.0, np.random.default_rng(2))
    wrong = [About(a.cell, a.lab + np.array([25.0, -40, 30]), 3.0) if i in (2, 7) else a for i, a in enumerate(told)]
    before, after = (np.median(misses(read_sheet(pixels, layout, PAPER, known))) for known in (told, wrong))
    assert after < before + 0.4


def test_three_known_cells_tell_nothing_and_an_honest_camera_is_left_alone():
    layout, pixels = taken(Shot(size=SIZE))
    three = about(layout, 8, 3.0, np.random.default_rng(3))
    assert len(three) == 3
    assert np.array_equal(
        [p.lab for p in read_sheet(pixels, layout, PAPER, three)], [p.lab for p in read_sheet(pixels, layout, PAPER)]
    )
    exact = [About(str(i), lab, 2.0) for i, lab in enumerate(LABS)]
    found = correction_of(lambda c: LABS + 1000 * (c.contrast - USUAL.contrast) + 1000 * (c.stray - USUAL.stray), exact)
    assert found.contrast == pytest.approx(USUAL.contrast, abs=1e-3)
    assert found.stray == pytest.approx(USUAL.stray, abs=1e-3)
    assert np.allclose(found.mixed, np.eye(3), atol=1e-3)


def test_stray_light_is_never_less_than_none():
    dark = [About(str(i), lab, 1.0) for i, lab in enumerate(LABS)]
    found = correction_of(lambda c: LABS + np.array([1 + 300 * c.stray, 0, 0]), dark)
    assert 0 < found.stray < USUAL.stray


def test_a_correction_keeps_the_ends_and_takes_a_sigmoid_back():
    code = np.linspace(0.02, 0.98, 25)
    added = 1 / (1 + ((1 - code) / code) ** np.exp(0.2))
    straight = Correction(0.2, 0.01, np.eye(3))
    assert np.allclose(straight.light(decode_srgb(added)), decode_srgb(code), atol=1e-9)
    assert np.allclose(straight.light(np.array([0.0, 1.0])), [0, 1], atol=2e-3)
    bare = np.array([0.8, 0.7, 0.5])
    assert np.allclose(straight.share(0.01 * bare, bare), 0)
    assert np.allclose(straight.share(bare, bare), 1)
    assert np.array_equal(Correction(0.0, 0.01, np.eye(3)).light(code), code)


def test_a_sensor_s_channels_are_s_rgb_s_mixed_and_white_in_both():
    white = SENSOR_TO_XYZ50 @ np.ones(3)
    assert np.allclose(XYZ50_TO_SRGB @ white, 1, atol=1e-3)
    assert np.allclose(XYZ50_TO_SENSOR @ white, 1, atol=1e-3)
    # An eye's channels lie further apart than a sensor's, which is why cameras take some of each from the others.
    assert (np.diag(XYZ50_TO_SRGB @ SENSOR_TO_XYZ50) > 1.2).all()
