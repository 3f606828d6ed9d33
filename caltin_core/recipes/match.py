"""Match: for every target the closest, the fewest and the softest recipe, and whether it is in reach."""

from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass, replace
from typing import Literal

import numpy as np

from caltin_core.colour.tables import Floats
from caltin_core.colour.words import Difference, difference
from caltin_core.media.layers import HARDNESS, STROKE_INDEX, STROKES, Lay, Stroke
from caltin_core.media.predict import Prediction, Start, Workbench, colours_of, predict
from caltin_core.recipes.candidates import Candidates, misses
from caltin_core.recipes.reach import Reach, reach
from caltin_core.recipes.rules import NO_COLOUR, BlackPolicy, Rules, count_colours, lengths
from caltin_core.recipes.search import Search
from caltin_core.recipes.words import recipe_words

Kind = Literal["closest", "fewest", "softest"]
# An alternative may miss by this much more than the closest and still be offered; a plainer one by more.
_ALTERNATIVE, _FEWER = 1.5, 4.0
# Differences nobody sees: among these the recipe with the least work is taken.
_EQUAL = 0.02
_CLOSE_LOOK = 16


@dataclass(frozen=True)
class Target:
    """One role's target: D50 Lab (3,), its own policy for black, where its layers start, and its spectrum if measured."""

    role: str
    lab: Floats
    black: BlackPolicy | None = None
    start: Start | None = None
    reflectance: Floats | None = None


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


def matches(bench: Workbench, targets: Sequence[Target], rules: Rules) -> Iterator[Match]:
    """Match every target, in order, each as soon as it is found."""
    own = [rules.with_black(target.black) for target in targets]
    searches: dict[tuple[Rules, int], Search] = {}
    for target, mine in zip(targets, own, strict=True):
        if (mine, id(target.start)) not in searches:
            searches[mine, id(target.start)] = Search(bench, mine, target.start)
    for target, mine in zip(targets, own, strict=True):
        yield _match_one(bench, searches[mine, id(target.start)], target, mine)


def _match_one(bench: Workbench, search: Search, target: Target, rules: Rules) -> Match:
    found = _closer_look(bench, search, target)
    if len(found) == 0:
        return Match(target.role, target.lab, (), reach(bench, search, target.role, target.lab, None, rules))
    rows = _chosen(found, target.lab, rules, search.liking(found))
    predictions = predict(bench, [found.layers(row, search.fast.coats) for row in rows.values()], starts=[target.start] * len(rows))
    names = [s.called for s in bench.swatches]
    recipes = []
    for (kind, row), seen in zip(rows.items(), predictions, strict=True):
        layers, apart = found.layers(row, search.fast.coats), difference(seen.lab, target.lab)
        said = f"{recipe_words(layers, names)} Against the target: {apart.words}."
        recipes.append(Recipe(kind, layers, seen, apart, said))
    recipes.sort(key=lambda r: float(misses(r.prediction.lab[None], target.lab, rules)[0]))
    best = recipes[0].prediction.lab
    away = [float(misses(r.prediction.lab[None], target.lab, rules)[0]) for r in recipes]
    told = tuple(
        replace(r, equal=equal(miss, away[0], r.prediction.uncertainty)) for r, miss in zip(recipes, away, strict=True)
    )  # fmt: skip
    return Match(target.role, target.lab, told, reach(bench, search, target.role, target.lab, best, rules))


def _closer_look(bench: Workbench, search: Search, target: Target) -> Candidates:
    """The candidates with the best of them predicted in full."""
    found = search.find(target.lab)
    top = np.arange(min(len(found), _CLOSE_LOOK))
    lab, used = found.lab.copy(), found.used.copy()
    stacks = [found.layers(int(r), search.fast.coats) for r in top]
    for row, (seen, share) in zip(top, colours_of(bench, stacks, target.start), strict=True):
        lab[row], used[row] = seen, share
    return replace(found, lab=lab, used=used)


def _chosen(found: Candidates, target: Floats, rules: Rules, liking: Floats) -> dict[Kind, int]:
    """Which candidate (rows of `found`, best first) serves as which kind; `liking` (B,) is what preferences are worth."""
    miss = misses(found.lab, target, rules)
    colours, softness = count_colours(found.colour), _softness(found)
    effort = _effort(found)
    liked = miss - liking
    equal = np.flatnonzero(liked <= liked.min() + _EQUAL)
    closest = int(equal[np.argmin(effort[equal])])
    rows: dict[Kind, int] = {"closest": closest}
    fewer = np.flatnonzero(colours < colours[closest])
    for slack in (_ALTERNATIVE, _FEWER):
        near = fewer[miss[fewer] <= miss[closest] + slack]
        if near.size:
            rows["fewest"] = int(near[np.lexsort((effort[near] + 2 * miss[near], colours[near]))[0]])
            break
    near = np.flatnonzero((miss <= miss[closest] + _ALTERNATIVE) & (softness < 0.9 * softness[closest]))
    near = near[near != rows.get("fewest", -1)]
    if near.size:
        rows["softest"] = int(near[np.argmin(softness[near] + 0.02 * effort[near])])
    return rows


def _softness(found: Candidates) -> Floats:
    """How little a recipe asks of the paper (B,): tooth used, and a layer counts a little too."""
    out: Floats = found.used + 0.01 * lengths(found.colour)
    return out


def _effort(found: Candidates) -> Floats:
    """The work in a recipe (B,), counted in layers: passes, turning the sheet, laying over a burnish.

    Pressing hard first and softly over it counts too: it closes the tooth early (common practice).
    """
    laid = found.colour != NO_COLOUR

    def of(fact: Callable[[Stroke], float]) -> Floats:
        return np.where(laid, np.array([fact(s) for s in STROKES])[found.stroke], 0.0)

    awkward = of(lambda s: 0.5 * s.turned + 0.5 * (s.point == "side")).sum(axis=1)
    burnish = of(lambda s: float(s.pressure == "burnish"))
    over = (laid[:, 1:] & (np.cumsum(burnish, axis=1)[:, :-1] > 0)).sum(axis=1)
    harder = of(lambda s: float(HARDNESS[STROKE_INDEX[s]]))
    softer_on_harder = (laid[:, 1:] & (harder[:, 1:] < harder[:, :-1])).sum(axis=1)
    out: Floats = lengths(found.colour) + of(lambda s: s.passes / 6).sum(axis=1) + awkward + 1.5 * over + 0.5 * softer_on_harder
    return out
