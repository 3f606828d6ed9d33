"""Which few colours serve all roles of a study best: a set, grown from nothing and shrunk from what the roles would like, and
mended by exchanges."""

from collections.abc import Callable, Sequence
from dataclasses import dataclass, field, fields

import numpy as np

from caltin_core.colour.tables import Bools, Floats
from caltin_core.recipes.candidates import Candidates
from caltin_core.recipes.padded import NO_COLOUR

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
    """What may serve one role: the scores of stacks (K,), their ΔE00 (K,) and their colours (K, N), as `uses_of` tells them."""

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


def joined(one: Options, other: Options) -> Options:
    """What either may serve a role with."""
    return Options(*(np.concatenate([getattr(one, f.name), getattr(other, f.name)]) for f in fields(Options)))


def uses_of(stacks: Candidates, count: int) -> Floats:
    """Which of so many colours stacks use (K, N): 1 or 0."""
    uses = np.zeros((len(stacks), count), dtype=np.float32)
    rows, at = np.nonzero(stacks.colour != NO_COLOUR)
    uses[rows, stacks.colour[rows, at]] = 1
    return uses


# What sets cost (S,) that serve the roles with such best scores (roles, S).
Toll = Callable[[Floats], Floats]


def weighted(weight: Floats) -> Toll:
    """The sum of all misses, each with its role's weight (roles,); a large miss weighs more than several small ones."""
    return lambda lowest: weight @ (lowest + _WORSE * lowest * np.abs(lowest))


class Choice:
    """Which set of colours serves all roles best: that of the least toll, of at most `most`, with those of `start` (N,)."""

    def __init__(self, options: Sequence[Options], toll: Toll, start: Bools, most: int) -> None:
        self.options, self.toll, self.start, self.most = options, toll, start, most
        self.any = start | np.any([o.uses.any(axis=0) for o in options], axis=0) if options else start

    def best(self) -> Bools:
        """The better of `both`."""
        return min(self.both(), key=self.cost)

    def both(self) -> list[Bools]:
        """What is grown from the fixed colours and what is shrunk from the roles' own wishes, each after exchanges."""
        return [self.exchanged(some) for some in (self.grown(self.start), self._shrunk())]

    def cost(self, chosen: Bools) -> float:
        """What all roles miss within a set (N,)."""
        return float(self._each(chosen[None])[0])

    def _each(self, sets: Bools) -> Floats:
        """The cost of many sets (S, N)."""
        lowest = np.empty((len(self.options), len(sets)))
        missing = (~sets).T.astype(np.float32)
        for role, o in enumerate(self.options):
            lowest[role] = np.where(o.uses @ missing < 0.5, o.score[:, None], _NOTHING).min(axis=0, initial=_NOTHING)
        return self.toll(lowest)

    def _with_each(self, chosen: Bools) -> Floats:
        """The cost with each colour (N,) added."""
        lowest = np.empty((len(self.options), len(chosen)))
        missing = ~chosen
        for role, o in enumerate(self.options):
            lacking = np.rint(o.uses @ missing.astype(np.float32)).astype(int)
            lowest[role] = float(o.score[lacking == 0].min(initial=_NOTHING))
            one = np.flatnonzero(lacking == 1)
            which = np.rint(o.uses[one] @ (missing * np.arange(len(chosen))).astype(np.float32)).astype(int)
            np.minimum.at(lowest[role], which, o.score[one])
        return self.toll(lowest)

    def _without_each(self, chosen: Bools) -> tuple[list[int], Floats]:
        """The colours that may go, and the cost without each."""
        free = np.flatnonzero(chosen & ~self.start).tolist()
        sets = np.repeat(chosen[None], len(free), axis=0)
        sets[np.arange(len(free)), free] = False
        return free, self._each(sets)

    def grown(self, chosen: Bools) -> Bools:
        """The set with colours added while there is room, each time the one that costs least then."""
        chosen = chosen.copy()
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

    def exchanges(self, chosen: Bools) -> tuple[list[int], Floats]:
        """The colours that may go from a set, and what it costs (G, N) with each of those gone and another come."""
        gone = np.flatnonzero(chosen & ~self.start).tolist()
        cost = np.empty((len(gone), len(chosen)))
        for row, colour in enumerate(gone):
            left = chosen.copy()
            left[colour] = False
            cost[row] = np.where(self.any & ~chosen, self._with_each(left), np.inf)
        return gone, cost

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
            for colour, costs in zip(*self.exchanges(chosen), strict=True):
                tries.append((float(costs.min(initial=np.inf)), colour, int(np.argmin(costs))))
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
        outside = self.outside(chosen)
        if not outside:
            return None
        more = chosen.copy()
        more[outside[0]] = True
        return Change(outside[0], self.mean(more, known))

    def outside(self, chosen: Bools) -> list[int]:
        """The colours outside a set that may be of use, those first that would help most."""
        free = self.any & ~chosen
        order = np.argsort(self._with_each(chosen), kind="stable")
        return [int(c) for c in order if free[c]]

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
