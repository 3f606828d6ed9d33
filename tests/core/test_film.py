"""Kubelka-Munk, Murray-Davies and Yule-Nielsen against what was published of them."""

import itertools

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from caltin_core.media.film import dyed, film_over, on_grounds, over, reflectance_infinite, seen_through, seen_together, specks_over

ratio = st.floats(0.001, 50)
grounds = st.floats(0.02, 0.98)


def film(below, k, s, deposit):
    one = lambda v: np.full((1, 1), v)  # noqa: E731
    return float(film_over(one(below), one(k), one(s), np.array([deposit]))[0, 0])


@given(ratio)
def test_r_infinity_obeys_the_kubelka_munk_function(k_over_s):
    # Kubelka & Munk 1931: K/S = (1 - R∞)² / 2 R∞.
    r = float(reflectance_infinite(np.array(k_over_s)))
    assert (1 - r) ** 2 / (2 * r) == pytest.approx(k_over_s, rel=1e-6)


def test_worked_number_of_kubelka_munk():
    # K/S = 0.5 gives R∞ = 1.5 - sqrt(1.25) = 0.38197 (Kubelka & Munk 1931, worked by hand).
    assert float(reflectance_infinite(np.array(0.5))) == pytest.approx(0.381966, abs=1e-6)


@given(ratio, grounds)
def test_a_thick_film_hides_its_ground(k, below):
    assert film(below, k, 1.0, 400.0) == pytest.approx(float(reflectance_infinite(np.array(k))), abs=2e-3)


@given(ratio, st.floats(0.01, 5), grounds)
def test_no_film_leaves_the_ground(k, s, below):
    assert film(below, k, s, 0.0) == pytest.approx(below, abs=1e-9)


@given(ratio, st.floats(0.05, 3), st.floats(0.05, 3), grounds)
def test_two_halves_stacked_are_the_whole(k, s, deposit, below):
    half = film(below, k, s, deposit / 2)
    assert film(half, k, s, deposit / 2) == pytest.approx(film(below, k, s, deposit), abs=1e-6)


@given(st.floats(0.01, 3), grounds)
def test_a_film_that_hardly_scatters_is_beer_lambert_twice_through(kx, below):
    # Beer-Lambert: light passes the film going in and coming out.
    assert film(below, kx, 1e-7, 1.0) == pytest.approx(below * np.exp(-2 * kx), abs=1e-4)


def dye(below, kx, soak):
    return float(dyed(np.full((1, 1, 1), below), np.full((1, 1), kx), np.ones(1), np.full((1, 1), soak))[0, 0, 0])


@given(st.floats(0.01, 3), grounds)
def test_dye_on_top_of_the_fibres_is_beer_lambert_and_dye_among_them_lets_more_light_back(kx, below):
    # Beer-Lambert: light passes the dye going in and coming out.
    assert dye(below, kx, 1e-4) == pytest.approx(below * np.exp(-2 * kx), abs=1e-3)
    each = [dye(below, kx, soak) for soak in (1e-3, 0.1, 0.5, 2.0)]
    assert all(a <= b + 1e-9 for a, b in itertools.pairwise(each))
    assert dye(below, 0.0, 0.5) == pytest.approx(below, rel=1e-9)


@given(st.floats(0.005, 40), st.floats(0.01, 40))
def test_the_k_over_s_of_dye_and_of_deeply_dyed_fibres_add(paper, more):
    # Kubelka & Munk 1931: of fibres dyed throughout only K/S counts, and those of dye and fibres add.
    below, both = (float(v) for v in reflectance_infinite(np.array([paper, paper + more])))
    assert dye(below, 20 * more, 20.0) == pytest.approx(both, rel=1e-4)


@given(st.floats(0.05, 3), st.floats(0.05, 2), grounds)
def test_dyed_fibres_are_a_film_of_fibres_and_dye_over_the_rest_of_them(kx, soak, below):
    # Kubelka 1948: S X is the fibres', K X that of both.
    own = (1 - below) ** 2 / (2 * below) * soak
    assert dye(below, kx, soak) == pytest.approx(film(below, kx + own, soak, 1.0), abs=1e-9)


def test_dye_over_black_shows_nothing_of_its_own():
    over_both = dyed(on_grounds(np.array([0.8, 0.5])), np.full((1, 2), 0.7), np.ones(1), np.full((1, 1), 0.3))
    assert (over_both[1] == 0).all()
    assert (over_both[0] < [0.8, 0.5]).all()


def dust(below, k, s, deposit, size):
    one = lambda v: np.full((1, 1), v)  # noqa: E731
    return float(specks_over(one(below), one(k), one(s), np.array([deposit]), np.array([size]))[0, 0])


@given(ratio, st.floats(0.05, 3), st.floats(0.05, 3), grounds)
def test_the_finest_specks_are_an_even_film_and_coarse_ones_hide_by_area(k, s, deposit, below):
    assert dust(below, k, s, deposit, 1e-4) == pytest.approx(film(below, k, s, deposit), abs=1e-6)
    # Murray 1936 (Davies): specks too thick to see through hide their share of the ground, by Poisson 1 - exp(-X / size).
    hides = 1 - np.exp(-deposit / 50)
    own = film(below, k, s, deposit / hides)
    assert dust(below, k, s, deposit, 50.0) == pytest.approx(below + hides * (own - below), abs=1e-9)
    assert dust(below, k, s, 0.0, 1.0) == pytest.approx(below)


@given(st.floats(0.05, 3), st.floats(0.1, 3))
def test_over_black_a_clear_scattering_film_shows_sx_over_one_plus_sx(s, deposit):
    # Kubelka 1948, the limit K = 0 over an ideally black ground.
    assert film(1e-9, 0.0, s, deposit) == pytest.approx(s * deposit / (1 + s * deposit), abs=2e-3)


@given(st.lists(st.floats(0.02, 0.98), min_size=2, max_size=6))
def test_yule_nielsen_with_n_of_one_is_murray_davies(patches):
    # Murray 1936 (Davies): reflectances add by area.
    r = np.array(patches)[:, None]
    assert seen_together(r, 1.0)[0] == pytest.approx(np.mean(patches))


@given(st.lists(st.floats(0.02, 0.98), min_size=2, max_size=6))
def test_yule_nielsen_darkens_as_n_grows(patches):
    # Yule & Nielsen 1951: light spread in the paper makes a halftone darker than its areas.
    r = np.array(patches)[:, None]
    seen = [seen_together(r, n)[0] for n in (1.0, 1.5, 2.0, 4.0)]
    assert all(a >= b - 1e-9 for a, b in itertools.pairwise(seen))


def patches(ground, k, s, amounts):
    """Films of these amounts over one ground (2, Q, 1)."""
    one = lambda v: np.full((1, 1), v)  # noqa: E731
    return film_over(on_grounds(np.array([ground])), one(k), one(s), np.array(amounts))


@given(st.lists(st.floats(0, 3), min_size=2, max_size=6), grounds, st.floats(0.01, 2))
def test_of_dye_all_light_comes_through_the_paper_and_yule_nielsen_holds(amounts, ground, k):
    films = patches(ground, k, 1e-7, amounts)
    assert seen_through(films, 2.0) == pytest.approx(seen_together(films[0], 2.0), abs=1e-5)


@given(st.lists(st.floats(0, 1), min_size=2, max_size=6), grounds, st.floats(0.01, 2))
def test_of_films_that_hide_the_paper_none_does_and_murray_davies_holds(tints, ground, k):
    # Two films thick enough to hide, of more and less colour: nothing of them was in the paper, whatever its n.
    hiding = np.concatenate([patches(ground, k * (0.2 + t), 1.0, [60.0]) for t in tints], axis=1)
    assert seen_through(hiding, 2.0) == pytest.approx(hiding[0].mean(axis=0), abs=1e-3)


def test_a_pale_film_on_half_of_a_dark_sheet_is_seen_by_area():
    # Clapper & Yule 1953, for dots that let nothing through: their own light adds by area, the paper's is lost twice.
    # Half white 0.8, half paper 0.04: 0.4 + 0.04 / 4, against ((√0.8 + √0.04) / 2)² = 0.299 by Yule-Nielsen throughout.
    films = np.array([[[0.8], [0.04]], [[0.8], [0.0]]])
    assert seen_through(films, 2.0)[0] == pytest.approx(0.41)
    assert seen_together(films[0], 2.0)[0] == pytest.approx(0.2994, abs=1e-4)


def test_yule_nielsen_worked_number():
    # Half white 0.81, half black 0.01, n = 2: ((0.9 + 0.1) / 2)² = 0.25 against 0.41 by Murray-Davies.
    r = np.array([[0.81], [0.01]])
    assert seen_together(r, 2.0)[0] == pytest.approx(0.25)
    assert seen_together(r, 1.0)[0] == pytest.approx(0.41)


@pytest.mark.parametrize("dusts", [0, 1, 3, 6])
def test_films_dusts_and_dyes_computed_together_are_each_what_it_is_alone(rng, dusts):
    many = 7
    below, k, s = (
        on_grounds(rng.uniform(0.1, 0.9, (many, 5))),
        rng.uniform(0.01, 2, (many, 1, 5)),
        rng.uniform(0.05, 2, (many, 1, 5)),
    )
    thick = rng.uniform(0, 3, (many, 4)) * (rng.random((many, 4)) < 0.7)
    specks = np.where(np.arange(many) < dusts, 0.4, 0.0)
    soak = np.where(np.arange(many) == many - 1, 0.8, 0.0)
    together = over(below, k, s, thick, soak, specks)
    for i in range(many):
        row = slice(i, i + 1)
        alone = over(below[:, row], k[row], s[row], thick[row], soak[row], specks[row])
        assert together[:, row] == pytest.approx(alone, abs=2e-7)
