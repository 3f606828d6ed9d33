"""How long acts take, when dye is dry, and where a sitting ends. Common practice; the artist's log knows better."""

from collections.abc import Sequence
from itertools import pairwise
from statistics import median

from caltin_core.media.kinds import MEDIA

# Minutes to take up a colour, look and sharpen; and for a pass, or a coat, over an A4 sheet.
TAKE_UP = 0.5
_WHOLE = {"film": 14.0, "dye": 5.0, "cover": 6.0}
_LOOSE_WHOLE = 6.0
# A coat of dye is dry after so long; what is laid wet must follow at once, within this.
DRIES, WET_FOR = 1.5, 1.0
# Longer than this between two marks, in minutes, and the artist was away.
PAUSE = 45.0
# A pace is known from so many steps on, by so many of the last; no step tells more than this.
_ENOUGH, _REMEMBERED, _SLOWEST = 6, 60, (0.2, 5.0)
BLENDS, LIFTS, DRY, CLEAN, RESERVE, MASK = 8.0, 10.0, 1.5, 0.5, 0.5, 4.0


def lay_minutes(medium: str, passes: int, sheets: float) -> float:
    """Minutes for one layer over so many A4 sheets."""
    known = MEDIA[medium]
    whole = _LOOSE_WHOLE if known.covers else _WHOLE[known.kind]
    return TAKE_UP + whole * passes * sheets


def pace_of(taken: Sequence[tuple[float, float]]) -> float:
    """How long an artist takes against what was planned: the median over (minutes taken, minutes planned) of steps.

    1 until enough is known. Steps in a row are taken as they come; a pause is no work.
    """
    known = [min(max(took / planned, _SLOWEST[0]), _SLOWEST[1]) for took, planned in taken if planned > 0 and 0 < took <= PAUSE]
    return float(median(known[-_REMEMBERED:])) if len(known) >= _ENOUGH else 1.0


def spans_of(minutes: Sequence[float]) -> list[tuple[int, int]]:
    """First and last mark, from 0, of each sitting, of marks made at these minutes, in order: a pause ends one."""
    breaks = [i for i in range(1, len(minutes)) if minutes[i] - minutes[i - 1] > PAUSE]
    edges = [0, *breaks, len(minutes)]
    return [(a, b - 1) for a, b in pairwise(edges) if b > a]


def sittings_of(minutes: Sequence[float], stops: Sequence[bool], length: float | None) -> list[tuple[int, int]]:
    """First and last step, from 0, of each sitting of at most `length` minutes where that can be.

    `stops` says after which steps one can stop. A stretch without a stop that is longer than a sitting stays whole.
    """
    if not minutes:
        return []
    if length is None:
        return [(0, len(minutes) - 1)]
    out, first, spent, stop = [], 0, 0.0, None
    for index, took in enumerate(minutes):
        spent += took
        if spent > length and stop is not None and stop < index:
            out.append((first, stop))
            first, spent = stop + 1, sum(minutes[stop + 1 : index + 1])
            stop = None
        if stops[index]:
            stop = index
    return [*out, (first, len(minutes) - 1)]
