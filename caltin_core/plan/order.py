"""In which order runs are laid over the areas: feature by feature, the whole sheet together, or the colour in the hand."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from itertools import pairwise
from typing import Literal

from caltin_core.plan.runs import COVER, Run

Route = Literal["feature", "sheet", "colour"]
# How many orders are kept in sight while the fewest changes of colour are sought.
_KEPT = 24
# A run that is left costs about so many changes more than can be proved.
_LIKELY = 0.35

Done = tuple[int, ...]


@dataclass(frozen=True)
class Act:
    """One run in the hand: the areas it is laid on, each with the number of its own run; all have the same chain."""

    areas: tuple[int, ...]
    runs: tuple[int, ...]


@dataclass(frozen=True)
class Sheet:
    """What an order is made of: the runs of every area, how light each is first laid (L*), which area is darkest in the end,
    the order features are drawn in, and whether dark comes before light."""

    runs: Sequence[Sequence[Run]]
    tone: Mapping[int, float]
    anchor: int
    features: Sequence[int]
    dark_first: bool


def ordered(sheet: Sheet, route: Route) -> list[Act]:
    """All runs of all areas once, every area's own in their order, no turn before an earlier one is through; feature by feature
    only what covers comes after all else."""
    if route == "feature":
        every = [Act((area,), (run,)) for area in sheet.features for run in range(len(sheet.runs[area]))]
        return sorted(every, key=lambda act: sheet.runs[act.areas[0]][act.runs[0]].turn[0] == COVER)
    return _few_changes(sheet) if route == "colour" else _together(sheet)


def _fronts(sheet: Sheet, done: Done) -> dict[tuple[int, ...], list[int]]:
    """The areas whose next run may be laid now, by its chain."""
    due = [(area, sheet.runs[area][at]) for area, at in enumerate(done) if at < len(sheet.runs[area])]
    if not due:
        return {}
    turn = min(run.turn for _, run in due)
    out: dict[tuple[int, ...], list[int]] = {}
    for area, run in due:
        if run.turn == turn:
            out.setdefault(run.chain, []).append(area)
    return out


def _after(done: Done, areas: Sequence[int]) -> Done:
    here = set(areas)
    return tuple(at + (area in here) for area, at in enumerate(done))


def _together(sheet: Sheet) -> list[Act]:
    """The darkest dark of all first and whole, then all areas grow alike: the least advanced first, then dark to light or light to
    dark."""
    done: Done = (0,) * len(sheet.runs)
    out: list[Act] = []
    while fronts := _fronts(sheet, done):

        def urgency(item: tuple[tuple[int, ...], list[int]], done: Done = done) -> tuple[float, ...]:
            chain, areas = item
            least = min(done[a] for a in areas)
            # Where light comes before dark it is only begun first: its darks wait for their turn.
            anchors = sheet.anchor in areas and (sheet.dark_first or done[sheet.anchor] == 0)
            tone = sheet.tone.get(chain[0], 0.0) if chain else 0.0
            return (not anchors, least, tone if sheet.dark_first else -tone, *chain)

        _, areas = min(fronts.items(), key=urgency)
        out.append(Act(tuple(areas), tuple(done[a] for a in areas)))
        done = _after(done, areas)
    return out


@dataclass(frozen=True)
class _Way:
    changes: int
    hand: int
    acts: tuple[Act, ...]


def _few_changes(sheet: Sheet) -> list[Act]:
    """The fewest changes of the colour in the hand: a common order of all areas' colours, as short as it can be found.

    What can be laid with the colour in the hand is laid at once: it never helps to wait. Ways through are kept side by side, the
    most promising first; where there are fewer than can be kept the shortest of all is found.
    """
    left = _Left(sheet)
    start: Done = (0,) * len(sheet.runs)
    end = tuple(len(r) for r in sheet.runs)
    ways: dict[tuple[Done, int], _Way] = {(start, -1): _Way(0, -1, ())}
    best: _Way | None = None
    while ways:
        further: dict[tuple[Done, int], _Way] = {}
        for (done, _), way in ways.items():
            if done == end:
                best = way if best is None or way.changes < best.changes else best
                continue
            if best is not None and way.changes + left.bound(done, way.hand) >= best.changes:
                continue
            fronts = _fronts(sheet, done)
            free = [c for c in fronts if not c or c == (way.hand,)]
            for chain in free[:1] or fronts:
                areas = fronts[chain]
                cost = sum(a != b for a, b in zip((way.hand, *chain), chain, strict=False)) - (way.hand < 0 and bool(chain))
                act = Act(tuple(areas), tuple(done[a] for a in areas))
                key = (_after(done, areas), chain[-1] if chain else way.hand)
                other = _Way(way.changes + cost, key[1], (*way.acts, act))
                if key not in further or other.changes < further[key].changes:
                    further[key] = other
        ranked = sorted(further.items(), key=lambda item: left.promise(item[0][0], item[1]))
        ways = dict(ranked[:_KEPT])
    return list(best.acts) if best else []


class _Left:
    """What is still to come after every run of every area, told at once: colours as bits, the longest row, how many runs."""

    def __init__(self, sheet: Sheet) -> None:
        self.anchor = sheet.anchor
        self.ends = [len(runs) for runs in sheet.runs]
        self.rows = [[[c for run in runs[at:] for c in run.chain] for at in range(len(runs) + 1)] for runs in sheet.runs]
        self.bits = [[sum(1 << c for c in set(row)) for row in rows] for rows in self.rows]
        self.turns = [[sum(a != b for a, b in pairwise(row)) + bool(row) for row in rows] for rows in self.rows]

    def bound(self, done: Done, hand: int) -> int:
        """No fewer changes than this are left: the colours still to come, and the longest row of any one area."""
        bits, longest = 0, 0
        for area, at in enumerate(done):
            bits |= self.bits[area][at]
            row = self.rows[area][at]
            longest = max(longest, self.turns[area][at] - (bool(row) and row[0] == hand))
        colours = bits & ~(1 << hand) if hand >= 0 else bits
        return max(colours.bit_count(), longest) - (hand < 0 and bits > 0)

    def promise(self, done: Done, way: _Way) -> tuple[float, int]:
        """How few changes a way is likely to end with, and for how many runs the darkest dark still waits."""
        left = sum(self.ends) - sum(done)
        waits = self.ends[self.anchor] - done[self.anchor] if done else 0
        return (way.changes + self.bound(done, way.hand) + _LIKELY * left / max(len(done), 1), waits)
