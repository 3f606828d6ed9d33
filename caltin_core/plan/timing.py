"""How long acts take, when dye is dry, and where a sitting ends. Common practice; the artist's log knows better."""

from collections.abc import Sequence

from caltin_core.media.kinds import MEDIA

# Minutes to take up a colour, look and sharpen; and for a pass, or a coat, over the whole sheet.
TAKE_UP = 0.5
_WHOLE = {"film": 14.0, "dye": 5.0, "cover": 6.0}
_LOOSE_WHOLE = 6.0
# A coat of dye is dry after so long; what is laid wet must follow at once, within this.
DRIES, WET_FOR = 1.5, 1.0
BLENDS, LIFTS, DRY, CLEAN, RESERVE, MASK = 8.0, 10.0, 1.5, 0.5, 0.5, 4.0


def lay_minutes(medium: str, passes: int, share: float) -> float:
    """Minutes for one layer over a share of the sheet."""
    known = MEDIA[medium]
    whole = _LOOSE_WHOLE if known.covers else _WHOLE[known.kind]
    return TAKE_UP + whole * passes * share


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
