"""Artists' words for a colour and for the difference between two."""

from dataclasses import dataclass

import numpy as np

from caltin_core.colour.difference import chroma, delta_e_2000, hue_angle, parts
from caltin_core.colour.tables import Floats

# Hue names by CIELAB angle: upper bound of each sector, common practice.
_HUES = (
    (20, "pink red"),
    (42, "red"),
    (62, "orange"),
    (82, "yellow orange"),
    (105, "yellow"),
    (130, "yellow green"),
    (175, "green"),
    (225, "blue green"),
    (285, "blue"),
    (320, "violet"),
    (345, "purple"),
    (360, "pink red"),
)
# The hue angle that reads warmest, and half the circle away the coolest; common practice.
_WARMEST = 60.0
_JUST_SEEN, _CLEAR, _LARGE = 1.0, 3.0, 8.0
SAME = "the same to the eye"


@dataclass(frozen=True)
class Difference:
    """How one colour differs from a reference: ΔE00, its CIELAB parts, and words."""

    de00: float
    dl: float
    dc: float
    dh: float
    words: str


def hue_word(lab: Floats) -> str:
    """The name of the hue of one CIELAB colour; “grey” when it has next to none."""
    if float(chroma(lab)) < 4:
        return "grey"
    angle = float(hue_angle(lab))
    return next(word for bound, word in _HUES if angle <= bound)


def warmth(lab: Floats) -> Floats:
    """How warm a CIELAB colour (…, 3) reads: its chroma along the warm axis, in units of C*ab (…)."""
    lab = np.asarray(lab, dtype=float)
    angle = np.radians(_WARMEST)
    out: Floats = lab[..., 1] * np.cos(angle) + lab[..., 2] * np.sin(angle)
    return out


def tone_words(lab: Floats) -> str:
    """A short description of one CIELAB colour, such as “deep, dull red”."""
    lightness, strength = float(lab[0]), float(chroma(lab))
    depth = next(
        word
        for bound, word in ((22, "very dark"), (38, "deep"), (55, "middle dark"), (70, "middle"), (85, "light"), (101, "pale"))
        if lightness < bound
    )
    if strength < 4:
        return f"{depth} grey"
    vigour = next((word for bound, word in ((12, "greyed"), (24, "dull"), (45, ""), (400, "strong")) if strength < bound), "")
    name = hue_word(lab)
    if lightness < 55 and 20 < float(hue_angle(lab)) < 90 and strength < 45:
        name = "brown" if float(hue_angle(lab)) > 40 else "red brown"
    return ", ".join([depth, vigour + " " + name]) if vigour else f"{depth} {name}"


def _much(size: float) -> str:
    return "a touch " if size < _CLEAR else "" if size < _LARGE else "much "


def _towards(reference: Floats, dh: float) -> str:
    """Which way the hue goes from `reference` when its angle grows or falls."""
    angle = float(hue_angle(reference))
    anchors = ((20.0, "redder"), (90.0, "yellower"), (150.0, "greener"), (260.0, "bluer"), (315.0, "more violet"))
    step = 1 if dh > 0 else -1
    near = min(anchors, key=lambda item: (step * (item[0] - angle) - 6) % 360)
    return near[1]


def difference(lab: Floats, reference: Floats) -> Difference:
    """Compare one CIELAB colour with a reference (both (3,)): value, strength, hue, warmth, in words."""
    dl, dc, dh = (float(part) for part in parts(lab, reference))
    de00 = float(delta_e_2000(reference, lab))
    said = []
    if abs(dl) >= _JUST_SEEN:
        said.append(_much(abs(dl)) + ("lighter" if dl > 0 else "darker"))
    if abs(dc) >= _JUST_SEEN + 0.5:
        said.append(_much(abs(dc)) + ("stronger" if dc > 0 else "duller"))
    if abs(dh) >= _JUST_SEEN + 0.5:
        said.append(_much(abs(dh)) + _towards(reference, dh))
    swing = float(warmth(lab) - warmth(reference))
    if abs(swing) >= _CLEAR:
        said.append("warmer" if swing > 0 else "cooler")
    return Difference(de00, dl, dc, dh, ", ".join(said) if said else SAME)
