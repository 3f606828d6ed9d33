"""A colour as an artist says it who has nothing to measure it with: by value, strength and hue."""

from dataclasses import dataclass

import numpy as np

from caltin_core.colour.difference import chroma, hue_angle
from caltin_core.colour.tables import Floats
from caltin_core.colour.value import lightness_of_value, munsell_value


@dataclass(frozen=True)
class Seen:
    """Munsell value, 0-10, strength in C*ab and hue in degrees of CIELAB, 0-360."""

    value: float
    strength: float
    hue: float


def lab_by_eye(seen: Seen) -> Floats:
    """D50 CIELAB (3,) of a colour said so. Its value is that of the colour itself (ASTM D1535)."""
    lightness = min(float(lightness_of_value(np.array(seen.value))), 100.0)
    angle = np.radians(seen.hue)
    return np.array([lightness, seen.strength * np.cos(angle), seen.strength * np.sin(angle)])


def seen_by_eye(lab: Floats) -> Seen:
    """What would be said of one D50 CIELAB colour (3,)."""
    return Seen(float(munsell_value(lab)), float(chroma(lab)), float(hue_angle(lab)))
