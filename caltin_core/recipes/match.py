"""Match: for every target the closest, the fewest and the softest recipe, and whether it is in reach."""

from collections.abc import Iterator, Sequence
from dataclasses import dataclass, replace

import numpy as np

from caltin_core.colour.tables import Floats, Ints
from caltin_core.colour.words import Difference, difference
from caltin_core.lanes import in_lanes, lanes
from caltin_core.media.cautions import Deadened
from caltin_core.media.layers import Lay
from caltin_core.media.predict import Prediction, colours_of, predict
from caltin_core.media.workbench import Workbench
from caltin_core.recipes.candidates import Candidates, joined, misses
from caltin_core.recipes.offers import Found, Kind, Offered, offers
from caltin_core.recipes.reach import Reach, reach
from caltin_core.recipes.reasons import reason
from caltin_core.recipes.rules import Rules
from caltin_core.recipes.schools import Zone, zones_of
from caltin_core.recipes.search import Search
from caltin_core.recipes.targets import Target
from caltin_core.recipes.words import recipe_words

# So many candidates are looked at closely at a time, so often.
_CLOSE_LOOK, _LOOKS = 16, 4
# Where the best misses by more than this (ΔE00) the best few orders of colours are polished, so often; so many are held.
_FINE, _POLISHES, _POLISHED, _HELD = 0.1, 4, 8, 200
# So many of a round are predicted in full.
_PROMISING = 150
# So many targets are worth a lane of their own.
LANE = 2
# A search that was off by this much (ΔE) aims again.
_OFF = 0.4


@dataclass(frozen=True)
class Recipe:
    """Ordered layers with what they will look like and how that differs from the target.

    `equal` says that it is no further from the target than the best one, as far as this hand can tell.
    """

    kind: Kind
    layers: tuple[Lay, ...]
    prediction: Prediction
    difference: Difference
    words: str
    equal: bool = False


def equal(away: float, best: float, uncertainty: float) -> bool:
    """Whether a recipe that misses by `away` cannot be told from one that misses by `best`, in a hand so unsure (ΔE00)."""
    return away <= best + uncertainty


@dataclass(frozen=True)
class Match:
    """The recipes found for one role, best first, and whether the target is in reach."""

    role: str
    target: Floats
    recipes: tuple[Recipe, ...]
    reach: Reach


class Searches:
    """The searches that targets share: one for each set of rules, start and zone."""

    def __init__(self, bench: Workbench, targets: Sequence[Target], rules: Rules) -> None:
        self._bench = bench
        self._zones = zones_of(np.array([t.lab[0] for t in targets])) if rules.school else [None] * len(targets)
        # Where nothing is said of skin alone there is no need for searches of two kinds.
        apart = rules.school is not None or Deadened(bench.swatches).ever
        self._own = [rules.for_role(t.black, skin=t.skin or not apart) for t in targets]
        self._targets = targets
        self._made: dict[tuple[Rules, int, Zone | None], Search] = {}

    def of(self, index: int) -> tuple[Search, Rules]:
        """The search for one target, and its rules."""
        mine, start = self._own[index], self._targets[index].start
        key = mine, id(start), self._zones[index]
        if key not in self._made:
            self._made[key] = Search(self._bench, mine, start, self._zones[index])
        return self._made[key], mine


def matches(bench: Workbench, targets: Sequence[Target], rules: Rules) -> Iterator[Match]:
    """Match every target, in order, each as soon as it is found; where there are lanes so many at a time."""
    searches, every, step = Searches(bench, targets, rules), range(len(targets)), lanes()
    for at in every[::step]:
        asked = [(*searches.of(index), targets[index]) for index in every[at : at + step]]
        yield from in_lanes(lambda some: _matched_together(bench, some), asked)


def all_matches(bench: Workbench, targets: Sequence[Target], rules: Rules) -> list[Match]:
    """The same when all are found, which is quicker: the recipes of all are predicted together."""
    searches = Searches(bench, targets, rules)
    asked = [(*searches.of(index), target) for index, target in enumerate(targets)]
    return in_lanes(lambda some: _matched_together(bench, some), asked, LANE)


def _matched_together(bench: Workbench, asked: Sequence[tuple[Search, Rules, Target]]) -> list[Match]:
    found = [Found(search, target, rules, sought(bench, search, target)) for search, rules, target in asked]
    return [
        matched(bench, f.search, f.target, f.rules, recipes_of(bench, some, f.target, f.rules))
        for f, some in zip(found, offers(bench, found), strict=True)
    ]


def matched(bench: Workbench, search: Search, target: Target, rules: Rules, recipes: tuple[Recipe, ...]) -> Match:
    """Recipes for one target, best first, with whether it is in reach."""
    nearest = recipes[0].prediction.lab if recipes else None
    return Match(target.role, target.lab, recipes, reach(bench, search, target.role, target.lab, nearest, rules))


def recipes_of(bench: Workbench, offered: Offered, target: Target, rules: Rules) -> tuple[Recipe, ...]:
    """What is offered for a target as recipes, best first."""
    names = [s.called for s in bench.swatches]
    recipes = []
    for kind, (layers, look) in offered.items():
        apart = difference(look.lab, target.lab)
        why = reason(bench, layers, look.lab, of_skin=target.skin)
        said = " ".join(filter(None, (recipe_words(layers, names), why, f"Against the target: {apart.words}.")))
        recipes.append(Recipe(kind, layers, look, apart, said))
    away = [float(misses(r.prediction.lab[None], target.lab, rules)[0]) for r in recipes]
    order = np.argsort(away, kind="stable")
    best = min(away, default=0.0)
    return tuple(replace(recipes[i], equal=equal(away[i], best, recipes[i].prediction.uncertainty)) for i in order)


def recipe_of(bench: Workbench, layers: tuple[Lay, ...], target: Target, rules: Rules) -> Recipe:
    """One stack as the closest recipe for a target."""
    (look,) = predict(bench, [layers], starts=[target.start])
    (recipe,) = recipes_of(bench, {"closest": (layers, look)}, target, rules)
    return recipe


def closer_look(bench: Workbench, search: Search, target: Target, found: Candidates) -> Candidates:
    """The candidates, best first, with the best of them predicted in full.

    A search sees every second band, so that it is a little off; all stacks of the same colours are off alike, which tells those
    not looked at yet where they really lie.
    """
    if not len(found):
        return found
    lab, used = found.lab.copy(), found.used.copy()
    _, group = np.unique(found.colour, axis=0, return_inverse=True)
    looked = np.zeros(len(found), dtype=bool)
    for _ in range(_LOOKS):
        order = np.argsort(search.score(replace(found, lab=lab), target.lab), kind="stable")[:_CLOSE_LOOK]
        rows = order[~looked[order]]
        if not rows.size:
            break
        stacks = [found.layers(int(r), search.fast.coats) for r in rows]
        for row, (seen, share) in zip(rows, colours_of(bench, stacks, target.start), strict=True):
            lab[row], used[row] = seen, share
        looked[rows] = True
        for own in np.unique(group[rows]):
            mine = group == own
            lab[mine & ~looked] = found.lab[mine & ~looked] + (lab - found.lab)[mine & looked].mean(axis=0)
    told = replace(found, lab=lab, used=used)
    return told.take(np.argsort(search.score(told, target.lab), kind="stable"))


def sought(bench: Workbench, search: Search, target: Target) -> Candidates:
    """What the search finds, looked at closely; where it was off by more than can be borne it aims again, that much beside."""
    found = search.find(target.lab)
    told = closer_look(bench, search, target, found)
    if not len(told):
        return told
    mine = np.flatnonzero((found.colour == told.colour[0]).all(axis=1) & (found.stroke == told.stroke[0]).all(axis=1))[0]
    off = told.lab[0] - found.lab[mine]
    if float(np.linalg.norm(off)) >= _OFF:
        told = _sorted(search, target, joined([told, closer_look(bench, search, target, search.find(target.lab - off))]))
    return _polished(bench, search, target, told)


def _sorted(search: Search, target: Target, pool: Candidates) -> Candidates:
    return pool.take(np.argsort(search.score(pool, target.lab), kind="stable"))


def _polished(bench: Workbench, search: Search, target: Target, pool: Candidates) -> Candidates:
    """The candidates with the best of them stroke by stroke made better, each looked at in full, while that helps; those with few
    colours and soft layers stay, however many are nearer."""
    first = pool
    for _ in range(_POLISHES):
        best = float(search.score(pool.take(np.arange(1)), target.lab)[0])
        if best <= _FINE:
            break
        rows = [int(r) for r in _unlike_orders(pool.colour)[:_POLISHED]]
        fresh = _promising(search, target, pool.take(np.array(rows)))
        stacks = [fresh.layers(i, search.fast.coats) for i in range(len(fresh))]
        seen = colours_of(bench, stacks, target.start)
        fresh = replace(fresh, lab=np.array([lab for lab, _ in seen]).reshape(-1, 3), used=np.array([used for _, used in seen]))
        nearest = _sorted(search, target, joined([pool, fresh]))
        pool = _sorted(search, target, joined([first, nearest.take(np.arange(min(len(nearest), _HELD)))]))
        if best - float(search.score(pool.take(np.arange(1)), target.lab)[0]) < _FINE / 10:
            break
    return pool


def _promising(search: Search, target: Target, parents: Candidates) -> Candidates:
    """Of `parents` (predicted in full, no two of one order of colours) with other strokes those that may be best, as the search
    sees them, which is off by as much as it is for the parent."""
    seen = search.fast.evaluate_alone(*search.restroked(parents))
    same = (seen.colour[:, None] == parents.colour).all(axis=2).argmax(axis=1)
    rough = search.fast.evaluate_alone(parents.colour, parents.stroke)
    seen = replace(seen, lab=seen.lab + (parents.lab - rough.lab)[same], used=seen.used + (parents.used - rough.used)[same])
    return _sorted(search, target, seen).take(np.arange(min(len(seen), _PROMISING)))


def _unlike_orders(colour: Ints) -> Ints:
    """The first row of every order of colours (B, L), in the order of the rows."""
    _, first = np.unique(colour, axis=0, return_index=True)
    out: Ints = np.sort(first)
    return out
