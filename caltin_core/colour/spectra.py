"""Reflectance spectra of 31 bands: to colour, and back from a colour that came without one."""

from functools import lru_cache

import numpy as np

from caltin_core.colour.spaces import WHITE_D50, lab_from_xyz, xyz_from_lab
from caltin_core.colour.tables import BAND_START, BAND_STOP, BANDS, CMFS, ILLUMINANTS, WAVELENGTHS, Floats
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


def thinned(reflectance: Floats) -> Floats:
    """Every second band (…, 16) of (…, 31), for where speed counts more than the last tenth of a ΔE."""
    return np.ascontiguousarray(reflectance[..., ::2])


@lru_cache(maxsize=1)
def thin_weights() -> Floats:
    """Weights (16, 3) under D50: bands left out are taken to lie on straight lines between those kept."""
    table, _ = weights()
    between = table[1::2] / 2
    kept = table[::2].copy()
    kept[:-1] += between
    kept[1:] += between
    kept.setflags(write=False)
    return kept


def lab_from_thinned(reflectance: Floats) -> Floats:
    """D50 CIELAB (…, 3) of thinned reflectance (…, 16)."""
    return lab_from_xyz(reflectance @ thin_weights(), weights()[1])


_X = (WAVELENGTHS - 550.0) / 150.0
_BASIS = np.stack([np.ones(BANDS), _X, _X**2 - 1 / 3])


# How far above the most its medium throws back the reflectance of a colour may go, no further than it must.
_MORE_THAN_MOST = (1.0, 1.015, 1.03, 1.06, 1.12)


def _sigmoid(t: Floats) -> tuple[Floats, Floats]:
    """Jakob & Hanika's sigmoid, 0-1, and its slope."""
    root = np.sqrt(1 + t * t)
    return 0.5 + 0.5 * t / root, 0.5 / root**3


def reflectance_from_lab(lab: Floats, most: Floats | None = None) -> Floats:
    """A smooth reflectance (…, 31) in (0, 1) whose D50 CIELAB is `lab` (…, 3).

    A sigmoid of a quadratic in wavelength, fitted by damped Gauss-Newton for all colours at once. For a
    colour no surface can have, the nearest that this shape gives. Where the `most` that its medium can throw back there is
    known, (31,) or (…, 31), the colour is a share of it; one that cannot be is fitted without it.

    Source: Jakob & Hanika 2019, "A low-dimensional function space for efficient spectral upsampling".
    """
    shape = np.shape(lab)[:-1]
    flat = np.asarray(lab, dtype=float).reshape(-1, 3)
    if most is None:
        return np.clip(_fitted(flat, np.ones((len(flat), BANDS)))[0], DARKEST, LIGHTEST).reshape(*shape, BANDS)
    each = np.broadcast_to(most, (*shape, BANDS)).reshape(-1, BANDS)
    out, left = np.empty((len(flat), BANDS)), np.arange(len(flat))
    for more in _MORE_THAN_MOST:
        above = np.minimum(each[left] * more, LIGHTEST)
        # A share of the most is darker than it in X, Y and Z; what is not need not be tried.
        within = (xyz_from_lab(flat[left]) <= (above @ weights()[0]) * 1.001).all(axis=1)
        tried, above = left[within], above[within]
        if tried.size:
            share, missed = _fitted(flat[tried], above)
            out[tried] = share * above
            left = np.sort(np.concatenate([left[~within], tried[missed > 0.02]]))
        if left.size == 0:
            break
    else:
        out[left] = reflectance_from_lab(flat[left])
    return np.clip(out, DARKEST, LIGHTEST).reshape(*shape, BANDS)


def _fitted(flat: Floats, most: Floats) -> tuple[Floats, Floats]:
    """Shares (n, 31) of the most that is thrown back (n, 31) that show colours (n, 3), and what they miss by in Lab (n,)."""
    best, error = _fit(flat, np.zeros((flat.shape[0], 2)), most)
    for tilt in ((4.0, 0.0), (-4.0, 0.0), (0.0, 6.0), (0.0, -6.0)):
        poor = np.flatnonzero(error > 0.02)
        if poor.size == 0:
            break
        again, left = _fit(flat[poor], np.tile(np.array(tilt), (poor.size, 1)), most[poor])
        better = left < error[poor]
        best[poor[better]], error[poor[better]] = again[better], left[better]
    return _sigmoid(best @ _BASIS)[0], error


def _fit(lab: Floats, tilt: Floats, most: Floats, steps: int = 60) -> tuple[Floats, Floats]:
    """Coefficients (n, 3) of the quadratic and the distance left in Lab (n,), from a starting tilt (n, 2)."""
    plain, white = weights()
    table = plain / white * most[:, :, None]
    y = np.clip(xyz_from_lab(lab, WHITE_D50)[:, 1] / (most @ plain[:, 1]), 1e-4, 1 - 1e-4)
    level = (2 * y - 1) / np.sqrt(1 - (2 * y - 1) ** 2)
    c = np.concatenate([level[:, None], tilt], axis=1)
    damping = np.full(lab.shape[0], 1e-2)

    def residual(coefficients: Floats) -> tuple[Floats, Floats]:
        r, slope = _sigmoid(coefficients @ _BASIS)
        xyz = np.einsum("nb,nbk->nk", r, table)
        out = lab_from_xyz(xyz, np.ones(3)) - lab
        f = np.where(xyz > 216 / 24389, np.maximum(xyz, 1e-9) ** (-2 / 3) / 3, 24389 / 27 / 116)
        jac_xyz = np.einsum("nb,nbk,cb->nkc", slope, table, _BASIS, optimize=True)
        df = f[:, :, None] * jac_xyz
        jac = np.stack([116 * df[:, 1], 500 * (df[:, 0] - df[:, 1]), 200 * (df[:, 1] - df[:, 2])], axis=1)
        return out, jac

    r, jac = residual(c)
    cost = (r * r).sum(-1)
    for _ in range(steps):
        if np.all(cost < 1e-8):
            break
        normal = np.einsum("nki,nkj->nij", jac, jac)
        scale = np.einsum("nii->ni", normal) + 1e-9
        normal = normal + damping[:, None, None] * scale[:, :, None] * np.eye(3)
        step = np.linalg.solve(normal, -np.einsum("nki,nk->ni", jac, r)[..., None])[..., 0]
        trial = np.clip(c + step, -300, 300)
        r_new, jac_new = residual(trial)
        cost_new = (r_new * r_new).sum(-1)
        good = cost_new < cost
        c[good], r[good], jac[good], cost[good] = trial[good], r_new[good], jac_new[good], cost_new[good]
        damping = np.where(good, damping / 5, np.minimum(damping * 6, 1e6))
    return c, np.sqrt(cost)


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
