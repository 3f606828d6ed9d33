"""One family of colours for all the roles of a study.

All short stacks are options for every role; which few colours serve all roles best is then a choice of a set (`choice`). Within
it the roles are searched in depth; a role that is served ill then may bring in what it needs, while there is room. What another
colour would gain, or one less would cost, is read from the same options.
"""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace

import numpy as np

from caltin_core.colour.difference import delta_e_2000
from caltin_core.colour.tables import Bools, Floats, Ints
from caltin_core.errors import BadRequest
from caltin_core.lanes import in_lanes
from caltin_core.media.cautions import fresh_cautions, overfull
from caltin_core.media.layers import Lay
from caltin_core.media.workbench import Workbench
from caltin_core.recipes.candidates import Candidates, joined, misses
from caltin_core.recipes.choice import Change, Choice, Options, uses_of, weighted
from caltin_core.recipes.match import LANE, Match, Searches, closer_look, matched, recipe_of, recipes_of
from caltin_core.recipes.offers import Found, offers, promises
from caltin_core.recipes.padded import NO_COLOUR, lengths
from caltin_core.recipes.reach import all_in_reach
from caltin_core.recipes.rules import Rules
from caltin_core.recipes.search import DEADENED, EVALUATIONS, HEAVIER, Search
from caltin_core.recipes.targets import Target

# How many stacks are looked at for each role within a set.
_EVALUATIONS = 3500
# A value beyond this many L* weighs more than a hue.
_VALUE, _VALUE_WEIGHT = 1.0, 0.3
# Half of a role's weight is its area, half that it is there at all.
_BY_AREA = 0.5
# How much of an uneven step between neighbours counts, per ΔE of unevenness; a step the wrong way, in L*, and that it is one.
_UNEVEN, _BACKWARDS, _TURNED = 0.15, 1.0, 0.6
# What a layer more must win, in ΔE00: of recipes nobody would tell apart the shorter is laid (common practice).
_LAYER = 0.1
# And one of the colour just laid, when another pressure would have done at once.
_AGAIN = 0.3
# What a stack that is warned of must win against one of the same colours that is not.
_WARNED = 0.5
# That a stack is in reach of its target is worth so much.
_REACHED = 1.0
# What a ΔE00 of what a stack may be expected to miss by counts, and an L* of specks. But in all no more than can hardly be told.
_UNSURE, _SPECKLED, _AT_MOST = 0.05, 0.01, 0.3
_LOOKED_AT, _SWEEPS = 40, 4
# So many roles that miss by more than this, in ΔE00, are searched once more and deeper.
_DEEPER, _MISSED = 4, 0.3
# More colours than these are many on a table; a family is proposed in so large a part of them.
_FEW, _SHARED = 9, 2 / 3


@dataclass(frozen=True)
class Member:
    """A role in a family: its target, its share of the drawing, the roles it touches, and its recipe where that is pinned."""

    target: Target
    share: float = 1.0
    neighbours: tuple[int, ...] = ()
    pinned: tuple[Lay, ...] | None = None


@dataclass
class Stacks(Options):
    """What may serve one role, with the stacks themselves (K)."""

    stacks: Candidates


@dataclass(frozen=True)
class Family:
    """The colours with their shares of all layers, largest first; a match for every role; and what one more or less changes."""

    colours: tuple[tuple[int, float], ...]
    matches: tuple[Match, ...]
    mean: float
    one_more: Change | None
    one_less: Change | None


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
    toll = weighted(_weights(members)[open_])
    wide = Searches(bench, targets, each)
    options = {i: _options(wide.of(i)[0], targets[i], count) for i in open_}
    choice = Choice([options[i] for i in open_], toll, start, rules.max_colours)
    every = ~np.isin(np.arange(count), sorted(each.avoid))
    # Where there is room for the whole kit nothing needs to be left out before it is known what it is worth.
    chosen = start | every if (start | every).sum() <= rules.max_colours else choice.best()
    left_out = frozenset(np.flatnonzero(every & ~chosen).tolist())
    narrow = Searches(bench, targets, replace(each, avoid=each.avoid | left_out)) if left_out else wide
    _deepen(options, narrow, targets, open_, _EVALUATIONS)
    _deepen(options, narrow, targets, _missed(options, chosen, _DEEPER if left_out else 2 * _DEEPER))
    choice = Choice([options[i] for i in open_], toll, start, rules.max_colours)
    chosen = choice.pruned(choice.exchanged(chosen))
    if left_out and chosen.sum() < rules.max_colours:
        _deepen(options, wide, targets, _missed(options, chosen, _DEEPER))
        choice = Choice([options[i] for i in open_], toll, start, rules.max_colours)
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


def fewer(used: int, chosen: int = 0) -> int | None:
    """In how many colours to propose a family, where places matched by themselves take `used`, and `chosen` of these are in recipes
    that stay; None where that is few enough or cannot be less. Common practice: each colour is one more to find and to put down."""
    few = round(_SHARED * used)
    return few if used > _FEW and chosen < few else None


def _missed(options: Mapping[int, Options], chosen: Bools, most: int) -> list[int]:
    """The few roles that a set serves worst, of those it serves ill."""
    miss = {i: o.best_within(chosen) for i, o in options.items()}
    return [i for i in sorted(options, key=lambda i: -miss[i])[:most] if miss[i] > _MISSED]


def _weights(members: Sequence[Member]) -> Floats:
    share = np.array([max(m.share, 0.0) for m in members])
    share = share / share.sum() if share.sum() > 0 else np.full(len(members), 1 / max(len(members), 1))
    return _BY_AREA * share + (1 - _BY_AREA) / max(len(members), 1)


def _options(search: Search, target: Target, count: int) -> Stacks:
    return _told(search, target, search.short(target.lab), count)


def _told(search: Search, target: Target, stacks: Candidates, count: int) -> Stacks:
    score = _score(search, target, stacks) + (_WARNED - DEADENED) * search.deadened(stacks.colour)
    away = delta_e_2000(target.lab, stacks.lab) if len(stacks) else np.empty(0)
    return Stacks(score, away, uses_of(stacks, count), stacks)


def _score(search: Search, target: Target, stacks: Candidates) -> Floats:
    """What stacks miss by and how they handle (B,), a value that is beside the point counted more, and what is too much in one
    place."""
    beyond = np.maximum(np.abs(stacks.lab[:, 0] - target.lab[0]) - _VALUE, 0)
    heavy = overfull(search.swatches, stacks.colour, stacks.stroke)
    out: Floats = search.score(stacks, target.lab) + _VALUE_WEIGHT * beyond + HEAVIER * heavy
    return out


def _deepen(
    options: dict[int, Stacks], searches: Searches, targets: Sequence[Target], roles: Sequence[int], most: int = EVALUATIONS
) -> None:
    """Search some roles in depth, and join what is found to their options."""
    asked = [(searches.of(i)[0], targets[i]) for i in roles]
    found = in_lanes(lambda some: [search.find(target.lab, most) for search, target in some], asked, LANE)
    for i, (search, target), more in zip(roles, asked, found, strict=True):
        options[i] = _more(options[i], search, target, more)


def _more(options: Stacks, search: Search, target: Target, found: Candidates) -> Stacks:
    if len(found) == 0:
        return options
    other = _told(search, target, found, options.uses.shape[1])
    return Stacks(
        np.concatenate([other.score, options.score]), np.concatenate([other.away, options.away]),
        np.concatenate([other.uses, options.uses]), joined([other.stacks, options.stacks]),
    )  # fmt: skip


def _settled(
    bench: Workbench, members: Sequence[Member], options: Mapping[int, Stacks], searches: Searches, chosen: Bools
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
        warned = _WARNED * np.array([bool(fresh_cautions(bench, target.before, layers, of_skin=target.skin)) for layers in stacks])
        order = np.argsort(search.score(pools[i], target.lab) + warned, kind="stable")
        pools[i] = pools[i].take(order)
        reached = all_in_reach(pools[i].lab, target.lab, searches.of(i)[1])
        score = _score(search, target, pools[i]) + warned[order] - _REACHED * reached
        scores[i], labs[i] = score[:_LOOKED_AT], pools[i].lab[:_LOOKED_AT]
    found = {i: Found(searches.of(i)[0], members[i].target, searches.of(i)[1], pools[i]) for i in options}
    looked = [(found[i], np.arange(len(scores[i]))) for i in options]
    for i, (likely, speckled) in zip(options, promises(bench, looked), strict=True):
        seen = np.array([found[i].seen[at].lab for at in range(len(likely))]).reshape(-1, 3)
        scores[i] = scores[i] + misses(seen, members[i].target.lab, found[i].rules) - found[i].miss[: len(likely)]
        labs[i] = seen
        burden = _work(pools[i].colour[: len(likely)]) + _UNSURE * likely + _SPECKLED * speckled
        scores[i] = scores[i] + np.minimum(burden - burden.min(initial=np.inf), _AT_MOST)
    row = {i: int(np.argmin(s)) if len(s) else 0 for i, s in scores.items()}
    fixed = {i: (recipe_of(bench, m.pinned, m.target, searches.of(i)[1]),) for i, m in enumerate(members) if m.pinned}
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
    settled = [replace(found[i], first=row[i] if len(pools[i]) else None) for i in options]
    own = [recipes_of(bench, some, f.target, f.rules) for some, f in zip(offers(bench, settled), settled, strict=True)]
    every = fixed | dict(zip(options, own, strict=True))
    return [matched(bench, searches.of(i)[0], m.target, searches.of(i)[1], every[i]) for i, m in enumerate(members)]


def _work(colour: Ints) -> Floats:
    """What the layers of stacks (B, L) must win (B,)."""
    again = ((colour[:, 1:] == colour[:, :-1]) & (colour[:, 1:] != NO_COLOUR)).sum(axis=1)
    out: Floats = _LAYER * lengths(colour) + _AGAIN * again
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
