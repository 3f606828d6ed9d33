"""Colours of one rack that are taken for one another: by the eye under a lamp, or by their names."""

import re
from collections import defaultdict
from collections.abc import Sequence
from dataclasses import dataclass, replace
from typing import Literal

import numpy as np
from scipy.spatial import cKDTree

from caltin_core.colour.difference import delta_e_2000
from caltin_core.colour.spectra import lab_from_reflectance
from caltin_core.colour.tables import Floats
from caltin_core.colour.words import difference
from caltin_core.media.colourants import Swatch
from caltin_core.recipes.words import listed

# What is held alike is taken for one another; a marker is not taken for a stick.
FORMS: tuple[frozenset[str], ...] = (
    frozenset({"wax_pencil", "oil_pencil", "graphite", "pastel_pencil"}), frozenset({"alcohol_marker", "ink_line", "white_pen"}),
    frozenset({"hard_pastel", "soft_pastel", "oil_pastel", "charcoal"}),
)  # fmt: skip
# Two sticks so near under a lamp, or so near by day, are picked up for one another; so near by day they are one colour (common
# practice).
_CONFUSED, _AS_ONE, _ONE_COLOUR = 4.5, 2.5, 1.5
_OTHER_COLOUR = 5.0
# ΔE00 is at most this many times smaller than plain distance in Lab among colours that near.
_REACH = 5.0


Why = Literal["alike", "same colour", "same name"]


@dataclass(frozen=True)
class Pair:
    """Two colours by their places, the first the lower: why they are named, their ΔE00 by day and under a lamp, how the second
    differs from the first by day and under the lamp, and their media where these are two."""

    one: int
    other: int
    why: Why
    day: float
    lamp: float
    words: str
    lamp_words: str
    media: tuple[str, ...] = ()

    def says(self, one: str, other: str) -> str:
        """What to beware of, the two being called so."""
        if self.why == "same colour":
            unlike = f", one {' and one '.join(m.replace('_', ' ') for m in self.media)}" if self.media else ""
            return f"{one} and {other} are one colour under two names{unlike}"
        if self.why == "same name":
            return f"Two sticks are called {one}: the other one is {self.words}, {self.day:.0f} away"
        if self.lamp >= _CONFUSED:
            return f"By day {one} looks like {other}; under a lamp {other} is {self.lamp_words}: check the barrel"
        much = "hardly to be told apart by day either" if self.day < 2 else f"by day {other} is {self.words}"
        return f"Under a lamp {one} looks like {other}; {much}: check the barrel"


def pairs(swatches: Sequence[Swatch]) -> list[Pair]:
    """Every pair that may be confused, nearest first: what looks alike and is held alike, and what is called alike."""
    if len(swatches) < 2:
        return []
    solids = np.array([s.solid for s in swatches])
    day, lamp = lab_from_reflectance(solids), lab_from_reflectance(solids, "A")
    found = {(p.one, p.other): p for p in _alike(swatches, day, lamp)}
    for places in _by_name(swatches).values():
        for n, i in enumerate(places):
            for j in places[n + 1 :]:
                by_day = float(delta_e_2000(day[i], day[j]))
                if by_day > _OTHER_COLOUR:
                    found[i, j] = _pair(i, j, "same name", day, lamp)
    return sorted(found.values(), key=lambda p: (min(p.lamp, p.day), p.one, p.other))


def barrels(swatches: Sequence[Swatch]) -> dict[int, str]:
    """What to look for when a colour is picked up, by its place: which others look or are called alike, and how they differ."""
    others: dict[int, list[tuple[int, Pair]]] = defaultdict(list)
    for pair in pairs(swatches):
        if pair.why != "same colour":
            others[pair.one].append((pair.other, pair))
            others[pair.other].append((pair.one, pair))
    out = {}
    for mine, found in others.items():
        named = [_differs(swatches, mine, other) for other, pair in found if pair.why == "same name"]
        said = [f"another stick is called so too, {words}" for words in named]
        unlike = [(other, pair) for other, pair in found if pair.why == "alike"]
        if len(unlike) == 1:
            ((other, pair),) = unlike
            called = swatches[other].called
            if pair.lamp >= _CONFUSED:
                said.append(f"by day {called} looks like it, under a lamp {_differs(swatches, mine, other, 'A')}")
            else:
                said.append(f"under a lamp {called} looks like it, by day {_differs(swatches, mine, other)}")
        elif unlike:
            said.append(f"{listed([swatches[other].called for other, _ in unlike])} are easily taken for it")
        out[mine] = f"Check the barrel: {'; '.join(said)}."
    return out


def _differs(swatches: Sequence[Swatch], mine: int, other: int, light: str = "D50") -> str:
    """How another colour differs from this one."""
    here, there = lab_from_reflectance(np.array([swatches[mine].solid, swatches[other].solid]), light)
    return difference(there, here).words


def _alike(swatches: Sequence[Swatch], day: Floats, lamp: Floats) -> list[Pair]:
    """Pairs that are held alike and look alike, by Labs (n, 3) by day or under a lamp."""
    forms = np.array([next(i for i, form in enumerate(FORMS) if s.medium in form) for s in swatches])
    near = [cKDTree(labs).query_pairs(most * _REACH, output_type="ndarray") for labs, most in ((lamp, _CONFUSED), (day, _AS_ONE))]
    close = np.unique(np.concatenate(near), axis=0)
    close = close[forms[close[:, 0]] == forms[close[:, 1]]]
    by_lamp, by_day = (delta_e_2000(labs[close[:, 0]], labs[close[:, 1]]) for labs in (lamp, day))
    out = []
    for row in np.flatnonzero((by_lamp < _CONFUSED) | (by_day < _AS_ONE)):
        i, j = close[row].tolist()
        named = _plain(swatches[i].called) == _plain(swatches[j].called)
        one = by_day[row] < _ONE_COLOUR and by_lamp[row] < _CONFUSED
        why: Why = "same colour" if one and not named else "alike"
        media = tuple(dict.fromkeys((swatches[i].medium, swatches[j].medium)))
        pair = _pair(i, j, why, day, lamp)
        out.append(replace(pair, media=media if len(media) > 1 else ()))
    return out


def _pair(i: int, j: int, why: Why, day: Floats, lamp: Floats) -> Pair:
    by_day, by_lamp = (difference(labs[j], labs[i]) for labs in (day, lamp))
    return Pair(i, j, why, by_day.de00, by_lamp.de00, by_day.words, by_lamp.words)


def _by_name(swatches: Sequence[Swatch]) -> dict[str, list[int]]:
    out: dict[str, list[int]] = defaultdict(list)
    for index, swatch in enumerate(swatches):
        out[_plain(swatch.called)].append(index)
    return out


def _plain(name: str) -> str:
    return re.sub(r"[\W_]+", " ", name.casefold()).strip()
