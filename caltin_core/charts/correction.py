"""How a camera sees otherwise than an eye, told by cells whose colour is about known.

Bare paper tells the light. It does not tell the contrast that a camera adds, the stray light in its lens, or how its three
sensitivities differ from the eye's: these are alike for all cells of a photograph, so that a dozen colours known roughly tell
them well (after the colour correction of cameras from charts; that colours are known roughly and their errors independent is
what makes it robust).
"""

from collections.abc import Callable, Sequence
from dataclasses import dataclass

import numpy as np
from scipy.optimize import least_squares

from caltin_core.colour.difference import metric
from caltin_core.colour.spaces import decode_srgb, encode_srgb
from caltin_core.colour.tables import Floats

# What cameras do before anything is known of this one, one standard deviation (from memory): contrast beside sRGB's, stray light
# as a share of the paper's, and what one channel takes from another.
_CONTRAST, _STRAY, _MIXED = 0.08, 0.004, 0.05
# By how much all colours that are known may be known wrongly alike: in Lab, and in strength as a share (common practice: what
# barrels and screens show is too strong or too pale as a whole).
_ALIKE, _STRONGER = 2.0, 0.1
_ACROSS = ~np.eye(3, dtype=bool)
_FEWEST = 4
_ENDS = 1e-4


@dataclass(frozen=True)
class About:
    """What a cell should about be: D50 Lab (3,), and within how much that is known, ΔE00, one standard deviation."""

    cell: str
    lab: Floats
    within: float


@dataclass(frozen=True)
class Correction:
    """Contrast beside sRGB's, stray light as a share of the paper's, and a mixing of the channels (3, 3) that keeps white."""

    contrast: float
    stray: float
    mixed: Floats

    def light(self, seen: Floats) -> Floats:
        """Linear light (…, 3) without the contrast that the camera added: a sigmoid in the code values, its ends kept."""
        if not self.contrast:
            return seen
        code = np.clip(encode_srgb(seen), _ENDS, 1 - _ENDS)
        plain = 1 / (1 + ((1 - code) / code) ** np.exp(-self.contrast))
        return decode_srgb(plain)

    def share(self, share: Floats) -> Floats:
        """What is left of light relative to paper (…, 3) without stray light, as the eye's channels would see it."""
        out: Floats = np.maximum(share - self.stray, 0) / (1 - self.stray) @ self.mixed.T
        return out


PLAIN = Correction(0.0, 0.0, np.eye(3))


def correction_of(seen: Callable[[Correction], Floats], about: Sequence[About]) -> Correction:
    """The likeliest correction, where `seen` gives the Lab (n, 3) that the cells of `about` would be read as under one.

    Fewer than four cells tell nothing. A cell far from what it should be loses its say.
    """
    if len(about) < _FEWEST:
        return PLAIN
    known, within = np.array([a.lab for a in about]), np.array([a.within for a in about])
    # Of a difference in three directions each has a third of the square.
    weigh = metric(known) / (within / 3**0.5)[:, None, None]

    def at(x: Floats) -> Correction:
        mixed = np.eye(3)
        mixed[_ACROSS] = _MIXED * x[2:8]
        return Correction(_CONTRAST * float(x[0]), _STRAY * float(x[1]), mixed + np.diag(1 - mixed.sum(axis=1)))

    def off(x: Floats) -> Floats:
        lies = known * np.array([1, 1 + _STRONGER * x[11], 1 + _STRONGER * x[11]]) + _ALIKE * x[8:11]
        away = np.einsum("nij,nj->ni", weigh, seen(at(x)) - lies)
        length = np.sqrt((away**2).sum(axis=1, keepdims=True))
        # Cauchy weights, whose half lies at twice the usual miss.
        wide = 2 * 1.54
        say = wide * np.sqrt(np.log1p((length / wide) ** 2)) / np.maximum(length, 1e-9)
        return np.concatenate([(say * away).ravel(), x])

    return at(least_squares(off, np.zeros(12), method="lm", diff_step=[1e-3] * 12, max_nfev=400).x)
