"""How a camera sees otherwise than an eye: as usual ones do, or as told by cells whose colour is about known.

Bare paper tells the light, in the channels of the sensor, where cameras balance their white: sRGB's are mixed of them
afterwards, so that a balance that was amiss cancels only there. Paper does not tell the contrast that a camera adds, the stray
light in its lens, or how its three sensitivities differ from the eye's: these are alike for all cells of a photograph, so that
a dozen colours known roughly tell them well (after the colour correction of cameras from charts; that colours are known
roughly and their errors independent is what makes it robust). Where no colour is known, a second photograph of the same cells,
exposed otherwise, tells the contrast: only the right one makes both read alike (after Debevec & Malik 1997).
"""

from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace

import numpy as np
from scipy.optimize import least_squares

from caltin_core.colour.difference import metric
from caltin_core.colour.spaces import SRGB_TO_XYZ50, decode_srgb, encode_srgb
from caltin_core.colour.tables import SENSOR_TO_SRGB, Floats

SENSOR_TO_XYZ50: Floats = SRGB_TO_XYZ50 @ SENSOR_TO_SRGB
XYZ50_TO_SENSOR: Floats = np.linalg.inv(SENSOR_TO_XYZ50)
_SRGB_TO_SENSOR = np.linalg.inv(SENSOR_TO_SRGB)
# What cameras do before anything is known of this one (from memory), and one standard deviation of it: contrast beside sRGB's, of
# which most add a little; stray light as a share of the paper's, never less than none, so that its spread is in e-folds; and
# what one channel takes from another.
_CONTRAST, _CONTRASTS = 0.04, 0.08
_STRAY, _STRAYS = 0.003, 0.7
_MIXED = 0.05
# By how much all colours that are known may be known wrongly alike: in Lab, and in strength as a share (common practice: what
# barrels and screens show is too strong or too pale as a whole).
_ALIKE, _STRONGER = 2.0, 0.1
# Within how much two photographs read a cell alike, ΔE00, one standard deviation (from memory).
_TWICE = 1.0
# Contrast is more than a sigmoid can tell: where two photographs disagree, they do so alike, and together count for so many cells.
_TOGETHER = 12
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
    """Contrast beside sRGB's, stray light as a share of the paper's, and a mixing of the sensor's channels (3, 3); white stays."""

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

    def share(self, light: Floats, bare: Floats) -> Floats:
        """What cells throw back (…, 3) of what bare paper does, in the channels of a usual sensor, without stray light; both are
        given in linear sRGB (…, 3) as `light` makes it."""
        share = np.maximum(light @ _SRGB_TO_SENSOR.T / (bare @ _SRGB_TO_SENSOR.T) - self.stray, 0) / (1 - self.stray)
        out: Floats = share @ self.mixed.T
        return out


USUAL = Correction(_CONTRAST, _STRAY, np.eye(3))


def correction_of(
    seen: Callable[[Correction], Floats], about: Sequence[About], twice: Callable[[Correction], tuple[Floats, Floats]] | None = None
) -> Correction:
    """The likeliest correction, where `seen` gives the Lab (n, 3) that the cells of `about` would be read as under one, and `twice`
    what cells would be read as in either of two photographs, both (m, 3).

    Fewer than four known cells tell nothing; where nothing tells anything it is the usual one. A cell far from what it should
    be loses its say.
    """
    if len(about) < _FEWEST:
        about = ()
        if twice is None:
            return USUAL
    known, within = np.array([a.lab for a in about]).reshape(-1, 3), np.array([a.within for a in about])
    # Of a difference in three directions each has a third of the square.
    weigh = metric(known) / (within / 3**0.5)[:, None, None]
    alike: Floats = np.empty((0, 3, 3))
    if twice:
        alike = metric(twice(USUAL)[0]) / (_TWICE / 3**0.5)
        alike *= min(1.0, (_TOGETHER / len(alike)) ** 0.5)

    def at(x: Floats) -> Correction:
        mixed = np.eye(3)
        mixed[_ACROSS] = _MIXED * x[2:8]
        contrast, stray = _CONTRAST + _CONTRASTS * float(x[0]), _STRAY * float(np.exp(_STRAYS * x[1]))
        return Correction(contrast, stray, mixed + np.diag(1 - mixed.sum(axis=1)))

    def off(x: Floats) -> Floats:
        camera = at(x)
        away = np.empty((0, 3))
        if about:
            lies = known * np.array([1, 1 + _STRONGER * x[11], 1 + _STRONGER * x[11]]) + _ALIKE * x[8:11]
            away = np.einsum("nij,nj->ni", weigh, seen(camera) - lies)
        if twice:
            # Stray light and mixed channels would make any two photographs alike: of them two tell nothing.
            one, other = twice(replace(USUAL, contrast=camera.contrast))
            away = np.concatenate([away, np.einsum("nij,nj->ni", alike, one - other)])
        length = np.sqrt((away**2).sum(axis=1, keepdims=True))
        # Cauchy weights, whose half lies at twice the usual miss.
        wide = 2 * 1.54
        say = wide * np.sqrt(np.log1p((length / wide) ** 2)) / np.maximum(length, 1e-9)
        return np.concatenate([(say * away).ravel(), x])

    return at(least_squares(off, np.zeros(12), method="lm", diff_step=[1e-3] * 12, max_nfev=400).x)
