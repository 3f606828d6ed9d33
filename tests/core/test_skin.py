"""Skin: found, its pigments, its light, its measures; on spheres whose truth is known and on the demo's portraits."""

from functools import lru_cache

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from scipy.stats import spearmanr

from caltin_core.colour.spaces import lab_from_srgb
from caltin_core.reference import areas
from caltin_core.skin.chromophores import BARE, BLOOD, MELANIN, amounts, pigments
from caltin_core.skin.complexion import ita_class, measure, shadow_temperature
from caltin_core.skin.light import lights
from tests.core.pictures import KEYS, MELANINS, bytes_of, lab_of, portrait, sphere
from tests.sources.ica import independent_vectors

DEPTHS = (0.15, 0.6, 1.2, 2.0)


def turned(one, other):
    return abs((one - other + 180) % 360 - 180)


def read(picture):
    lab = lab_of(picture)
    skin = areas.skin_of(lab)
    return lab, skin, measure(lab, skin.mask)


@lru_cache(maxsize=len(MELANINS))
def read_portrait(name):
    return read(portrait(name))


@pytest.mark.parametrize("melanin", DEPTHS)
def test_the_skin_of_a_sphere_is_found_whatever_its_depth(melanin):
    made = sphere(melanin, 0.3)
    _, skin, _ = read(made.pixels)
    overlap = (skin.mask & made.mask).sum() / (skin.mask | made.mask).sum()
    assert overlap > 0.85
    assert skin.confidence > 0.5


@pytest.mark.parametrize("name", sorted(MELANINS))
def test_the_skin_of_every_portrait_is_found_in_the_face_and_not_in_the_clothes(name):
    _, skin, found = read_portrait(name)
    height, width = skin.mask.shape
    rows, columns = np.nonzero(skin.mask)
    assert 0.08 < skin.mask.mean() < 0.3
    assert np.quantile(rows, 0.99) < 0.75 * height
    assert 0.3 < np.median(columns) / width < 0.7
    assert found is not None


def test_a_landscape_without_a_face_has_no_skin():
    sky = np.zeros((300, 400, 3))
    sky[:150], sky[150:] = (0.2, 0.35, 0.6), (0.08, 0.22, 0.06)
    _, skin, found = read(bytes_of(sky, noise=3))
    assert skin.confidence == 0
    assert found is None


def test_one_touch_finds_skin_that_its_colour_does_not_tell():
    made = sphere(0.8, 0.3)
    grey = np.repeat(made.pixels.mean(axis=2, keepdims=True).astype(np.uint8), 3, axis=2)
    # On a ground of the skin's own grey no tone parts them; on light paper it does.
    grey[~made.mask] = 235
    lab = lab_of(grey)
    assert areas.skin_of(lab).confidence == 0
    touched = areas.skin_of(lab, (0.42, 0.42))
    assert (touched.mask & made.mask).sum() > 0.4 * made.mask.sum()
    assert (touched.mask & ~made.mask).sum() < 0.05 * made.mask.sum()


@given(st.floats(0, 2.5), st.floats(0, 0.9), st.floats(0.05, 1.0))
def test_pigments_are_parted_exactly_whatever_the_shading(melanin, blood, shade):
    # Tsumura, Haneishi & Miyake 1999: in −log RGB amounts add along fixed vectors and shading along (1, 1, 1).
    from caltin_core.colour.spaces import SRGB_TO_XYZ50, lab_from_xyz

    linear = BARE * np.exp(-melanin * MELANIN - blood * BLOOD) * shade
    found = pigments(lab_from_xyz(linear @ SRGB_TO_XYZ50.T))
    assert found[0] == pytest.approx(melanin, abs=0.02)
    assert found[1] == pytest.approx(blood, abs=0.02)
    assert found[2] == pytest.approx(-np.log(shade), abs=0.03)


def test_independent_components_find_the_directions_of_both_pigments(rng):
    # Tsumura et al. 1999, 2003: amounts that vary independently and not normally give their directions away.
    from caltin_core.colour.spaces import SRGB_TO_XYZ50, lab_from_xyz

    many = 6000
    melanin, blood = 0.6 + rng.exponential(0.25, many), 0.2 + rng.uniform(0, 0.4, many)
    shade = rng.uniform(0.4, 1.0, many)
    linear = BARE * np.exp(-melanin[:, None] * MELANIN - blood[:, None] * BLOOD) * shade[:, None]
    found = independent_vectors(lab_from_xyz(linear @ SRGB_TO_XYZ50.T))
    assert found is not None
    for vector, truth in zip(found, (MELANIN, BLOOD), strict=True):
        one, other = vector - vector.mean(), truth - truth.mean()
        assert one @ other / (np.linalg.norm(one) * np.linalg.norm(other)) > np.cos(np.radians(8))


def test_lights_of_two_colours_give_no_independent_pigments(rng):
    red, blue = rng.uniform(0.2, 1, (2000, 1)) * [0.9, 0.4, 0.2], rng.uniform(0.2, 1, (2000, 1)) * [0.3, 0.4, 0.9]
    assert independent_vectors(lab_from_srgb(np.concatenate([red, blue]) ** (1 / 2.2))) is None


@pytest.mark.parametrize("melanin", DEPTHS)
def test_blood_is_put_in_order_on_spheres_of_every_depth(melanin):
    truth = (0.15, 0.3, 0.45, 0.6)
    found = [read(sphere(melanin, blood, seed=int(100 * blood)).pixels)[2].blood for blood in truth]
    assert spearmanr(found, truth)[0] == pytest.approx(1)


def test_melanin_is_put_in_order_over_the_portraits():
    found = {name: read_portrait(name)[2].melanin for name in MELANINS}
    assert spearmanr(list(found.values()), list(MELANINS.values()))[0] >= 0.8


def test_a_highlight_gives_the_lights_colour_away():
    warm = np.array([0.9, 0.62, 0.36])
    skin = BARE * np.exp(-0.8 * MELANIN - 0.3 * BLOOD)
    plain, lit = (lab_from_srgb((c / (c @ [0.21, 0.72, 0.07]) * 0.3) ** (1 / 2.2)) for c in (skin, skin * warm))
    shine = lab_from_srgb((warm / (warm @ [0.21, 0.72, 0.07]) * 0.8) ** (1 / 2.2))
    assert abs(amounts(lit, shine)[0] - amounts(plain)[0]) < 0.5 * abs(amounts(lit)[0] - amounts(plain)[0])


@pytest.mark.parametrize(
    ("direction", "melanin"), [(0, 0.2), (45, 2.0), (90, 0.2), (135, 2.0), (200, 2.0), (270, 2.0), (315, 0.2), (90, 2.0)]
)
def test_the_light_on_a_sphere_is_read_within_fifteen_degrees(direction, melanin):
    lab, skin, _ = read(sphere(melanin, direction=direction, frontal=0.5).pixels)
    (key,) = lights(lab, skin)
    assert turned(key.direction, direction) < 15
    assert key.confidence > 0.6


@pytest.mark.parametrize("name", sorted(KEYS))
def test_the_key_of_a_portrait_is_read_within_fifteen_degrees(name):
    lab, skin, _ = read_portrait(name)
    assert turned(lights(lab, skin)[0].direction, KEYS[name]) < 15


def test_two_lights_of_unlike_colours_are_told_apart():
    warm, cool = sphere(0.4, direction=10, frontal=0.1, ambient=0.03), sphere(0.4, direction=175, frontal=0.1, ambient=0.03)
    both = (warm.clean / 255.0) ** 2.2 * [1, 0.62, 0.3] + (cool.clean / 255.0) ** 2.2 * [0.35, 0.55, 1.0]
    lab, skin, _ = read(bytes_of(np.clip(both, 0, 1), noise=1))
    found = lights(lab, skin)
    assert len(found) == 2
    by_tint = sorted(found, key=lambda light: -light.warmth)
    assert turned(by_tint[0].direction, 10) < 20
    assert turned(by_tint[1].direction, 175) < 20


def test_too_little_skin_has_no_light():
    lab, skin, _ = read(sphere().pixels)
    nothing = type(skin)(np.zeros_like(skin.mask), skin.rough, skin.figure, 0.0)
    assert lights(lab, nothing) == ()


@pytest.mark.parametrize(
    ("ita", "name"),
    [(56, "very light"), (55, "light"), (42, "light"), (41, "intermediate"), (29, "intermediate"), (28, "tan"), (11, "tan"),
     (10, "brown"), (-29, "brown"), (-30, "dark"), (-60, "dark")],
)  # fmt: skip
def test_ita_classes_have_the_published_bounds(ita, name):
    # Chardon, Cretois & Hourseau 1991; Del Bino & Bernerd 2013.
    assert ita_class(ita) == name


@pytest.mark.parametrize("picture", ["pilot", "cook", "purser", 0.9])
def test_the_undertones_word_is_stable_under_a_tenth_more_or_less_light(picture):
    from caltin_core.reference.develop import Develop

    pixels = portrait(picture) if isinstance(picture, str) else sphere(picture).pixels
    words = set()
    for exposure in (0.9, 1.0, 1.1):
        lab = Develop(stops=float(np.log2(exposure))).of_pixels(pixels)
        words.add(measure(lab, areas.skin_of(lab).mask).undertone.word)
    assert len(words) == 1


def test_shadow_against_light_says_which_is_the_cooler():
    light, cool, warm = np.array([70.0, 14, 20]), np.array([35.0, 9, 2]), np.array([35.0, 10, 18])
    assert shadow_temperature(light, cool)[0] == "cooler"
    assert shadow_temperature(light, warm)[0] == "warmer" or shadow_temperature(light, warm)[1] > 0
    assert shadow_temperature(light, light * 0.5)[0] == "equal"


@pytest.mark.parametrize("melanin", [0.2, 2.0])
def test_a_flush_is_found_where_it_is_and_grows_with_blood(melanin):
    strengths = []
    for more in (0.25, 0.5):
        made = sphere(melanin, 0.25, flush=more)
        found = read(made.pixels)[2].flush
        assert found, more
        assert made.spot[found[0].y, found[0].x]
        strengths.append(found[0].strength)
    assert strengths[0] < strengths[1]


def test_a_skin_without_flush_has_none():
    assert read(sphere(0.8, 0.3).pixels)[2].flush == ()
