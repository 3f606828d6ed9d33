"""A complexion in measures: undertone, ITA° and its class, light half against shadow half, flush against base.

No step, threshold or word here works for only one depth of skin: strength is taken against lightness, and hue against
the skin's own.
"""

from dataclasses import dataclass

import cv2
import numpy as np

from caltin_core.colour.difference import chroma, hue_angle
from caltin_core.colour.tables import Floats
from caltin_core.skin.chromophores import amounts, lit_and_highlight, pigments
from caltin_core.skin.find import Mask, blurred, opened
from caltin_core.skin.undertone import Undertone, undertone

# The six classes of constitutive skin colour by ITA°, lower bounds. Sources: Chardon, Cretois & Hourseau 1991;
# Del Bino & Bernerd 2013.
ITA_CLASSES = ((55.0, "very light"), (41.0, "light"), (28.0, "intermediate"), (10.0, "tan"), (-30.0, "brown"), (-90.0, "dark"))
_WARMEST = 60.0
_EQUAL_DEGREES = 4.0
_FLUSH_LEAST, _FLUSH_SHARE = 0.10, 0.004
_MOST_FLUSH = 8
_LEAST_LIT = 0.15


@dataclass(frozen=True)
class Flush:
    """A place with more blood than the base: its pixel, and how much more (relative amount)."""

    x: int
    y: int
    strength: float


@dataclass(frozen=True)
class Complexion:
    """What is measured of a skin. `base` and `shadow` are D50 CIELAB (3,); `degrees` is how far the shadow's hue lies
    nearer to the warm axis than the light's (below 0: cooler)."""

    base: Floats
    shadow: Floats
    undertone: Undertone
    ita_class: str
    chroma: float
    strength: float
    melanin: float
    blood: float
    shadow_word: str
    degrees: float
    flush: tuple[Flush, ...]


def ita_class(ita: float) -> str:
    """The class of an individual typology angle in degrees; see `ITA_CLASSES`."""
    return next((word for bound, word in ITA_CLASSES if ita > bound), ITA_CLASSES[-1][1])


def base_tone(skin: Floats) -> Floats:
    """The colour (3,) that carries most of a skin (n, 3) in its light: the median of the fullest stretch of lightness there.

    Light and shadow are parted where they part best (Otsu 1979); a shadow that covers most of a face is not its base.
    """
    lightness = skin[:, 0]
    counts, bounds = np.histogram(lightness, bins=64)
    below = np.cumsum(counts) / len(lightness)
    mean = np.cumsum(counts * (bounds[:-1] + bounds[1:]) / 2) / len(lightness)
    between = (mean[-1] * below - mean) ** 2 / np.maximum(below * (1 - below), 1e-9)
    parted = float(bounds[1 + int(between[:-1].argmax())])
    low, high = np.quantile(lightness, [0.4, 0.92])
    if (lightness > parted).mean() >= _LEAST_LIT:
        low, high = parted, float(np.quantile(lightness[lightness > parted], 0.9))
    width = max(0.22 * float(high - low), 2.0)
    starts = np.linspace(low, max(high - width, low), 24)
    held = [int(((lightness >= s) & (lightness <= s + width)).sum()) for s in starts]
    start = starts[int(np.argmax(held))]
    out: Floats = np.median(skin[(lightness >= start) & (lightness <= start + width)], axis=0)
    return out


def measure(lab: Floats, mask: Mask) -> Complexion | None:
    """The complexion of the skin at `mask` (h, w) of a picture, D50 CIELAB (h, w, 3); None where there is none."""
    skin = lab[mask].astype(float)
    if len(skin) < 50:
        return None
    base = base_tone(skin)
    lightness = skin[:, 0]
    shadow = np.median(skin[lightness <= np.quantile(lightness, 0.3)], axis=0)
    lit, highlight = lit_and_highlight(skin)
    melanin, blood = amounts(lit, highlight)
    word, degrees = shadow_temperature(lit, shadow)
    leans = undertone(base)
    return Complexion(
        base, shadow, leans, ita_class(leans.ita), float(chroma(base)), float(chroma(base)) / max(float(base[0]), 8.0),
        max(melanin, 0.0), max(blood, 0.0), word, degrees, flushes(lab, mask),
    )  # fmt: skip


def shadow_temperature(light: Floats, shadow: Floats) -> tuple[str, float]:
    """Whether the shadow is the warmer or the cooler half, and by how many degrees of hue towards the warm axis."""

    def away(lab: Floats) -> float:
        turn = abs(float(hue_angle(lab)) - _WARMEST) % 360
        return min(turn, 360 - turn)

    degrees = away(light) - away(shadow)
    word = "equal" if abs(degrees) < _EQUAL_DEGREES else "warmer" if degrees > 0 else "cooler"
    return word, degrees


def blood_map(lab: Floats, mask: Mask) -> Floats:
    """How much more blood (h, w) each place of the skin has than the skin of its own lightness; 0 off the skin."""
    amount = pigments(blurred(lab, 1.5))[..., 1]
    out = np.zeros(mask.shape)
    if mask.sum() < 50:
        return out
    lightness, mine = lab[..., 0][mask].astype(float), amount[mask]
    # Coloured light turns blood with lightness: a straight line through the middle of both is taken out.
    slope, level = np.polyfit(lightness, mine, 1) if float(lightness.std()) > 0.5 else (0.0, float(np.median(mine)))
    out[mask] = mine - (slope * lightness + level)
    return out


def flushes(lab: Floats, mask: Mask) -> tuple[Flush, ...]:
    """The places with clearly more blood than the rest of the skin, the strongest first."""
    size = max(3, round(0.012 * max(mask.shape)))
    more = blurred(blood_map(lab, mask), size / 2)
    inner = cv2.erode(mask.astype(np.uint8), np.ones((size, size), np.uint8)) > 0
    spread = float(np.std(more[inner])) if inner.any() else 0.0
    many, part, sizes, _ = cv2.connectedComponentsWithStats(opened(inner & (more > max(_FLUSH_LEAST, spread)), 3).astype(np.uint8))
    found = []
    for index in range(1, many):
        if sizes[index, cv2.CC_STAT_AREA] < _FLUSH_SHARE * mask.sum():
            continue
        here = np.where(part == index, more, -np.inf)
        y, x = np.unravel_index(int(here.argmax()), here.shape)
        found.append(Flush(int(x), int(y), float(more[part == index].mean())))
    return tuple(sorted(found, key=lambda f: -f.strength)[:_MOST_FLUSH])
