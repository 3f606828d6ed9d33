"""Reflectance spectra of 31 bands: to colour, and back from a colour that came without one."""

from functools import lru_cache

import numpy as np

from caltin_core.colour.spaces import WHITE_D50, lab_from_xyz, xyz_from_lab
from caltin_core.colour.tables import BAND_START, BAND_STOP, BANDS, CMFS, ILLUMINANTS, WAVELENGTHS, Floats, Ints
from caltin_core.errors import BadRequest

DARKEST, LIGHTEST = 1e-4, 1 - 1e-4


@lru_cache(maxsize=16)
def weights(illuminant: str = "D50") -> tuple[Floats, Floats]:
    """Weights (31, 3) that turn reflectance into XYZ, and the white (3,), the same sum for R = 1."""
    table = CMFS * ILLUMINANTS[illuminant][:, None]
    table = table / table[:, 1].sum()
    table.setflags(write=False)
    return table, table.sum(axis=0)


def lab_from_reflectance(reflectance: Floats, illuminant: str = "D50") -> Floats:
    """CIELAB (…, 3) of reflectance (…, 31), relative to the light's own white."""
    table, white = weights(illuminant)
    return lab_from_xyz(reflectance @ table, white)


def thinned(reflectance: Floats, step: int = 2) -> Floats:
    """Every second band (…, 16) of (…, 31), for where speed counts more than the last tenth of a ΔE; or every third (…, 11)."""
    return np.ascontiguousarray(reflectance[..., ::step])


@lru_cache(maxsize=2)
def thin_weights(bands: int = 16) -> Floats:
    """Weights (bands, 3) under D50: bands left out are taken to lie on straight lines between those kept."""
    apart = np.abs(np.linspace(0, bands - 1, BANDS)[:, None] - np.arange(bands))
    kept: Floats = np.maximum(1 - apart, 0).T @ weights()[0]
    kept.setflags(write=False)
    return kept


def lab_from_thinned(reflectance: Floats) -> Floats:
    """D50 CIELAB (…, 3) of thinned reflectance (…, bands)."""
    return lab_from_xyz(reflectance @ thin_weights(reflectance.shape[-1]), weights()[1])


# The logit of a surface's reflectance: how far it strays about its level, over how many nanometres it strays alike, and how far
# levels lie apart. The first two are the likeliest for the published spectra of the ColorChecker's chromatic patches.
_STRAY, _ALIKE, _LEVEL = 0.85, 80.0, 3.0
# A spectrum made up is smoother than that: else yellow ochre and ultramarine would go from yellow to blue through grey and not
# through green, which common practice knows better.
_MADE_UP_ALIKE = 170.0
# Most of what colours lets the far red through, as the published spectra of the ColorChecker's chromatic patches do: by how much,
# from which wavelength to the last and how bent the logit of a made-up spectrum rises. What has less chroma than that is mixed of
# black the more, which does not.
_REDDER, _RED_FROM, _BENT, _COLOURED = 0.7, 560.0, 1.5, 20.0
# How near its colour a spectrum is held, in Lab; how many steps it is given, and halvings of one that leads astray; the step
# that is none, and what may stay away from the colour.
_HELD, _ROUNDS, _HALVINGS, _STILL, _MISS = 0.01, 60, 12, 1e-4, 0.02
# A logit this far out is 0 or 1 to sixteen digits.
_FAR = 40.0
# How far above the most its medium throws back the reflectance of a colour may go, no further than it must.
_MORE_THAN_MOST = (1.0, 1.015, 1.03, 1.06, 1.12)


@lru_cache(maxsize=2)
def usual_logits(alike: float = _ALIKE) -> Floats:
    """Covariance (31, 31) of the logit of a surface's reflectance while nothing of it is known: a level, and a smooth wandering
    about it, over `alike` nm alike (Matérn 5/2; Rasmussen & Williams 2006, "Gaussian Processes for Machine Learning", 4.2)."""
    apart = np.sqrt(5) * np.abs(WAVELENGTHS[:, None] - WAVELENGTHS) / alike
    out: Floats = _LEVEL**2 + _STRAY**2 * (1 + apart + apart**2 / 3) * np.exp(-apart)
    out.setflags(write=False)
    return out


def reflectance_from_lab(lab: Floats, most: Floats | None = None, illuminant: str = "D50") -> Floats:
    """The likeliest reflectance (…, 31) in (0, 1) of a surface whose CIELAB under a light, relative to its white, is `lab` (…, 3).

    Likeliest by `usual_logits`, which knows surfaces to be smooth, made a little smoother, and `redder` where that is hardly seen.
    For a colour no surface can have, the nearest that is found. Where the `most` that its medium can throw back there is known,
    (31,) or (…, 31), the colour is a share of it; one that cannot be is fitted without it.
    """
    shape = np.shape(lab)[:-1]
    flat = np.asarray(lab, dtype=float).reshape(-1, 3)
    if most is None:
        return np.clip(_likeliest(flat, np.ones((len(flat), BANDS)), illuminant)[0], DARKEST, LIGHTEST).reshape(*shape, BANDS)
    each = np.broadcast_to(most, (*shape, BANDS)).reshape(-1, BANDS)
    out, left = np.empty((len(flat), BANDS)), np.arange(len(flat))
    for more in _MORE_THAN_MOST:
        above = np.minimum(each[left] * more, LIGHTEST)
        # A share of the most is darker than it in X, Y and Z; what is not need not be tried.
        table, white = weights(illuminant)
        within = (xyz_from_lab(flat[left], white) <= (above @ table) * 1.001).all(axis=1)
        tried, above = left[within], above[within]
        if tried.size:
            share, missed = _likeliest(flat[tried], above, illuminant)
            out[tried] = share * above
            left = np.sort(np.concatenate([left[~within], tried[missed > _MISS]]))
        if left.size == 0:
            break
    else:
        out[left] = reflectance_from_lab(flat[left], None, illuminant)
    return np.clip(out, DARKEST, LIGHTEST).reshape(*shape, BANDS)


def _likeliest(lab: Floats, most: Floats, illuminant: str) -> tuple[Floats, Floats]:
    """Shares (n, 31) of the most that is thrown back (n, 31) that show colours (n, 3), and what they miss by in Lab (n,).

    Gauss-Newton: each step takes colour for linear in the logits and goes to the likeliest ones that show it.
    """
    plain, white = weights(illuminant)
    table, usual = plain / white * most[:, :, None], usual_logits(_MADE_UP_ALIKE)
    sure = np.linalg.inv(usual)
    y = np.clip(xyz_from_lab(lab, WHITE_D50)[:, 1] / (most @ plain[:, 1]), DARKEST, LIGHTEST)
    level = np.log(y / (1 - y))[:, None] + redder(lab)
    z, going = level.copy(), np.arange(len(lab))

    def cost(z: Floats, rows: Ints) -> Floats:
        away, missed = z - level[rows], _shown(z, table[rows])[0] - lab[rows]
        out: Floats = np.einsum("nb,bc,nc->n", away, sure, away) + (missed**2).sum(axis=1) / _HELD**2
        return out

    best = cost(z, going)
    for _ in range(_ROUNDS):
        at = z[going]
        seen, slope = _shown(at, table[going])
        told = np.einsum("bc,nkc->nbk", usual, slope)
        open_ = slope @ told + _HELD**2 * np.eye(3)
        gap = lab[going] - seen + np.einsum("nkb,nb->nk", slope, at - level[going])
        step = level[going] + np.einsum("nbk,nk->nb", told, np.linalg.solve(open_, gap[..., None])[..., 0]) - at
        left = np.arange(len(going))
        for _ in range(_HALVINGS):
            trial = z[going[left]] + step[left]
            reached = cost(trial, going[left])
            better = reached < best[going[left]]
            z[going[left[better]]], best[going[left[better]]] = trial[better], reached[better]
            left = left[~better]
            if left.size == 0:
                break
            step[left] /= 2
        step[left] = 0
        going = going[np.abs(step).max(axis=1) > _STILL]
        if going.size == 0:
            break
    missed = np.linalg.norm(_shown(z, table)[0] - lab, axis=1)
    return share_of(z), missed


def redder(lab: Floats) -> Floats:
    """By how much logits (n, 31) of made-up spectra lie above their level in the far red, for colours (n, 3)."""
    coloured = np.minimum(np.hypot(lab[:, 1], lab[:, 2]) / _COLOURED, 1)
    ramp = np.maximum(WAVELENGTHS - _RED_FROM, 0) / (BAND_STOP - _RED_FROM)
    out: Floats = _REDDER * coloured[:, None] * ramp**_BENT
    return out


def redder_than_once(made: Floats) -> Floats:
    """By how much the logit (31,) of a made-up spectrum (31,) lies above that which was made up of its colour once, when none rose
    in the far red: to first order."""
    plain, white = weights()
    rise = redder(lab_from_reflectance(made)[None])[0]
    slope = _shown(np.log(made / (1 - made))[None], (plain / white)[None])[1][0]
    told = usual_logits(_MADE_UP_ALIKE) @ slope.T
    out: Floats = rise - told @ np.linalg.solve(slope @ told + _HELD**2 * np.eye(3), slope @ rise)
    return out


def share_of(logits: Floats) -> Floats:
    """What has these logits, each between 0 and 1. Scipy has it too, but to load that takes longer than most requests."""
    out: Floats = 1 / (1 + np.exp(-np.clip(logits, -_FAR, _FAR)))
    return out


def _shown(logits: Floats, table: Floats) -> tuple[Floats, Floats]:
    """Lab (n, 3) of logits (n, 31) of the share of what `table` (n, 31, 3) weighs, and its slope by them (n, 3, 31)."""
    share = share_of(logits)
    xyz = np.einsum("nb,nbk->nk", share, table)
    f = np.where(xyz > 216 / 24389, np.maximum(xyz, 1e-9) ** (-2 / 3) / 3, 24389 / 27 / 116)
    df = (f[:, None, :] * table * (share * (1 - share))[:, :, None]).transpose(0, 2, 1)
    slope = np.stack([116 * df[:, 1], 500 * (df[:, 0] - df[:, 1]), 200 * (df[:, 1] - df[:, 2])], axis=1)
    return lab_from_xyz(xyz, np.ones(3)), slope


def reflectance_from_samples(start: float, step: float, values: Floats) -> Floats:
    """The 31 bands of a measured reflectance given as equally spaced samples (n,).

    Bands between samples are read off straight lines, as ISO 13655 allows for steps of up to 20 nm.
    Raises BadRequest when the samples leave 0-1, do not cover 400-700 nm, or the step is not 1-20 nm.
    """
    if not 1 <= step <= 20:
        raise BadRequest("step", f"samples must lie 1 to 20 nm apart, not {step:g}")
    wavelengths = start + step * np.arange(values.size)
    if values.size < 2 or start > BAND_START or wavelengths[-1] < BAND_STOP:
        raise BadRequest("values", "the samples must cover 400 to 700 nm")
    bad = np.flatnonzero((values < 0) | (values > 1))
    if bad.size:
        raise BadRequest(f"values[{bad[0]}]", f"a reflectance lies between 0 and 1, not {values[bad[0]]:g}")
    return np.clip(np.interp(WAVELENGTHS, wavelengths, values), DARKEST, LIGHTEST)
