"""Which few colours serve all roles of a study best: a set, grown from nothing and shrunk from what the roles would like, and
mended by exchanges."""

from collections.abc import Sequence
from dataclasses import dataclass, field

import numpy as np

from caltin_core.colour.tables import Bools, Floats
from caltin_core.recipes.candidates import Candidates

# What a set pays where it serves a role not at all, in ΔE00.
_NOTHING = 60.0
# A colour that gains less than this (mean ΔE00, weighted) is left in the box: sharing costs nothing.
_WORTH = 0.02
# A large miss weighs more than several small ones.
_WORSE = 0.1
_EXCHANGES = 12
# So many of a role's best stacks may bring their colours into the set all at once.
_WISHES = 12


@dataclass(frozen=True)
class Change:
    """A colour more, or less: its place in the kit, and the mean ΔE00 with it, or without."""

    colour: int
    mean: float


@dataclass
class Options:
    """What may serve one role: stacks, their scores (K,), ΔE00 (K,) and colours (K, N)."""

    stacks: Candidates
    score: Floats
    away: Floats
    uses: Floats = field(repr=False)

    def within(self, chosen: Bools) -> Bools:
        """Which stacks (K,) use chosen colours (N,) only."""
        out: Bools = (self.uses @ (~chosen).astype(np.float32)) < 0.5
        return out

    def best_within(self, chosen: Bools) -> float:
        """The best score of those stacks."""
        return float(self.score[self.within(chosen)].min(initial=_NOTHING))


class Choice:
    """Which set of colours serves all roles best."""

    def __init__(self, options: Sequence[Options], weight: Floats, start: Bools, most: int) -> None:
        self.options, self.weight, self.start, self.most = options, weight, start, most
        self.any = start | np.any([o.uses.any(axis=0) for o in options], axis=0) if options else start

    def best(self) -> Bools:
        """The better of what is grown from the fixed colours and what is shrunk from the roles' own wishes."""
        sets = [self.exchanged(self._grown()), self.exchanged(self._shrunk())]
        return min(sets, key=self.cost)

    def cost(self, chosen: Bools) -> float:
        """The weighted miss of all roles within a set (N,)."""
        return float(self._each(chosen[None])[0])

    def _each(self, sets: Bools) -> Floats:
        """The cost of many sets (S, N)."""
        out = np.zeros(len(sets))
        missing = (~sets).T.astype(np.float32)
        for o, w in zip(self.options, self.weight, strict=True):
            lowest = np.where(o.uses @ missing < 0.5, o.score[:, None], _NOTHING).min(axis=0, initial=_NOTHING)
            out += w * _worse(lowest)
        return out

    def _with_each(self, chosen: Bools) -> Floats:
        """The cost with each colour (N,) added."""
        out = np.zeros(len(chosen))
        missing = ~chosen
        for o, w in zip(self.options, self.weight, strict=True):
            lacking = np.rint(o.uses @ missing.astype(np.float32)).astype(int)
            lowest = np.full(len(chosen), float(o.score[lacking == 0].min(initial=_NOTHING)))
            one = np.flatnonzero(lacking == 1)
            which = np.argmax(o.uses[one] * missing, axis=1)
            np.minimum.at(lowest, which, o.score[one])
            out += w * _worse(lowest)
        return out

    def _without_each(self, chosen: Bools) -> tuple[list[int], Floats]:
        """The colours that may go, and the cost without each."""
        free = np.flatnonzero(chosen & ~self.start).tolist()
        sets = np.repeat(chosen[None], len(free), axis=0)
        sets[np.arange(len(free)), free] = False
        return free, self._each(sets)

    def _grown(self) -> Bools:
        chosen = self.start.copy()
        while chosen.sum() < self.most and (self.any & ~chosen).any():
            cost = np.where(chosen | ~self.any, np.inf, self._with_each(chosen))
            chosen[int(np.argmin(cost))] = True
        return chosen

    def _shrunk(self) -> Bools:
        chosen = self.start.copy()
        for o in self.options:
            if len(o.score):
                chosen |= o.uses[int(np.argmin(o.score))] > 0
        while chosen.sum() > self.most:
            free, cost = self._without_each(chosen)
            chosen[free[int(np.argmin(cost))]] = False
        return chosen

    def exchanged(self, chosen: Bools) -> Bools:
        """The set after exchanges that help, one colour for another, and after what there is room for."""
        chosen = chosen.copy()
        best = self.cost(chosen)
        for _ in range(_EXCHANGES):
            tries: list[tuple[float, int, int]] = []
            free = self.any & ~chosen
            if not free.any():
                break
            if chosen.sum() < self.most:
                cost = np.where(free, self._with_each(chosen), np.inf)
                tries.append((float(cost.min(initial=np.inf)), -1, int(np.argmin(cost))))
            for gone in np.flatnonzero(chosen & ~self.start).tolist():
                left = chosen.copy()
                left[gone] = False
                cost = np.where(free, self._with_each(left), np.inf)
                tries.append((float(cost.min(initial=np.inf)), gone, int(np.argmin(cost))))
            if not tries or min(tries)[0] > best - 1e-3:
                break
            best, gone, come = min(tries)
            if gone >= 0:
                chosen[gone] = False
            chosen[come] = True
        return chosen

    def widened(self, chosen: Bools) -> Bools:
        """The set with all colours at once of stacks that are worth them, while there is room: two may help that do not alone."""
        while True:
            wished = [chosen | (o.uses[row] > 0) for o in self.options for row in np.argsort(o.score, kind="stable")[:_WISHES]]
            sets = np.unique([chosen, *(s for s in wished if s.sum() <= self.most)], axis=0)
            cost = self._each(sets) + _WORTH * sets.sum(axis=1)
            best = sets[int(np.argmin(cost))]
            if cost.min() > self.cost(chosen) + _WORTH * chosen.sum() - 1e-3:
                return chosen
            chosen = best

    def pruned(self, chosen: Bools) -> Bools:
        """The set without colours that are worth nothing."""
        chosen = chosen.copy()
        while True:
            free, cost = self._without_each(chosen)
            if not free or chosen.sum() == 1 or cost.min() > self.cost(chosen) + _WORTH:
                return chosen
            chosen[free[int(np.argmin(cost))]] = False

    def one_more(self, chosen: Bools, known: Sequence[float]) -> Change | None:
        """The colour outside that would help most."""
        free = self.any & ~chosen
        if not free.any():
            return None
        cost = np.where(free, self._with_each(chosen), np.inf)
        more = chosen.copy()
        more[int(np.argmin(cost))] = True
        return Change(int(np.argmin(cost)), self.mean(more, known))

    def one_less(self, chosen: Bools, known: Sequence[float]) -> Change | None:
        """The colour that could be spared best."""
        free, cost = self._without_each(chosen)
        if not free or chosen.sum() == 1:
            return None
        less = chosen.copy()
        gone = free[int(np.argmin(cost))]
        less[gone] = False
        return Change(gone, self.mean(less, known))

    def mean(self, chosen: Bools, known: Sequence[float]) -> float:
        """The mean ΔE00 of the best options within a set, and of the roles whose miss is known."""
        away = list(known)
        for o in self.options:
            inside = np.flatnonzero(o.within(chosen))
            away.append(float(o.away[inside[np.argmin(o.score[inside])]]) if inside.size else _NOTHING)
        return float(np.mean(away)) if away else 0.0


def _worse(miss: Floats) -> Floats:
    return miss + _WORSE * miss * np.abs(miss)
