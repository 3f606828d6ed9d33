"""Colours of one rack that are taken for one another: by the eye under a lamp, or by their names."""

import re
from collections import defaultdict
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Literal

import numpy as np
from scipy.spatial import cKDTree

from caltin_core.colour.difference import delta_e_2000
from caltin_core.colour.spectra import lab_from_reflectance
from caltin_core.colour.tables import Floats
from caltin_core.colour.words import difference
from caltin_core.media.colourants import Swatch

# Two sticks so near under a lamp are picked up for one another; so near by day they are one colour (common practice).
_CONFUSED, _ONE_COLOUR = 4.5, 1.5
_OTHER_COLOUR = 5.0
# ΔE00 is at most this many times smaller than plain distance in Lab among colours that near.
_REACH = 5.0


@dataclass(frozen=True)
class Pair:
    """Two colours by their places, the first the lower: why they are named, their ΔE00 by day and under a lamp, and how
    the second differs from the first by day."""

    one: int
    other: int
    why: Literal["alike", "same colour", "same name"]
    day: float
    lamp: float
    words: str

    def says(self, one: str, other: str) -> str:
        """What to beware of, the two being called so."""
        if self.why == "same colour":
            return f"{one} and {other} are one colour under two names"
        if self.why == "same name":
            return f"Two sticks are called {one}: the other one is {self.words}, {self.day:.0f} away"
        much = "hardly to be told apart by day either" if self.day < 2 else f"by day {other} is {self.words}"
        return f"Under a lamp {one} looks like {other}; {much}: check the barrel"


def pairs(swatches: Sequence[Swatch]) -> list[Pair]:
    """Every pair that may be confused, nearest first."""
    if len(swatches) < 2:
        return []
    solids = np.array([s.solid for s in swatches])
    day, lamp = lab_from_reflectance(solids), lab_from_reflectance(solids, "A")
    found: dict[tuple[int, int], Pair] = {}
    close = cKDTree(lamp).query_pairs(_CONFUSED * _REACH, output_type="ndarray")
    if len(close):
        away = delta_e_2000(lamp[close[:, 0]], lamp[close[:, 1]])
        for (i, j), de in zip(close[away < _CONFUSED].tolist(), away[away < _CONFUSED].tolist(), strict=True):
            by_day = float(delta_e_2000(day[i], day[j]))
            named = _plain(swatches[i].called) == _plain(swatches[j].called)
            found[i, j] = _pair(i, j, "same colour" if by_day < _ONE_COLOUR and not named else "alike", day, by_day, de)
    for places in _by_name(swatches).values():
        for n, i in enumerate(places):
            for j in places[n + 1 :]:
                by_day = float(delta_e_2000(day[i], day[j]))
                if by_day > _OTHER_COLOUR:
                    found[i, j] = _pair(i, j, "same name", day, by_day, float(delta_e_2000(lamp[i], lamp[j])))
    return sorted(found.values(), key=lambda p: (p.lamp, p.one, p.other))


def _pair(i: int, j: int, why: Literal["alike", "same colour", "same name"], day: Floats, by_day: float, lamp: float) -> Pair:
    return Pair(i, j, why, by_day, lamp, difference(day[j], day[i]).words)


def _by_name(swatches: Sequence[Swatch]) -> dict[str, list[int]]:
    out: dict[str, list[int]] = defaultdict(list)
    for index, swatch in enumerate(swatches):
        out[_plain(swatch.called)].append(index)
    return out


def _plain(name: str) -> str:
    return re.sub(r"[\W_]+", " ", name.casefold()).strip()
