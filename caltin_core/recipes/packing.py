"""Which few colours of a kit to take along for many tones: so that the worst served is served best, then all on the whole.

All short stacks, and what a search of the whole kit finds, say what each tone may be made of. The set is chosen from these
(`choice`); then the tones that it serves worst are sought within it, and the choice is made anew, with sets beside it that may
turn out better. What is chosen in the end is matched in full. Tones for which nothing may be laid are left out of account.
"""

from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np

from caltin_core.colour.difference import delta_e_2000
from caltin_core.colour.tables import Bools, Floats
from caltin_core.errors import BadRequest
from caltin_core.lanes import in_lanes, lanes
from caltin_core.media.workbench import Workbench
from caltin_core.recipes.candidates import Candidates, misses
from caltin_core.recipes.choice import Choice, Options, Toll, joined, uses_of
from caltin_core.recipes.match import LANE, Match, Searches, all_matches, closer_look
from caltin_core.recipes.rules import Rules, usable
from caltin_core.recipes.search import EVALUATIONS
from caltin_core.recipes.targets import Target

# How many stacks are looked at for each tone, where a search is brief, as it may be among more than a few colours.
_BRIEFLY, _FEW = 3500, 6
# So many sets are looked at closely: those that may cost less than the best, because they seem to cost at most so many times as
# much, and so much, in ΔE00, beside. What few colours come to is known badly before it was looked at.
_LOOKS, _MAY_GAIN, _MAY_GAIN_FEW = 12, (1.0, 0.5), (2.0, 2.0)
# Where the whole kit would serve the worst target better by less than this nobody would see a better set.
_UNSEEN = 0.3
# Sets grow by a mean in which large misses count by this power; what the mean weighs beside the worst, once colours are exchanged.
_POWER, _MEAN = 6, 0.01
# Of so many colours beside the set it is looked at closely what they would bring.
_BESIDE = 3


@dataclass(frozen=True)
class Further:
    """A colour more: its place in the kit, and the ΔE00 of the worst served tone with it."""

    colour: int
    worst: float


@dataclass(frozen=True)
class Packed:
    """The colours to take, in the kit's order; ΔE00 of the worst served tone and of all on the whole; a match for every tone
    within them; and the colour to take next, where any is left."""

    colours: tuple[int, ...]
    worst: float
    mean: float
    matches: tuple[Match, ...]
    next_best: Further | None


def choose(
    bench: Workbench, targets: Sequence[Target], count: int, rules: Rules | None = None, keep: frozenset[int] = frozenset()
) -> Packed:
    """Choose `count` colours for all targets, those of `keep` (places in the kit) among them.

    Where no more may be used, all are taken. Raises BadRequest where more are kept than may be taken.
    """
    rules = rules or Rules()
    if len(keep) > count:
        raise BadRequest("count", f"{len(keep)} colours are to be kept, but only {count} may be taken")
    size = len(bench.swatches)
    start = np.isin(np.arange(size), sorted(keep))
    every = start | np.isin(np.arange(size), usable(bench, rules))
    if every.sum() <= count:
        return _packed(every, all_matches(bench, targets, rules), None)
    packing = _Packing(bench, targets, rules, start, count)
    chosen = packing.settled()
    found = all_matches(bench, targets, packing.within(chosen))
    return _packed(chosen, found, packing.further(chosen, found))


def _packed(chosen: Bools, found: Sequence[Match], further: Further | None) -> Packed:
    away = [m.recipes[0].difference.de00 for m in found if m.recipes]
    colours = tuple(np.flatnonzero(chosen).tolist())
    return Packed(colours, max(away, default=0.0), float(np.mean(away)) if away else 0.0, tuple(found), further)


class _Packing:
    """What each target may be made of, as far as it is known."""

    def __init__(self, bench: Workbench, targets: Sequence[Target], rules: Rules, start: Bools, count: int) -> None:
        self.bench, self.targets, self.rules, self.start, self.count = bench, targets, rules, start, count
        few = count <= _FEW
        # Of a few colours what can be laid is found by a search in depth only.
        self.most = EVALUATIONS if few else _BRIEFLY
        self.times, self.beside = _MAY_GAIN_FEW if few else _MAY_GAIN
        wide = Searches(bench, targets, rules)
        self.options = in_lanes(lambda some: [self._known(wide, i) for i in some], range(len(targets)), LANE)

    def within(self, chosen: Bools) -> Rules:
        """The rules with what is not chosen left out."""
        return replace(self.rules, avoid=self.rules.avoid | frozenset(np.flatnonzero(~chosen).tolist()))

    def settled(self) -> Bools:
        """The best of the sets that were looked at closely: what is best as far as is known, and what may turn out better."""
        looked: list[Bools] = []
        sharp = self._choice(_sharp)
        while len(looked) < _LOOKS and (fresh := self._worth_a_look(looked)) is not None:
            self._look(fresh, min((sharp.cost(some) for some in looked), default=np.inf))
            looked.append(fresh)
        return min(looked, key=sharp.cost)

    def _worth_a_look(self, looked: Sequence[Bools]) -> Bools | None:
        """The best set, if it was not looked at, or of those with one colour exchanged the best that was not."""
        known = {some.tobytes() for some in looked}
        best = self._best()
        if best.tobytes() not in known:
            return best
        sharp = self._choice(_sharp)
        least = sharp.cost(best)
        if least <= _UNSEEN + sharp.cost(np.ones_like(best)):
            return None
        gone, cost = sharp.exchanges(best)
        for at in np.argsort(cost, axis=None, kind="stable")[: len(looked) + 1]:
            row, come = np.unravel_index(at, cost.shape)
            if cost[row, come] > self.times * least + self.beside:
                break
            other = best.copy()
            other[gone[row]], other[come] = False, True
            if other.tobytes() not in known:
                return other
        return None

    def further(self, chosen: Bools, found: Sequence[Match]) -> Further | None:
        """The colour beside a set that would help its worst served target most."""
        away = np.array([m.recipes[0].difference.de00 if m.recipes else 0.0 for m in found])
        beside = self._choice(_soft).outside(chosen)[:_BESIDE]
        if not beside:
            return None
        worst = [self._worst_with(chosen, c, away) for c in beside]
        return Further(beside[int(np.argmin(worst))], min(worst))

    def _worst_with(self, chosen: Bools, colour: int, away: Floats) -> float:
        """What the worst served target is missed by with one colour more. No target is served worse than without it: so once one
        stays worse than what the others are missed by already, those need not be looked at."""
        more = chosen.copy()
        more[colour] = True
        searches = Searches(self.bench, self.targets, self.within(more))
        worst = 0.0
        for i in np.argsort(-away, kind="stable"):
            if away[i] <= worst:
                break
            found = self._sought(searches, int(i))
            nearest = float(delta_e_2000(self.targets[i].lab, found.lab[0])) if len(found) else np.inf
            worst = max(worst, min(float(away[i]), nearest))
        return worst

    def _best(self) -> Bools:
        """The best set, as far as is known: grown and exchanged by a mean, then exchanged by the worst."""
        soft, sharp = self._choice(_soft), self._choice(_sharp)
        return min((sharp.exchanged(soft.grown(some)) for some in soft.both()), key=sharp.cost)

    def _choice(self, toll: Toll) -> Choice:
        return Choice(self.options, toll, self.start, self.count)

    def _look(self, chosen: Bools, unless: float) -> None:
        """Seek the targets that a set serves worst within it, until what is left is served better than one of those, or one is
        served worse than `unless`."""
        searches = Searches(self.bench, self.targets, self.within(chosen))
        miss = np.array([o.best_within(chosen) for o in self.options])
        order = np.argsort(-miss, kind="stable").tolist()
        worst = 0.0
        while order and worst < min(miss[order[0]], unless):
            now, order = order[: lanes()], order[lanes() :]
            for i, more in zip(now, in_lanes(lambda some: [self._sought(searches, at) for at in some], now), strict=True):
                self.options[i] = joined(self.options[i], self._options(i, more))
                worst = max(worst, self.options[i].best_within(chosen))

    def _known(self, wide: Searches, index: int) -> Options:
        """What all short stacks, and a search of the whole kit, come to for a target."""
        search, lab = wide.of(index)[0], self.targets[index].lab
        short = search.library.take(search.legal_rows)
        return joined(self._options(index, short), self._options(index, search.find(lab, _BRIEFLY)))

    def _sought(self, searches: Searches, index: int) -> Candidates:
        search, target = searches.of(index)[0], self.targets[index]
        return closer_look(self.bench, search, target, search.find(target.lab, self.most))

    def _options(self, index: int, stacks: Candidates) -> Options:
        """Of all stacks for a target the nearest of every set of colours."""
        away = misses(stacks.lab, self.targets[index].lab, self.rules)
        order = np.argsort(away, kind="stable")
        # Sorted, so that what is of the same colours is alike whatever their order.
        _, first = np.unique(np.sort(stacks.colour[order].astype(np.int16), axis=1), axis=0, return_index=True)
        rows = order[first]
        return Options(away[rows], away[rows], uses_of(stacks.take(rows), len(self.start)))


def _soft(lowest: Floats) -> Floats:
    out: Floats = (lowest**_POWER).mean(axis=0) ** (1 / _POWER)
    return out


def _sharp(lowest: Floats) -> Floats:
    out: Floats = lowest.max(axis=0) + _MEAN * lowest.mean(axis=0)
    return out
