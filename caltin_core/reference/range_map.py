"""The picture's range of values carried onto what this paper and this kit can show."""

from dataclasses import dataclass
from itertools import pairwise
from typing import Literal

import numpy as np

from caltin_core.colour.tables import Floats
from caltin_core.colour.value import munsell_value

Hold = Literal["skin", "darks", "lights"]

_LEAST_GAP = 0.5
# However it is bent, each side of the middle keeps this share of what can be shown.
_LEAST_SIDE = 0.15
# A stretch that keeps more than this of its steps gives nothing up that is seen.
_KEPT = 0.92


@dataclass(frozen=True)
class RangeMap:
    """A monotone map of L* given by its knots: `picture` and `shown`, both rising."""

    picture: tuple[float, ...]
    shown: tuple[float, ...]

    def __call__(self, lab: Floats) -> Floats:
        """Carry CIELAB (…, 3) over: L* through the knots, hue kept, chroma falling with a lowered L*.

        A light that has to come down loses chroma in proportion; a dark that is lifted keeps what it has.
        """
        lab = np.asarray(lab, dtype=float)
        lightness = lab[..., 0]
        shown = np.interp(lightness, self.picture, self.shown)
        strength = np.minimum(1.0, shown / np.maximum(lightness, 1e-6))
        return np.stack([shown, lab[..., 1] * strength, lab[..., 2] * strength], axis=-1)

    def given_up(self) -> list[str]:
        """What the map costs, in values: one sentence for each stretch that is pressed together."""
        out = []
        value = [_value(v) for v in self.picture]
        kept = [_value(v) for v in self.shown]
        for (a, b), (c, d) in zip(pairwise(value), pairwise(kept), strict=True):
            if b - a > 0.2 and (d - c) / (b - a) < _KEPT:
                out.append(f"values {a:.1f} to {b:.1f} are pressed into {c:.1f} to {d:.1f}: {b - a:.1f} steps become {d - c:.1f}")
        return out


IDENTITY = RangeMap((0.0, 100.0), (0.0, 100.0))


def _value(lightness: float) -> float:
    return float(munsell_value(np.array([lightness, 0.0, 0.0])))


def propose(
    picture: tuple[float, float], shown: tuple[float, float], held: float, hold: Hold = "skin", middle: float | None = None
) -> RangeMap:
    """The map from the picture's darkest and lightest L* to those that can be shown.

    An end that can be shown as it is stays where it is. `held` is the L* of the skin's own mid-tone. `hold` says what is
    kept: the skin (its mid-tone stays; when it cannot be shown it goes to the nearest that can), the darks or the lights
    (their steps stay as wide as they are, and the other side gives way). `middle` sets by hand where the mid-tone goes.
    """
    dark, light = min(picture), max(picture)
    low, high = min(shown), max(shown)
    ends = (max(dark, low), min(light, high))
    if ends[1] - ends[0] < _LEAST_GAP:
        return RangeMap((0.0, 100.0), (low, high))
    room = ends[1] - ends[0]
    at = float(np.clip(held, dark + _LEAST_GAP, light - _LEAST_GAP))
    wanted = middle if middle is not None else {"skin": held, "darks": ends[0] + at - dark, "lights": ends[1] - (light - at)}[hold]
    side = 0.2 if hold == "skin" and middle is None else _LEAST_SIDE
    goes = float(np.clip(wanted, ends[0] + side * room, ends[1] - side * room))
    return RangeMap((dark, at, light), (ends[0], goes, ends[1]))
