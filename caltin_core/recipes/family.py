"""One family of colours for all the roles of a study.

All short stacks are options for every role; which few colours serve all roles best is then a choice of a set: grown from
nothing and shrunk from what the roles would like, and mended by exchanges. Within it the roles are searched in depth; a role
that is served ill then may bring in what it needs, while there is room. What another colour would gain, or one less would
cost, is read from the same options.
"""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field, replace

import numpy as np

from caltin_core.colour.difference import delta_e_2000
from caltin_core.colour.tables import Floats
from caltin_core.errors import BadRequest
from caltin_core.lanes import in_lanes
from caltin_core.media.cautions import cautions
from caltin_core.media.layers import Lay
from caltin_core.media.predict import Workbench
from caltin_core.recipes.candidates import Candidates, joined
from caltin_core.recipes.match import LANE, Match, Searches, Target, chosen_stacks, closer_look, matched, recipes_of
from caltin_core.recipes.rules import NO_COLOUR, Bools, Ints, Rules, lengths
from caltin_core.recipes.search import EVALUATIONS, Search

# How many stacks are looked at for each role within a set; what a set pays where it serves a role not at all, in ΔE00.
_EVALUATIONS = 3500
_NOTHING = 60.0
# A colour that gains less than this (mean ΔE00, weighted) is left in the box: sharing costs nothing.
_WORTH = 0.02
# A large miss weighs more than several small ones; a value beyond this many L* more than a hue.
_WORSE, _VALUE, _VALUE_WEIGHT = 0.1, 1.0, 0.3
# Half of a role's weight is its area, half that it is there at all.
_BY_AREA = 0.5
# How much of an uneven step between neighbours counts, per ΔE of unevenness; a step the wrong way, in L*, and that it is one.
_UNEVEN, _BACKWARDS, _TURNED = 0.15, 1.0, 0.3
# What a layer more must win, in ΔE00: of recipes nobody would tell apart the shorter is laid (common practice).
_LAYER = 0.1
# And one of the colour just laid, when another pressure would have done at once. But no more in all than can hardly be told apart.
_AGAIN, _AT_MOST = 0.3, 0.3
# What a stack that is warned of must win against one of the same colours that is not.
_WARNED = 0.5
_LOOKED_AT, _SWEEPS, _EXCHANGES = 30, 4, 12
# So many of a role's best stacks may bring their colours into the set all at once.
_WISHES = 12
# So many roles that miss by more than this, in ΔE00, are searched once more and deeper.
_DEEPER, _MISSED = 4, 0.3


@dataclass(frozen=True)
class Member:
    """A role in a family: its target, its share of the drawing, the roles it touches, and its recipe where that is pinned."""

    target: Target
    share: float = 1.0
    neighbours: tuple[int, ...] = ()
    pinned: tuple[Lay, ...] | None = None


@dataclass(frozen=True)
class Change:
    """A colour more, or less: its place in the kit, and the mean ΔE00 with it, or without."""

    colour: int
    mean: float


@dataclass(frozen=True)
class Family:
    """The colours with their shares of all layers, largest first; a match for every role; and what one more or less changes."""

    colours: tuple[tuple[int, float], ...]
    matches: tuple[Match, ...]
    mean: float
    one_more: Change | None
    one_less: Change | None


@dataclass
class _Options:
    """What may serve one role: stacks, their scores (K,), ΔE00 (K,) and colours (K, N)."""

    stacks: Candidates
    score: Floats
    away: Floats
    uses: Floats = field(repr=False)

    def within(self, chosen: Bools) -> Bools:
        """Which stacks (K,) use chosen colours (N,) only."""
        out: Bools = (self.uses @ (~chosen).astype(np.float32)) < 0.5
        return out


def family(bench: Workbench, members: Sequence[Member], rules: Rules, keep: frozenset[int] = frozenset()) -> Family:
    """Solve all roles together within `rules.max_colours` different colours.

    `keep` are places of colours that must be among them; pinned recipes stay as they are, and count. Raises BadRequest where
    kept and pinned colours are too many.
    """
    fixed = set(keep) | {x.colour for m in members for x in m.pinned or ()}
    if len(fixed) > rules.max_colours:
        raise BadRequest("rules.max_colours", f"{len(fixed)} colours are kept or pinned, but only {rules.max_colours} may be used")
    each = replace(rules, max_colours=min(rules.max_colours, rules.max_layers))
    open_ = [i for i, m in enumerate(members) if m.pinned is None]
    targets = [m.target for m in members]
    count = len(bench.swatches)
    start = np.isin(np.arange(count), sorted(fixed))
    weight = _weights(members)[open_]
    wide = Searches(bench, targets, each)
    options = {i: _options(wide.of(i)[0], targets[i], count) for i in open_}
    choice = _Choice([options[i] for i in open_], weight, start, rules.max_colours)
    every = ~np.isin(np.arange(count), sorted(each.avoid))
    # Where there is room for the whole kit nothing needs to be left out before it is known what it is worth.
    chosen = start | every if (start | every).sum() <= rules.max_colours else choice.best()
    left_out = frozenset(np.flatnonzero(every & ~chosen).tolist())
    narrow = Searches(bench, targets, replace(each, avoid=each.avoid | left_out)) if left_out else wide
    _deepen(options, narrow, targets, open_, _EVALUATIONS)
    _deepen(options, narrow, targets, _missed(options, chosen, _DEEPER if left_out else 2 * _DEEPER))
    choice = _Choice([options[i] for i in open_], weight, start, rules.max_colours)
    chosen = choice.pruned(choice.exchanged(chosen))
    if left_out and chosen.sum() < rules.max_colours:
        _deepen(options, wide, targets, _missed(options, chosen, _DEEPER))
        choice = _Choice([options[i] for i in open_], weight, start, rules.max_colours)
        chosen = choice.pruned(choice.widened(chosen))
    found = _settled(bench, members, options, wide, chosen)
    used = start | np.isin(np.arange(count), [x.colour for m in found for r in m.recipes[:1] for x in r.layers])
    # Nothing is offered beside that would bring in a colour the family can do without.
    found = [replace(m, recipes=tuple(r for r in m.recipes if all(used[x.colour] for x in r.layers))) for m in found]
    known = [0.0 if not found[i].recipes else found[i].recipes[0].difference.de00 for i in range(len(members)) if i not in options]
    mean = _mean(found)
    # What is settled steps evenly, in few layers that nothing warns of; what is only counted from the options need not.
    beyond = mean - choice.mean(used, known)
    more, less = (
        change and replace(change, mean=max(change.mean + beyond, 0.0))
        for change in (choice.one_more(used, known), choice.one_less(used, known))
    )
    return Family(_shares(members, found, fixed), tuple(found), mean, more, less)


def _missed(options: Mapping[int, _Options], chosen: Bools, most: int) -> list[int]:
    """The few roles that a set serves worst, of those it serves ill."""
    miss = {i: float(o.score[o.within(chosen)].min(initial=_NOTHING)) for i, o in options.items()}
    return [i for i in sorted(options, key=lambda i: -miss[i])[:most] if miss[i] > _MISSED]


def _weights(members: Sequence[Member]) -> Floats:
    share = np.array([max(m.share, 0.0) for m in members])
    share = share / share.sum() if share.sum() > 0 else np.full(len(members), 1 / max(len(members), 1))
    return _BY_AREA * share + (1 - _BY_AREA) / max(len(members), 1)


def _options(search: Search, target: Target, count: int) -> _Options:
    return _told(search, target, search.short(target.lab), count)


def _told(search: Search, target: Target, stacks: Candidates, count: int) -> _Options:
    uses = np.zeros((len(stacks), count), dtype=np.float32)
    rows, at = np.nonzero(stacks.colour != NO_COLOUR)
    uses[rows, stacks.colour[rows, at]] = 1
    beyond = np.maximum(np.abs(stacks.lab[:, 0] - target.lab[0]) - _VALUE, 0)
    score = search.score(stacks, target.lab) + _VALUE_WEIGHT * beyond
    return _Options(stacks, score, delta_e_2000(target.lab, stacks.lab) if len(stacks) else np.empty(0), uses)


def _deepen(
    options: dict[int, _Options], searches: Searches, targets: Sequence[Target], roles: Sequence[int], most: int = EVALUATIONS
) -> None:
    """Search some roles in depth, and join what is found to their options."""
    asked = [(searches.of(i)[0], targets[i]) for i in roles]
    found = in_lanes(lambda some: [search.find(target.lab, most) for search, target in some], asked, LANE)
    for i, (search, target), more in zip(roles, asked, found, strict=True):
        options[i] = _more(options[i], search, target, more)


def _more(options: _Options, search: Search, target: Target, found: Candidates) -> _Options:
    if len(found) == 0:
        return options
    other = _told(search, target, found, options.uses.shape[1])
    return _Options(
        joined([other.stacks, options.stacks]), np.concatenate([other.score, options.score]),
        np.concatenate([other.away, options.away]), np.concatenate([other.uses, options.uses]),
    )  # fmt: skip


class _Choice:
    """Which set of colours serves all roles best."""

    def __init__(self, options: Sequence[_Options], weight: Floats, start: Bools, most: int) -> None:
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


def _settled(
    bench: Workbench, members: Sequence[Member], options: Mapping[int, _Options], searches: Searches, chosen: Bools
) -> list[Match]:
    """A match for every role within the chosen colours, so that neighbours step evenly and in order."""
    pools: dict[int, Candidates] = {}
    scores: dict[int, Floats] = {}
    labs: dict[int, Floats] = {}
    for i, o in options.items():
        search, target = searches.of(i)[0], members[i].target
        rows = np.flatnonzero(o.within(chosen))
        rows = rows[np.argsort(o.score[rows], kind="stable")]
        pools[i] = closer_look(bench, search, target, o.stacks.take(_first_of(o.stacks.take(rows), rows)[:300]))
        stacks = (pools[i].layers(at, search.fast.coats) for at in range(len(pools[i])))
        warned = _WARNED * np.array([bool(cautions(bench, layers)) for layers in stacks])
        order = np.argsort(search.score(pools[i], target.lab) + warned, kind="stable")
        pools[i] = pools[i].take(order)
        score = _told(search, target, pools[i], len(bench.swatches)).score + _work(pools[i].colour) + warned[order]
        scores[i], labs[i] = score[:_LOOKED_AT], pools[i].lab[:_LOOKED_AT]
    row = {i: int(np.argmin(s)) if len(s) else 0 for i, s in scores.items()}
    pinned = [(i, m) for i, m in enumerate(members) if m.pinned]
    told = recipes_of(bench, [({"closest": m.pinned or ()}, m.target, searches.of(i)[1]) for i, m in pinned])
    fixed = {i: recipes for (i, _), recipes in zip(pinned, told, strict=True)}
    for _ in range(_SWEEPS):
        before = dict(row)
        for i in options:
            if len(scores[i]):
                cost = scores[i].copy()
                for j in members[i].neighbours:
                    there = fixed[j][0].prediction.lab if j in fixed else labs[j][row[j]] if j in labs and len(labs[j]) else None
                    if there is not None:
                        cost = cost + _step(labs[i], there, members[i].target.lab, members[j].target.lab)
                row[i] = int(np.argmin(cost))
        if row == before:
            break
    offered = [
        chosen_stacks(bench, searches.of(i)[0], members[i].target, searches.of(i)[1], pools[i], row[i] if len(pools[i]) else None)
        for i in options
    ]
    found = recipes_of(bench, [(s, members[i].target, searches.of(i)[1]) for s, i in zip(offered, options, strict=True)])
    every = fixed | dict(zip(options, found, strict=True))
    return [matched(bench, searches.of(i)[0], m.target, searches.of(i)[1], every[i]) for i, m in enumerate(members)]


def _work(colour: Ints) -> Floats:
    """What the layers of stacks (B, L) must win (B,)."""
    again = ((colour[:, 1:] == colour[:, :-1]) & (colour[:, 1:] != NO_COLOUR)).sum(axis=1)
    out: Floats = np.minimum(_LAYER * lengths(colour) + _AGAIN * again, _AT_MOST)
    return out


def _first_of(stacks: Candidates, rows: Ints) -> Ints:
    """Those of `rows`, in their order, whose stacks were not there before."""
    both = np.concatenate([stacks.colour, stacks.stroke], axis=1)
    _, first = np.unique(both, axis=0, return_index=True)
    return rows[np.sort(first)]


def _step(labs: Floats, there: Floats, mine: Floats, theirs: Floats) -> Floats:
    """What an uneven step, or one the wrong way, adds (B,) to colours (B, 3) beside a neighbour's colour (3,)."""
    wanted, seen = mine - theirs, labs - there
    uneven = np.linalg.norm((seen - wanted) * [1.0, 0.5, 0.5], axis=-1)
    wrong = np.maximum(-seen[:, 0] * np.sign(wanted[0]), 0) if abs(wanted[0]) > _BACKWARDS else np.zeros(len(labs))
    out: Floats = _UNEVEN * uneven + _BACKWARDS * wrong + _TURNED * (wrong > 0)
    return out


def _mean(found: Sequence[Match]) -> float:
    away = [m.recipes[0].difference.de00 for m in found if m.recipes]
    return float(np.mean(away)) if away else 0.0


def _shares(members: Sequence[Member], found: Sequence[Match], fixed: set[int]) -> tuple[tuple[int, float], ...]:
    """How much of all that is laid each colour makes up, by area and passes."""
    amount = dict.fromkeys(sorted(fixed), 0.0)
    for m, match in zip(members, found, strict=True):
        layers = match.recipes[0].layers if match.recipes else ()
        passes = sum(x.stroke.passes for x in layers)
        for x in layers:
            amount[x.colour] = amount.get(x.colour, 0.0) + max(m.share, 0.0) * x.stroke.passes / passes
    whole = sum(amount.values()) or 1.0
    return tuple((c, a / whole) for c, a in sorted(amount.items(), key=lambda p: (-p[1], p[0])))
