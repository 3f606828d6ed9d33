"""A film of colourant over what lies below it: finite-layer Kubelka-Munk.

K and S are absorption and scattering per unit deposit. Arrays broadcast together, band axis last.
"""

import numpy as np

from caltin_core.colour.tables import Floats

# Below this K/S the hyperbolic solution is replaced by its limit, to stay finite.
_CLEAR = 1e-6
THINNEST = 1e-9
# Where more than this share of films lies in specks, all are computed as if they did: that takes less than to part them.
_MANY_DUSTS = 0.25
# Rounding in a very strong film may fall a hair below zero.
DARKEST_FILM = 1e-7


def film_over(below: Floats, k: Floats, s: Floats, deposit: Floats) -> Floats:
    """Reflectance of a film over a background of reflectance `below`, all 0-1.

    `k`, `s` (…, Q or 1, bands) per unit deposit, S above 0; `deposit` (…, Q); `below` (…, Q or 1, bands), or
    (G, …, Q or 1, bands) for the same film over G grounds.

    Source: Kubelka & Munk 1931; Kubelka 1948, "New contributions to the optics of intensely
    light-scattering materials. Part I", the hyperbolic solution, here divided through by b so that
    K = 0 needs no special case.
    """
    ratio = _at_least(k / s, _CLEAR)
    a = 1 + ratio
    b = np.sqrt(ratio * (ratio + 2))
    # Written out for every quantile and band, and what follows in place: to go along short rows, or to ask for so much memory,
    # takes longer than the sums.
    many, bands = deposit.shape[-1], ratio.shape[-1]
    a, b, bs = (x.repeat(many, axis=-2) if x.shape[-2] == 1 else x for x in (a, b, b * s))
    tau = bs * deposit.repeat(bands, axis=-1).reshape(*deposit.shape, bands)
    np.tanh(tau, out=tau)
    tau /= b
    above = a * below
    np.subtract(1, above, out=above)
    above *= tau
    above += below
    share = a - below
    share *= tau
    share += 1
    above /= share
    return _at_least(above, DARKEST_FILM)


def dyed(below: Floats, k: Floats, deposit: Floats, soak: Floats) -> Floats:
    """Reflectance of paper in which dye lies, over grounds of reflectance `below` (G, …, Q or 1, bands), the first of them the one
    that is there.

    `k` (…, Q or 1, bands) per unit of dye, `deposit` (…, Q). The dye lies among fibres that scatter `soak` (…, 1, 1), S X above 0,
    over the rest of the same fibres, whose own K/S is what `below` shows: from what Beer and Lambert have of a clear dye on top,
    below · exp(−2 K X), near 0, to paper dyed throughout, where the K/S of dye and fibres add, above 1. Over any other ground it
    lets as much through.

    Source: Kubelka & Munk 1931; Kubelka 1948, a finite layer over a ground that has the R∞ of its own fibres.
    """
    there = _at_least(below[0].copy(), DARKEST_FILM)
    a = k * deposit[..., None] / soak + ((1 - there) ** 2 / (2 * there) + 1)
    b = np.sqrt((a - 1) * (a + 1))
    tau = np.tanh(b * soak) / _at_least(b, THINNEST)
    seen = (tau * (1 - a * there) + there) / (1 + tau * (a - there))
    out: Floats = below * (_at_least(seen, DARKEST_FILM) / there)
    return out


def specks_over(below: Floats, k: Floats, s: Floats, deposit: Floats, size: Floats) -> Floats:
    """The same of dust that lies in specks: they hide a share of each place, 1 − exp(−X / size), and leave the rest bare.

    `size` (…, 1), above 0, is the deposit of one speck; specks fall by chance, so that the share left bare is that of Poisson,
    and what is bare and what is hidden add by area (Murray 1936, Davies).
    """
    hides = np.maximum(-np.expm1(-deposit / size), THINNEST)
    out = film_over(below, k, s, deposit / hides)
    out -= below
    out *= hides[..., None]
    out += below
    return out


def over(below: Floats, k: Floats, s: Floats, thick: Floats, soak: Floats, specks: Floats) -> Floats:
    """Reflectance (2, B, Q, bands) of B films, dusts or dyes over what lies below them, each as its medium has it.

    `below` (2, B, Q or 1, bands), `k`, `s` (B, Q or 1, bands), `thick` (B, Q); `soak` and `specks` (B,), 0 where there are none.
    """
    dusty, soaked = specks > 0, soak > 0
    if soaked.all():
        return dyed(below, k, thick, soak[:, None, None])
    # A film without specks is one of specks too small to leave anything bare.
    together = np.count_nonzero(dusty) > _MANY_DUSTS * len(dusty)
    size = _at_least(specks[:, None].copy(), THINNEST)
    out = specks_over(below, k, s, thick, size) if together else film_over(below, k, s, thick)
    for rows in map(np.flatnonzero, (soaked,) if together else (soaked, dusty)):
        if len(rows):
            out[:, rows] = over(below[:, rows], k[rows], s[rows], thick[rows], soak[rows], specks[rows])
    return out


def _at_least(values: Floats, least: float) -> Floats:
    """The values, none below `least`; to look first is four times as quick as to compare with a number throughout."""
    if values.size and values.min() < least:
        np.maximum(values, least, out=values)
    return values


def reflectance_infinite(ratio: Floats) -> Floats:
    """R∞ of a film too thick to see through, of K/S (Kubelka & Munk 1931)."""
    out: Floats = 1 + ratio - np.sqrt(ratio * ratio + 2 * ratio)
    return out


def seen_together(reflectance: Floats, yule_nielsen: float | Floats = 2.0) -> Floats:
    """What the eye sees of patches too small to part: their Yule-Nielsen mean over axis -2.

    `reflectance` (…, patches, bands), equal areas; `yule_nielsen` one n, or one for each mean (…, 1). n = 1 is
    Murray-Davies; n = 2 is light spread fully through the paper.

    Sources: Murray 1936 (Davies); Yule & Nielsen 1951.
    """
    if np.all(yule_nielsen == 2.0):
        mean = _mean(np.sqrt(reflectance))
        out: Floats = mean * mean
        return out
    power = 1 / np.asarray(yule_nielsen)
    out = _mean(reflectance ** (power[..., None] if power.ndim else power)) ** (1 / power)
    return out


def _mean(patches: Floats) -> Floats:
    """Mean (…, bands) over axis -2; einsum is five times as quick there as a mean that reduces a middle axis."""
    out: Floats = np.einsum("...qn->...n", patches)
    out /= patches.shape[-2]
    return out


def on_grounds(reflectance: Floats) -> Floats:
    """A ground (…, bands) and then one that throws back nothing (2, …, 1, bands): what films are computed over."""
    return np.stack([reflectance, np.zeros_like(reflectance)])[..., None, :]


def seen_through(films: Floats, yule_nielsen: float | Floats = 2.0) -> Floats:
    """What the eye sees (…, bands) of patches of film too small to part, (2, …, patches, bands) over ground and over black.

    What a film throws back itself has not been in the paper: that is a plain mean (Murray-Davies). Only what came through the
    paper was spread in it, the less of it the better the films hide: of that the Yule-Nielsen mean. Of dye all light comes
    through the paper, of a thick pastel none.
    """
    own = films[1]
    through = _at_least(films[0] - own, 0)
    out: Floats = _mean(own) + seen_together(through, yule_nielsen)
    return out


def surface_taken_off(measured: Floats, outer: float = 0.04, inner: float = 0.6) -> Floats:
    """What a film itself reflects, of a reflectance measured with the surface's own reflection; 0 where that explains all.

    `outer` is what the surface throws back from outside, `inner` from inside. Source: Saunderson 1942, "Calculation of
    the color of pigmented plastics".
    """
    plain = np.maximum(measured - outer, 0)
    out: Floats = plain / ((1 - outer) * (1 - inner) + inner * plain)
    return out


def surface_put_on(inside: Floats, outer: float = 0.04, inner: float = 0.6) -> Floats:
    """The other way: what is measured, with the surface's own reflection, of what a film itself reflects."""
    out: Floats = outer + (1 - outer) * (1 - inner) * inside / (1 - inner * inside)
    return out
