"""Lights by their colour temperature: white point and spectrum."""

import numpy as np

from caltin_core.colour.tables import DAYLIGHT, WAVELENGTHS, Floats
from caltin_core.errors import BadRequest

# The second radiation constant in nanometre kelvins (CIE 015:2018, note to 4.1).
_C2 = 1.4388e7
# From here on a light is taken for daylight.
_DAYLIGHT = 4000.0


def planckian_white(kelvin: float) -> Floats:
    """XYZ (3,), Y = 1, of a light of `kelvin` 1,667-25,000.

    Below 4,000 K the Planckian locus by the cubic of Kim et al. 2002; above it CIE daylight (CIE 015:2018, 4.1.2).
    """
    if not 1667 <= kelvin <= 25000:
        raise BadRequest("kelvin", "the light must lie between 1667 and 25000 K")
    t = 1000.0 / kelvin
    if kelvin < _DAYLIGHT:
        x = np.polyval([-0.2661239, -0.2343589, 0.8776956, 0.179910], t)
        low, high = (-1.1063814, -1.34811020, 2.18555832, -0.20219683), (-0.9549476, -1.37418593, 2.09137015, -0.16748867)
        y = np.polyval(low if kelvin < 2222 else high, x)
    else:
        x = np.polyval([-4.6070, 2.9678, 0.09911, 0.244063] if kelvin <= 7000 else [-2.0064, 1.9018, 0.24748, 0.237040], t)
        y = -3.0 * x * x + 2.870 * x - 0.275
    return np.array([x / y, 1.0, (1 - x - y) / y])


def spectrum_of(kelvin: float) -> Floats:
    """Relative power (31,) of a light of `kelvin` 1,667-25,000, its mean being 1: Planck's radiator below 4,000 K, CIE daylight
    (CIE 015:2018, 4.1.2) above. Raises BadRequest outside."""
    x, _, z = planckian_white(kelvin)
    if kelvin < _DAYLIGHT:
        power = WAVELENGTHS**-5.0 / np.expm1(_C2 / (WAVELENGTHS * kelvin))
    else:
        x, y = x / (x + 1 + z), 1 / (x + 1 + z)
        m = 0.0241 + 0.2562 * x - 0.7341 * y
        parts = np.array([m, -1.3515 - 1.7703 * x + 5.9114 * y, 0.0300 - 31.4424 * x + 30.0717 * y])
        power = parts / m @ DAYLIGHT
    out: Floats = power / power.mean()
    return out
