"""A drawing looked back on: what was reached against what was planned, what was used, how long it took, what was learnt."""

from collections.abc import Sequence
from dataclasses import dataclass
from statistics import mean

import numpy as np

from caltin_core.colour.tables import Floats
from caltin_core.colour.value import munsell_value
from caltin_core.media.layers import Layer
from caltin_core.media.predict import predict
from caltin_core.media.workbench import Workbench
from caltin_core.plan.timing import PAUSE, spans_of
from caltin_core.plan.using import taken

# So many places must have been measured, and lie so far off in L* on the whole, before a hand is said to differ from its
# profile; common practice of judging a habit by more than one or two swatches.
_ENOUGH, _HABIT = 3, 1.5


@dataclass(frozen=True)
class Reached:
    """An area: its name, the A4 sheets it covers, target, layers planned and lying there, and what it came out as, if measured.

    Colours are D50 Lab (3,).
    """

    id: str
    sheets: float
    target: Floats
    planned: tuple[Layer, ...]
    laid: tuple[Layer, ...]
    came_out: Floats | None = None


@dataclass(frozen=True)
class Use:
    """A colour's share of all that was laid, and its share of what was planned."""

    colour: int
    share: float
    planned: float


@dataclass(frozen=True)
class Review:
    """Munsell values from dark to light, planned and reached, both None where nothing lies there; what was used; minutes of each
    area; how much darker (below 0) or lighter, in L*, the hand came out than its profile, or None; and that as a sentence."""

    planned: tuple[float, float] | None
    reached: tuple[float, float] | None
    used: tuple[Use, ...]
    minutes: tuple[float, ...]
    habit: float | None
    learnt: str

    @property
    def differs(self) -> bool:
        """Whether the hand differs from its profile by more than a habit can be told from chance."""
        return self.habit is not None and abs(self.habit) >= _HABIT


def review(bench: Workbench, areas: Sequence[Reached], marks: Sequence[tuple[float, Sequence[int]]]) -> Review:
    """Look back on `areas`, drawn by `marks`: when each was made, in minutes, and the areas it served.

    What came out is what was measured, where it was; else what the layers that lie there are predicted to look like.
    """
    drawn = [a for a in areas if a.laid]
    seen = [p.lab for p in predict(bench, [a.laid for a in drawn])]
    out = [a.came_out if a.came_out is not None else lab for a, lab in zip(drawn, seen, strict=True)]
    off = [float(a.came_out[0] - lab[0]) for a, lab in zip(drawn, seen, strict=True) if a.came_out is not None]
    habit = mean(off) if len(off) >= _ENOUGH else None
    return Review(
        _span([a.target for a in areas]), _span(out), _used(bench, areas), _minutes(len(areas), marks), habit,
        _learnt(habit, len(off)),
    )  # fmt: skip


def _span(labs: Sequence[Floats]) -> tuple[float, float] | None:
    if not labs:
        return None
    values = [float(munsell_value(np.array(lab))) for lab in labs]
    return min(values), max(values)


def _used(bench: Workbench, areas: Sequence[Reached]) -> tuple[Use, ...]:
    both: list[dict[int, float]] = []
    for stacks in ([a.laid for a in areas], [a.planned for a in areas]):
        amount = taken(bench, [(x, area.sheets) for area, stack in zip(areas, stacks, strict=True) for x in stack])
        whole = sum(amount.values()) or 1.0
        both.append({c: a / whole for c, a in amount.items()})
    laid, planned = both
    every = sorted(laid | planned, key=lambda c: (-laid.get(c, 0.0), -planned.get(c, 0.0), c))
    return tuple(Use(c, laid.get(c, 0.0), planned.get(c, 0.0)) for c in every)


def _minutes(count: int, marks: Sequence[tuple[float, Sequence[int]]]) -> tuple[float, ...]:
    """The time before each mark, within its sitting, shared among the areas it served."""
    out = [0.0] * count
    times = [at for at, _ in marks]
    for first, last in spans_of(times):
        for i in range(first + 1, last + 1):
            for area in marks[i][1]:
                out[area] += min(times[i] - times[i - 1], PAUSE) / len(marks[i][1])
    return tuple(out)


def _learnt(habit: float | None, measured: int) -> str:
    if habit is None:
        more = "1 more place" if _ENOUGH - measured == 1 else f"{_ENOUGH - measured} more places"
        return f"Say what {more} came out as, and the hand can be compared with its profile."
    if abs(habit) < _HABIT:
        return f"The {measured} places measured came out as this hand was thought to draw them."
    how = ("harder", "darker") if habit < 0 else ("more softly", "lighter")
    return f"You press {how[0]} than the hand profile says: {measured} places came out {abs(habit):.1f} L* {how[1]} than predicted."
