"""Colours seen under a lamp by who, or what, has adapted to it, and what they are by day.

Bare paper stays white under any light, but a red or a brown does not stay what it was: two lights show one surface in two
colours even to an adapted eye. The likeliest spectrum that shows the one tells the other.
"""

import numpy as np

from caltin_core.colour.spaces import WHITE_D50, adaptation, lab_from_xyz, xyz_from_lab
from caltin_core.colour.spectra import lab_from_reflectance, reflectance_from_lab, weights
from caltin_core.colour.tables import Floats

DAY = "D50"


def as_lit(lab: Floats, light: str) -> Floats:
    """What surfaces of D50 Lab (…, 3) look like under `light`, one of ILLUMINANTS: Lab (…, 3) adapted to D50 (Bradford)."""
    if light == DAY:
        return lab
    table, white = weights(light)
    return lab_from_xyz(reflectance_from_lab(lab) @ table @ adaptation(white, WHITE_D50).T)


def by_day(lab: Floats, light: str) -> Floats:
    """D50 Lab (…, 3) of surfaces that look like `lab` (…, 3) under `light`: what `as_lit` tells, backwards."""
    if light == DAY:
        return lab
    white = weights(light)[1]
    there = lab_from_xyz(xyz_from_lab(lab) @ np.linalg.inv(adaptation(white, WHITE_D50)).T, white)
    return lab_from_reflectance(reflectance_from_lab(there, illuminant=light))
