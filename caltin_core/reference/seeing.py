"""Ways of seeing: the picture shown as a trained eye takes it apart. Each gives bytes to show and what there is to say.

All take a picture as D50 CIELAB (h, w, 3) in single precision, as it was developed.
"""

from collections.abc import Callable
from dataclasses import dataclass
from functools import lru_cache
from typing import Any

import cv2
import numpy as np

from caltin_core.colour.difference import chroma, hue_angle
from caltin_core.colour.tables import Floats, Ints
from caltin_core.colour.value import lightness_of_value, munsell_value
from caltin_core.colour.words import hue_word, warmth
from caltin_core.reference.develop import shown
from caltin_core.reference.picture import Pixels
from caltin_core.skin.chromophores import pigments
from caltin_core.skin.complexion import base_tone
from caltin_core.skin.find import Mask, blurred
from caltin_core.skin.undertone import undertone_word

VIEWS = (
    "picture", "squint", "values", "notan", "extremes", "hue", "warmth", "hidden", "one_value", "undertone", "melanin", "blood",
)  # fmt: skip
_LIFT = 2.6
_HELD = 64.0
_SQUINT_AT = 360
_QUIET = 62.0
_HIDDEN_LEAST, _MOST_WORDS = 4.0, 7
_EXTREME = 0.02
_COARSE = 4


@dataclass(frozen=True)
class Share:
    """One step of a view: its Munsell value (None where it is no step of value), its words, and its share, 0-1."""

    value: float | None
    words: str
    share: float


@dataclass(frozen=True)
class Word:
    """A word at a pixel."""

    x: int
    y: int
    words: str


@dataclass(frozen=True)
class Sight:
    """A view: sRGB bytes (h, w, 3), the shares of its steps, and words at places."""

    pixels: Pixels
    shares: tuple[Share, ...] = ()
    words: tuple[Word, ...] = ()


def _values(lab: Floats) -> Floats:
    """Munsell value (h, w), single precision, by a table of L* (both are functions of Y alone)."""
    lightness = np.linspace(0, 100, 1001)
    table = munsell_value(np.stack([lightness, np.zeros_like(lightness), np.zeros_like(lightness)], axis=-1))
    out: Floats = np.asarray(table, dtype=np.float32)[np.clip(lab[..., 0] * 10 + 0.5, 0, 1000).astype(np.int32)]
    return out


def _grey(lightness: Floats) -> Floats:
    out = np.zeros((*lightness.shape, 3), dtype=np.float32)
    out[..., 0] = lightness
    return out


def picture(lab: Floats) -> Sight:
    """The picture as it was developed."""
    return Sight(shown(lab))


def squint(lab: Floats, strength: float = 1.0) -> Sight:
    """As through half-closed eyes: detail gone, the great edges kept (bilateral filter, Tomasi & Manduchi 1998)."""
    scale = _SQUINT_AT / max(lab.shape[:2])
    small = cv2.resize(lab, None, fx=min(scale, 1), fy=min(scale, 1), interpolation=cv2.INTER_AREA)
    for _ in range(max(1, round(3 * strength))):
        small = cv2.bilateralFilter(small, 0, 16, 3 + 2 * strength)
    back = cv2.resize(np.asarray(small), (lab.shape[1], lab.shape[0]), interpolation=cv2.INTER_CUBIC)
    return Sight(shown(np.asarray(back, dtype=np.float32)))


def values(lab: Floats, steps: int = 5) -> Sight:
    """The picture in 2 to 10 equal steps of Munsell value, with the share of each, the lightest first."""
    step = np.minimum((_values(lab) * steps / 10).astype(np.int32), steps - 1)
    middles = 10 * (np.arange(steps) + 0.5) / steps
    greys = lightness_of_value(middles).astype(np.float32)
    share = np.bincount(step.ravel(), minlength=steps) / step.size
    table = shown(_grey(greys))
    told = [Share(float(middles[i]), f"value {middles[i]:.1f}", float(share[i])) for i in range(steps)]
    return Sight(table[step], tuple(reversed(told)))


def notan(lab: Floats, at: float | None = None) -> Sight:
    """Two masses, light and dark, parted at a Munsell value, or where they part best (Otsu 1979)."""
    value = blurred(_values(lab), max(1.0, 0.003 * max(lab.shape[:2])))
    if at is None:
        bins = np.clip(value * 25.5, 0, 255).astype(np.uint8)
        at = float(cv2.threshold(bins, 0, 255, cv2.THRESH_BINARY + cv2.THRESH_OTSU)[0]) / 25.5
    light = value > at
    table = shown(_grey(np.array([12.0, 95.0], dtype=np.float32)))
    share = float(light.mean())
    return Sight(
        table[light.astype(np.int32)],
        (Share((at + 10) / 2, "light", share), Share(at / 2, f"dark, below value {at:.1f}", 1 - share)),
    )


def extremes(lab: Floats) -> Sight:
    """Only the darkest and the lightest fiftieth of the picture; the rest goes quiet."""
    value = blurred(lab[..., 0], max(1.0, 0.005 * lab.shape[1]))
    low, high = np.quantile(value[::3, ::3], [_EXTREME, 1 - _EXTREME])
    out = _grey(np.clip(_QUIET + (lab[..., 0] - 50) * 0.12, 0, 100))
    here = (value <= low) | (value >= high)
    out[here] = lab[here]
    words = []
    for flat, said in ((int(value.argmin()), "darkest"), (int(value.argmax()), "lightest")):
        y, x = np.unravel_index(flat, value.shape)
        words.append(Word(int(x), int(y), said))
    return Sight(shown(out), (), tuple(words))


def hue(lab: Floats) -> Sight:
    """Hue and strength with every value held at one grey: only what colour does is left."""
    out = lab.copy()
    out[..., 0] = _HELD
    out[..., 1:] *= 1.25
    return Sight(shown(out))


def _about(lab: Floats, mask: Mask | None) -> Floats:
    """The skin's own base (3,), or the picture's middle where no skin is known."""
    pixels = lab[mask] if mask is not None and mask.sum() > 50 else lab.reshape(-1, 3)
    return base_tone(pixels[:: max(1, len(pixels) // 20_000)].astype(float))


def warm_and_cool(lab: Floats, mask: Mask | None) -> Sight:
    """Warm against cool *relative to this skin*: orange where warmer than its base at that lightness, blue where cooler."""
    base = _about(lab, mask)
    soft = blurred(lab, 1.2)
    against = warmth(soft) - float(warmth(base)) * np.clip(soft[..., 0] / max(float(base[0]), 1), 0.25, 1.4)
    swing = np.clip(against / 12, -1, 1)
    angle = np.radians(np.where(swing > 0, 58, 262))
    out = np.stack([lab[..., 0] * 0.55 + 34, 46 * np.abs(swing) * np.cos(angle), 46 * np.abs(swing) * np.sin(angle)], axis=-1)
    where = mask if mask is not None and mask.any() else np.ones(lab.shape[:2], dtype=bool)
    warm, cool = float((swing[where] > 0.25).mean()), float((swing[where] < -0.25).mean())
    told = (
        Share(None, "warmer than the base", warm),
        Share(None, "about the base", 1 - warm - cool),
        Share(None, "cooler than the base", cool),
    )
    return Sight(shown(out.astype(np.float32)), told)


def hidden(lab: Floats, mask: Mask | None) -> Sight:
    """Hidden colours: differences from the skin's own mean hue and strength lifted, with a word where one is strongest."""
    base = _about(lab, mask)
    # Skin loses strength towards black as it darkens, and towards the light's own colour as it begins to shine.
    dark = lab[..., :1] / max(float(base[0]), 1)
    shine = (100 - lab[..., :1]) / max(100 - float(base[0]), 1)
    scale = np.clip(np.minimum(dark, shine), 0.1, 1.0)
    mean = np.concatenate([lab[..., :1], (base[1:] * scale).astype(np.float32)], axis=-1)
    out = lab.copy()
    out[..., 1:] = mean[..., 1:] * 0.5 + _LIFT * (lab[..., 1:] - mean[..., 1:])
    # Words are for places, not for pixels: a quarter of the size is plenty to find them in.
    width = max(1.0, 0.012 * max(lab.shape[:2]) / _COARSE)
    soft = blurred(out[::_COARSE, ::_COARSE], width)
    apart = np.linalg.norm(blurred((lab - mean)[::_COARSE, ::_COARSE], width)[..., 1:], axis=-1)
    if mask is not None and mask.any():
        # Off the skin nothing is lifted, so that nothing there shouts against it.
        rim = 2 * round(0.004 * max(lab.shape[:2])) + 1
        inside = cv2.erode(mask.astype(np.uint8), np.ones((rim, rim), np.uint8)) > 0
        skin = blurred(inside, max(1.0, 0.003 * max(lab.shape[:2])))[..., None]
        quiet = lab * np.array([1, 0.4, 0.4], dtype=np.float32)
        out = quiet + skin * (out - quiet)
        size = 2 * round(width) + 1
        inner = cv2.erode(mask[::_COARSE, ::_COARSE].astype(np.uint8), np.ones((size, size), np.uint8)) > 0
        apart = np.where(inner, apart, 0)
    words: list[Word] = []
    used: set[str] = set()
    reach = round(0.09 * max(apart.shape))
    for _ in range(40):
        y, x = (int(v) for v in np.unravel_index(int(apart.argmax()), apart.shape))
        if apart[y, x] < _HIDDEN_LEAST or len(words) >= _MOST_WORDS:
            break
        word = hue_word(soft[y, x].astype(float))
        apart[max(0, y - reach) : y + reach, max(0, x - reach) : x + reach] = 0
        if word not in used:
            used.add(word)
            words.append(Word(x * _COARSE, y * _COARSE, f"here {word}"))
    return Sight(shown(out), (), tuple(words))


def one_value(lab: Floats, value: float, width: float = 0.5) -> Sight:
    """One value lifted out: what lies within `width` of it keeps its colour, all else goes pale."""
    here = np.abs(_values(lab) - value) <= width
    out = _grey(np.clip(86 + (lab[..., 0] - 50) * 0.08, 0, 100))
    out[here] = lab[here]
    return Sight(shown(out), (Share(value, f"within {width:g} of value {value:.1f}", float(here.mean())),))


# One clear tint for each undertone word, at the picture's own lightness.
_TINTS = {"pink": (20.0, 34.0), "orange": (52.0, 48.0), "yellow": (82.0, 50.0), "olive": (112.0, 34.0), "neutral": (0.0, 0.0)}


# The words change at whole even degrees and at whole tenths of strength.
_TURN, _STRONGER = 2.0, 0.1


@lru_cache(maxsize=1)
def _word_table() -> Ints:
    """The undertone's word by hue angle and by strength against lightness, which alone decide it."""
    names = list(_TINTS)
    out = np.zeros((round(360 / _TURN), 12), dtype=np.intp)
    for i, j in np.ndindex(*out.shape):
        out[i, j] = names.index(undertone_word((i + 0.5) * _TURN, (j + 0.5) * _STRONGER))
    return out


def undertones(lab: Floats, mask: Mask | None) -> Sight:
    """A map of undertone words over the skin, each in its own tint and named with its share."""
    soft = blurred(lab[::_COARSE, ::_COARSE], max(1.0, 0.012 * max(lab.shape[:2]) / _COARSE))
    small = soft.reshape(-1, 3).astype(float)
    names = list(_TINTS)
    table = _word_table()
    angle = (hue_angle(small) // _TURN).astype(int) % table.shape[0]
    strong = np.clip(chroma(small) / np.maximum(small[:, 0], 8) / _STRONGER, 0, table.shape[1] - 1).astype(int)
    word = table[angle, strong].reshape(soft.shape[:2])
    word = cv2.resize(word.astype(np.uint8), (lab.shape[1], lab.shape[0]), interpolation=cv2.INTER_NEAREST)
    tints = np.array([[c * np.cos(np.radians(h)), c * np.sin(np.radians(h))] for h, c in _TINTS.values()], dtype=np.float32)
    out = np.concatenate([lab[..., :1] * 0.7 + 22, tints[word]], axis=-1)
    where = mask if mask is not None and mask.any() else np.ones(lab.shape[:2], dtype=bool)
    out[~where] = _grey(lab[..., 0] * 0.4 + 45)[~where]
    share = np.bincount(np.asarray(word)[where], minlength=len(names)) / max(int(where.sum()), 1)
    told = [Share(None, names[i], float(share[i])) for i in np.argsort(-share) if share[i] > 0.005]
    return Sight(shown(out.astype(np.float32)), tuple(told))


def pigment_map(lab: Floats, mask: Mask | None, which: str) -> Sight:
    """Melanin or blood over the skin with shading taken out: darker is more; the rest goes quiet."""
    half = cv2.resize(blurred(lab, 1.0), None, fx=0.5, fy=0.5, interpolation=cv2.INTER_AREA)
    small = pigments(np.asarray(half))[..., 0 if which == "melanin" else 1].astype(np.float32)
    amount = np.asarray(cv2.resize(small, (lab.shape[1], lab.shape[0]), interpolation=cv2.INTER_LINEAR))
    where = mask if mask is not None and mask.any() else np.ones(lab.shape[:2], dtype=bool)
    low, high = np.quantile(amount[where], [0.03, 0.97])
    share = np.clip((amount - low) / max(float(high - low), 1e-3), 0, 1)
    out = _grey((92 - 74 * share).astype(np.float32))
    out[~where] = _grey(np.full(lab.shape[:2], _QUIET, dtype=np.float32))[~where]
    told = (
        Share(None, f"least {which}", float((share[where] < 0.33).mean())),
        Share(None, f"most {which}", float((share[where] > 0.67).mean())),
    )
    return Sight(shown(out), told)


def see(view: str, lab: Floats, mask: Mask | None, **more: Any) -> Sight:
    """One of `VIEWS` of a picture; `mask` (h, w) is its skin where known."""
    simple: dict[str, Callable[..., Sight]] = {
        "picture": picture, "squint": squint, "values": values, "notan": notan, "extremes": extremes, "hue": hue,
        "one_value": one_value,
    }  # fmt: skip
    if view in simple:
        return simple[view](lab, **more)
    if view in ("melanin", "blood"):
        return pigment_map(lab, mask, view)
    skin: dict[str, Callable[..., Sight]] = {"warmth": warm_and_cool, "hidden": hidden, "undertone": undertones}
    return skin[view](lab, mask)
