"""Undertone: a word with its numbers. No word or bound here works for only one depth of skin."""

from dataclasses import dataclass

import numpy as np

from caltin_core.colour.difference import chroma, hue_angle
from caltin_core.colour.spaces import lab_d65_from_lab_d50
from caltin_core.colour.tables import Floats

# Bounds in CIELAB hue angle, and in strength relative to lightness (chroma / L*), so that deep and light
# skins are read alike. Common practice; no published source.
_PINK, _ORANGE, _YELLOW = 48.0, 62.0, 82.0
_NEUTRAL, _OLIVE = 0.10, 0.30
_QUIET, _STRONG = 0.25, 0.5


@dataclass(frozen=True)
class Undertone:
    """`word` pink, orange, yellow, olive or neutral; `ita` degrees under D65; `hue` CIELAB angle under D50."""

    word: str
    ita: float
    hue: float


def individual_typology_angle(lab_d65: Floats) -> float:
    """ITA° = arctan((L* − 50) / b*) in degrees, of CIELAB under D65 (3,). Source: Chardon, Cretois & Hourseau 1991."""
    return float(np.degrees(np.arctan2(lab_d65[0] - 50, lab_d65[2])))


def undertone_word(hue: float, strength: float) -> str:
    """The word for a CIELAB hue angle in degrees and a strength, which is chroma over lightness."""
    if strength < _NEUTRAL:
        return "neutral"
    if hue < _PINK or hue > 300:
        return "pink"
    if hue < _ORANGE:
        return "orange"
    return "yellow" if hue < _YELLOW and strength >= _OLIVE else "olive"


def strength_word(strength: float) -> str:
    """How strong a skin is for its depth: quiet, middling or strong, of chroma over lightness."""
    return "quiet" if strength < _QUIET else "middling" if strength < _STRONG else "strong"


def undertone(lab: Floats) -> Undertone:
    """The undertone of one D50 CIELAB colour (3,)."""
    hue = float(hue_angle(lab))
    word = undertone_word(hue, float(chroma(lab)) / max(float(lab[0]), 8.0))
    return Undertone(word, individual_typology_angle(lab_d65_from_lab_d50(np.asarray(lab, dtype=float))), hue)
