"""Made-up pigments and dyes, of which the stand-in's sticks are mixed: spectra that owe nothing to the model's own.

A pigment absorbs below an edge, as cadmium yellows, vermilion and iron oxides do, or in a band, as madder, ultramarine
and phthalocyanines do; a black absorbs everywhere. Edges and bands lie roughly where those of traditional pigments do, from
memory, and every stick's own lie a little aside.
"""

from collections.abc import Callable

import numpy as np
from scipy.optimize import least_squares

from caltin_core.colour.spectra import lab_from_reflectance
from caltin_core.colour.tables import WAVELENGTHS, Floats

# Where a pigment stops absorbing, and over how many nanometres; where another absorbs most, and how broadly.
_EDGES = ((470, 12), (505, 13), (530, 16), (560, 22), (590, 14))
_BANDS = ((495, 38), (525, 36), (550, 38), (580, 45), (610, 42), (650, 45))
_SPARING, _FIRST, _STEP = 0.1, 0.05, 1e-4
# To dull a colour a mixer takes black rather than a complement.
_DULLING = 0.4


def box(rng: np.random.Generator, odd: float) -> Floats:
    """Absorptions (12, 31) of the pigments one maker's mixer took, 1 at most; `odd`: how far theirs stray from the usual."""

    def stray(middle: float, width: float) -> tuple[float, float]:
        return middle + 60 * odd * rng.normal(), width * float(np.exp(odd * rng.normal()))

    edges = [1 / (1 + np.exp((WAVELENGTHS - at) / wide)) for at, wide in (stray(*e) for e in _EDGES)]
    bands = [np.exp(-0.5 * ((WAVELENGTHS - at) / wide) ** 2) for at, wide in (stray(*b) for b in _BANDS)]
    return np.array([*edges, *bands, np.exp(-0.1 * (WAVELENGTHS - 550) / 150)])


def mixed(rng: np.random.Generator, pigments: Floats, seen: Callable[[Floats], Floats], lab: Floats) -> Floats:
    """Absorption (31,) of a mixture that is seen as this colour (3,), or as near as these pigments come.

    `pigments` (12, 31); `seen` says what reflectance (n, 31) absorptions (n, 31) give. Many mixtures do: this mixer likes some
    pigments better than others, and takes no more of them than it must.
    """
    dislike = _SPARING * np.exp(rng.normal(size=len(pigments))) * np.append(np.ones(len(pigments) - 1), _DULLING)

    # Amounts are squares, so that none is less than nothing.
    def off(roots: Floats) -> Floats:
        return np.concatenate([lab_from_reflectance(seen((roots**2 @ pigments)[None]))[0] - lab, dislike * roots])

    def slope(roots: Floats) -> Floats:
        near = roots**2 + _STEP * np.vstack([np.zeros_like(roots), np.eye(len(roots))])
        labs = lab_from_reflectance(seen(near @ pigments))
        return np.vstack([(labs[1:] - labs[0]).T / _STEP * 2 * roots, np.diag(dislike)])

    found = least_squares(off, np.full(len(pigments), _FIRST**0.5), jac=slope, method="lm", max_nfev=100)
    out: Floats = found.x**2 @ pigments
    return out
