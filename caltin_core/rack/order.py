"""Orders of a rack, and the tones it has nothing near."""

from collections.abc import Sequence
from typing import Literal

import numpy as np

from caltin_core.colour.difference import delta_e_2000
from caltin_core.colour.tables import Floats
from caltin_core.colour.words import warmth

Order = Literal["value", "warmth", "hue", "strength"]
# Below this C* a colour has no hue to speak of.
_GREY = 6.0
# Skin runs through these tones: L*, C* and hue of lights, of shadows and of flushed places (working values).
_PROBES = [(lightness, c, h) for lightness in range(24, 92, 6) for c in (10, 20, 30) for h in (35, 55, 75)]
_FAR = 9.0


def ordered(labs: Floats, by: Order) -> list[int]:
    """The places of colours (N, 3) in order: light to dark, warm to cold, round the hues (greys last), or strong to weak."""
    strength, hue = np.hypot(labs[:, 1], labs[:, 2]), np.degrees(np.arctan2(labs[:, 2], labs[:, 1])) % 360
    key: Sequence[Floats]
    if by == "value":
        key = (strength, -labs[:, 0])
    elif by == "warmth":
        key = (-labs[:, 0], -warmth(labs))
    elif by == "strength":
        key = (-labs[:, 0], -strength)
    else:
        # Reds stand together at the front, not at both ends.
        key = (-labs[:, 0], np.where(strength < _GREY, 1000.0, np.round((hue + 30) % 360 / 15)))
    return [int(i) for i in np.lexsort(key)]


def near(labs: Floats, tone: Floats, most: int = 12) -> list[tuple[int, float]]:
    """The colours of (N, 3) nearest a tone (3,), with their ΔE00."""
    away = delta_e_2000(labs, tone)
    return [(int(i), float(away[i])) for i in np.argsort(away, kind="stable")[:most]]


def gaps(labs: Floats, most: int = 4) -> list[tuple[Floats, float]]:
    """Tones of skin (3,) that no colour of (N, 3) is near, farthest first, unlike one another, with their ΔE00."""
    probes = np.array([(lightness, c * np.cos(np.radians(h)), c * np.sin(np.radians(h))) for lightness, c, h in _PROBES])
    away = np.min([delta_e_2000(probes, lab) for lab in labs], axis=0) if len(labs) else np.full(len(probes), 100.0)
    out: list[tuple[Floats, float]] = []
    for i in np.argsort(-away, kind="stable"):
        if away[i] < _FAR or len(out) == most:
            break
        if all(float(delta_e_2000(probes[i], other)) > _FAR for other, _ in out):
            out.append((probes[i], float(away[i])))
    return out
