"""Munsell value: lightness counted from 0 to 10, as artists count it."""

import numpy as np

from caltin_core.colour.spaces import xyz_from_lab
from caltin_core.colour.tables import Floats

# ASTM D1535: luminance factor in percent of smoked magnesium oxide, of value V.
_QUINTIC = np.array([0.00081939, -0.020484, 0.23352, -0.22533, 1.1914, 0.0])
_VALUES = np.linspace(0, 10, 4001)
_LUMINANCES = np.polyval(_QUINTIC, _VALUES)


def munsell_value(lab: Floats) -> Floats:
    """Munsell value (…), 0-10, of D50 CIELAB (…, 3). Source: ASTM D1535, inverted on a fine grid."""
    luminance = 100 * xyz_from_lab(np.asarray(lab, dtype=float))[..., 1]
    return np.interp(luminance, _LUMINANCES, _VALUES)


def lightness_of_value(value: Floats) -> Floats:
    """CIE L* (…) of a Munsell value (…) (ASTM D1535)."""
    y = np.polyval(_QUINTIC, np.asarray(value, dtype=float)) / 100
    return np.where(y > 216 / 24389, 116 * np.cbrt(y) - 16, 24389 / 27 * y)
