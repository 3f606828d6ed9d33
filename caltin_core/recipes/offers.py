"""Which of the candidates for a target to offer: the closest, one of fewer colours, one that is softer on the paper, and the one
that is plain and sure.

Of recipes that miss alike the one to lay is the one that will come out: surer, with less work, and without specks of a colour far
from the tone. What is nearest on paper that nobody measured is as often as not what the prediction errs most about.
"""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from functools import cached_property
from typing import Literal

import numpy as np

from caltin_core.colour.tables import Bools, Floats, Ints
from caltin_core.media.cautions import fresh_cautions
from caltin_core.media.layers import Lay
from caltin_core.media.predict import Prediction, predict
from caltin_core.media.workbench import Workbench
from caltin_core.recipes.candidates import Candidates, effort, effort_of, misses
from caltin_core.recipes.padded import count_colours, lengths
from caltin_core.recipes.reach import all_in_reach
from caltin_core.recipes.rules import Rules
from caltin_core.recipes.search import Search
from caltin_core.recipes.targets import Target

Kind = Literal["closest", "fewest", "softest", "plainest"]
Offered = Mapping[Kind, tuple[tuple[Lay, ...], Prediction]]
# So much nearer (ΔE00) nobody sees, and a surer recipe is taken for the closest; of a small kit or of few layers, where the best
# there is can be told, it is that within much less.
_EQUAL, _EQUAL_OF_FEW = 0.3, 0.04
# An alternative may miss by this much more than the closest and still be offered; a plainer one by more.
_ALTERNATIVE, _FEWER = 1.5, 4.0
# So many that may be the closest are predicted with their doubts, and so many of every other kind: these are weighed by more before
# they are predicted, and the best of sixteen was the best of forty in every one of 64 roles of faces.
_WEIGHED, _BESIDE = 40, 16
# What a recipe is worth, in layers of work: a ΔE00 of what it may be expected to miss by, an L* of specks, a full tooth.
MISSED, SPECKLED, _FILLED = 2.0, 0.25, 1.0
# Skin of a single colour looks like a cartoon; every further colour to find, sharpen and put down is a layer of work where one is
# proposed (common practice).
COLOURS, ANOTHER = 2, 1.0
# What a warning counts as, in ΔE00 of what may be missed.
_WARNED = 2.0
# More than any recipe costs.
_NEVER = 1000.0
# The softest is the one with the least tooth used; in shares of the tooth, what else it is weighed by.
_SOFT_WORK, _SOFT_MISSED, _SOFT_SPECKLED = 0.02, 0.06, 0.02


@dataclass(frozen=True)
class Found:
    """What a search found for one target under its rules: candidates, best first; `first` is the row to begin with, if that is
    settled already. Rows that were predicted in full are kept in `seen`."""

    search: Search
    target: Target
    rules: Rules
    candidates: Candidates
    first: int | None = None
    seen: dict[int, Prediction] = field(default_factory=dict, repr=False)

    def layers(self, row: int) -> tuple[Lay, ...]:
        """The layers of one candidate."""
        return self.candidates.layers(row, self.search.fast.coats)

    @cached_property
    def miss(self) -> Floats:
        """What the candidates miss by (B,), by the goal of the rules."""
        return misses(self.candidates.lab, self.target.lab, self.rules)

    @cached_property
    def work(self) -> Floats:
        """The work in each (B,), in layers."""
        return effort(self.candidates)

    @cached_property
    def plainness(self) -> Floats:
        """The work in each, with what its specks count and a full tooth (B,), in layers."""
        out: Floats = self.work + SPECKLED * self.candidates.specks + _FILLED * self.candidates.used
        return out

    @cached_property
    def burden(self) -> Floats:
        """What awkward or spared sticks add to each (B,), in ΔE00, less what preferred ones are worth."""
        out: Floats = self.search.handling(self.candidates) - self.search.liking(self.candidates)
        return out

    @cached_property
    def colours(self) -> Ints:
        """How many colours each takes (B,)."""
        return count_colours(self.candidates.colour)

    @cached_property
    def softness(self) -> Floats:
        """How little each asks of the paper (B,): tooth used, and a layer counts a little too."""
        out: Floats = self.candidates.used + 0.01 * lengths(self.candidates.colour)
        return out

    @cached_property
    def reached(self) -> Bools:
        """Which are near enough to the target to count as met (B,)."""
        return all_in_reach(self.candidates.lab, self.target.lab, self.rules)

    @cached_property
    def closest(self) -> Ints:
        """The rows of which one is to be the closest, the plainest first."""
        if self.first is not None:
            return np.array([self.first], dtype=np.intp)
        burdened = self.miss + self.burden
        alike = burdened <= burdened.min() + (_EQUAL_OF_FEW if self.search.countable else _EQUAL)
        equal = np.flatnonzero(alike & self.reached if (alike & self.reached).any() else alike)
        out: Ints = equal[np.argsort(self.plainness[equal], kind="stable")]
        return out

    def _schooled(self, rows: Ints, closest: Ints) -> Ints:
        """Of some rows those that leave out no more that the school wants than the `closest` do; all where there is none."""
        left = self.search.left_out(self.candidates.colour, self.candidates.stroke)
        mine: Ints = rows[left[rows] <= left[closest].max(initial=0)]
        return mine if mine.size else rows

    def fewest(self, closest: Ints) -> Ints:
        """The rows of which one may be offered for its few colours beside one of the `closest`, none nearer; the plainest first."""
        nearest = self.miss[closest].min()
        fewer = np.flatnonzero((self.colours < self.colours[closest].max()) & (self.miss >= nearest))
        for slack in (_ALTERNATIVE, _FEWER):
            near = fewer[self.miss[fewer] <= nearest + slack]
            if near.size:
                near = self._schooled(near, closest)
                least = near[self.colours[near] == self.colours[near].min()]
                out: Ints = least[np.argsort(self.plainness[least] + MISSED * self.miss[least], kind="stable")]
                return out
        return fewer[:0]

    def softest(self, closest: Ints) -> Ints:
        """The rows of which one may be offered for its soft layers beside one of the `closest`, none nearer; the softest first."""
        nearest = self.miss[closest].min()
        near = np.flatnonzero(
            (self.miss >= nearest) & (self.miss <= nearest + _ALTERNATIVE) & (self.softness < 0.9 * self.softness[closest].max())
        )
        near = self._schooled(near, closest)
        rest = _SOFT_WORK * self.work[near] + _SOFT_SPECKLED * self.candidates.specks[near]
        out: Ints = near[np.argsort(self.softness[near] + rest, kind="stable")]
        return out

    def plainest(self, closest: Ints) -> Ints:
        """The rows of which one may be offered for being plain and sure beside one of the `closest`, none nearer, of two colours at
        least where there are such; the plainest first."""
        nearest, met = self.miss[closest].min(), self.reached[closest].any()
        near = np.flatnonzero((self.miss >= nearest) & (self.miss <= nearest + _ALTERNATIVE) & (self.reached | (not met)))
        near = self._schooled(near, closest)
        near = near[paired] if (paired := self.colours[near] >= COLOURS).any() else near
        by = burden(self.work, self.colours, self.miss, self.candidates.specks) + self.candidates.used
        out: Ints = near[np.argsort(by[near], kind="stable")]
        return out


def offers(bench: Workbench, found: Sequence[Found]) -> list[Offered]:
    """The stacks to offer for every target, with what each will look like."""
    looked = [(f, _short(f)) for f in found]
    chosen = [_chosen(bench, f, rows, *told) for (f, rows), told in zip(looked, promises(bench, looked), strict=True)]
    return [{kind: (f.layers(row), f.seen[row]) for kind, row in rows.items()} for f, rows in zip(found, chosen, strict=True)]


def promises(bench: Workbench, looked: Sequence[tuple[Found, Ints]]) -> list[tuple[Floats, Floats]]:
    """Of rows (K,) of what was found for targets: what they may be expected to miss by, ΔE00 (K,), and their specks, L* (K,)."""
    asked = [(f, row) for f, rows in looked for row in rows.tolist() if row not in f.seen]
    told = predict(bench, [f.layers(row) for f, row in asked], starts=[f.target.start for f, _ in asked])
    for (f, row), seen in zip(asked, told, strict=True):
        f.seen[row] = seen
    out = []
    for f, rows in looked:
        mine = [f.seen[row] for row in rows.tolist()]
        missed = misses(np.array([p.lab for p in mine]).reshape(-1, 3), f.target.lab, f.rules)
        # Independent errors add in squares.
        likely = np.hypot(missed, [p.uncertainty for p in mine])
        out.append((likely, np.array([speckle(p.grain_lab) for p in mine])))
    return out


def _short(found: Found) -> Ints:
    """The rows to be weighed: of each kind the first few."""
    if not len(found.candidates):
        return np.empty(0, dtype=np.intp)
    closest = found.closest[:_WEIGHED]
    others = (kind(closest)[:_BESIDE] for kind in (found.fewest, found.softest, found.plainest))
    out: Ints = np.unique(np.concatenate([closest, *others]))
    return out


def _chosen(bench: Workbench, found: Found, rows: Ints, promised: Floats, specks: Floats) -> dict[Kind, int]:
    """One of the weighed rows for each kind, where there is one."""
    if not rows.size:
        return {}
    likely = np.full(len(found.miss), np.nan)
    speckled = likely.copy()
    likely[rows], speckled[rows] = promised, specks
    cost = found.work + MISSED * (likely + found.burden) + SPECKLED * speckled + _FILLED * found.candidates.used
    soft = found.softness + _SOFT_WORK * found.work + _SOFT_MISSED * likely + _SOFT_SPECKLED * speckled
    warned = [r for r in rows.tolist() if fresh_cautions(bench, found.target.before, found.layers(r), of_skin=found.target.skin)]
    cost[warned] += MISSED * _WARNED
    soft[warned] += _SOFT_MISSED * _WARNED

    def best(among: Ints, by: Floats) -> list[int]:
        """The least of the weighed ones, or nothing."""
        weighed = among[np.isin(among, rows)]
        return [int(weighed[np.argmin(by[weighed])])] if weighed.size else []

    def taken() -> list[tuple[Lay, ...]]:
        return [found.layers(row) for row in chosen.values()]

    chosen: dict[Kind, int] = {"closest": best(found.closest, cost)[0] if found.first is None else found.first}
    settled = np.array([chosen["closest"]])
    for row in best(found.fewest(settled), cost):
        chosen["fewest"] = row
    softest = np.array([row for row in found.softest(settled).tolist() if found.layers(row) not in taken()], dtype=np.intp)
    for row in best(softest, soft):
        chosen["softest"] = row
    doubt, work = np.full((2, len(found.miss)), np.nan)
    doubt[rows] = [found.seen[row].uncertainty for row in rows.tolist()]
    work[rows] = [effort_of(found.layers(row)) for row in rows.tolist()]
    plain = burden(work, found.colours, found.miss + found.burden + doubt, speckled)
    plain[warned] += _NEVER
    for row in best(found.plainest(settled), plain):
        if found.layers(row) not in taken():
            chosen["plainest"] = row
    return chosen


def burden(work: Floats, colours: Ints, missed: Floats, specks: Floats) -> Floats:
    """What recipes cost (B,) where one is to be proposed, in layers of work: of so much work and so many colours, which may be off
    by so much (what they miss by and their doubt, ΔE00) and show such specks (L*)."""
    out: Floats = work + ANOTHER * np.maximum(colours - COLOURS, 0) + MISSED * missed + SPECKLED * specks
    return out


def speckle(grain: Floats) -> float:
    """How much specks show: by what the depths of the tooth, Lab (Q, 3), differ from their mean; L*, in which the eye sees finer
    than in hue, counts twice."""
    apart = (grain - grain.mean(axis=0)) * [1.0, 0.5, 0.5]
    return float(np.sqrt((apart**2).sum(axis=1).mean()))
