"""Ways to a tone that differ in kind: without black, without a ready-made skin colour, by value alone, out of one tin."""

from collections.abc import Sequence
from dataclasses import dataclass, replace
from typing import Literal

import numpy as np

from caltin_core.colour.difference import chroma, hue_angle
from caltin_core.colour.tables import Floats, Ints
from caltin_core.media.cautions import fresh_cautions
from caltin_core.media.workbench import Workbench
from caltin_core.recipes.candidates import Candidates, misses
from caltin_core.recipes.match import Recipe, recipe_of, sought
from caltin_core.recipes.padded import NO_COLOUR
from caltin_core.recipes.rules import Rules, usable
from caltin_core.recipes.schools import Zone
from caltin_core.recipes.search import Search
from caltin_core.recipes.targets import Target

Way = Literal["no_black", "no_skin_colour", "vivid", "one_tin"]
# A stick sold as skin: pale to middle, pink to yellow, and dull. Common practice.
_SKIN_LIGHT, _SKIN_HUE, _SKIN_CHROMA = (58.0, 95.0), (22.0, 82.0), (7.0, 36.0)
# A vivid way holds the value this closely (L*, with what a drift to green, grey or raw yellow costs); so much more strength than
# the target's, in C*ab, makes it one.
_VALUE_HELD, _STRONGER = 1.0, 6.0
_NOTHING_LEFT = "nothing is left to draw with"
# A tin of fewer colours makes no skin (common practice).
_TIN = 3
# Nobody tells two recipes this alike in what they miss by (ΔE00); one that nothing warns of may miss by so much more, and is looked
# for among the first so many.
_ALIKE, _EASED, _LOOKED_AT = 0.1, 1.0, 300


@dataclass(frozen=True)
class Alternative:
    """One way: its recipe, the name of the tin for `one_tin`; without a recipe, why there is none or none is needed."""

    way: Way
    recipe: Recipe | None
    tin: str = ""
    why: str = ""


def ready_made_skin(lab: Floats) -> bool:
    """Whether a solid, D50 CIELAB (3,), is one of those sold as skin; common practice."""
    lightness, strength, hue = float(lab[0]), float(chroma(lab)), float(hue_angle(lab))
    return all(low <= v <= high for v, (low, high) in ((lightness, _SKIN_LIGHT), (hue, _SKIN_HUE), (strength, _SKIN_CHROMA)))


def alternatives(
    bench: Workbench, target: Target, rules: Rules, tins: Sequence[str] = (), zone: Zone | None = None
) -> list[Alternative]:
    """Every way that makes a difference here, in the order of `Way`.

    `tins` names the tin, or line, every colour of the kit lies in; empty where that is not known. `zone` as for a school.
    """
    mine = rules.for_role(target.black, skin=target.skin)
    return [
        *_without(bench, target, mine, zone, "no_black"),
        *_without(bench, target, mine, zone, "no_skin_colour"),
        *_vivid(bench, target, mine, zone),
        *_one_tin(bench, target, mine, zone, tins),
    ]


def _without(bench: Workbench, target: Target, rules: Rules, zone: Zone | None, way: Way) -> list[Alternative]:
    """The closest recipe that leaves such colours in the box, where there are any."""
    barred = {i for i, s in enumerate(bench.swatches) if (s.is_black if way == "no_black" else ready_made_skin(s.lab))}
    if not barred & set(usable(bench, rules).tolist()):
        return []
    recipe = _closest(bench, target, replace(rules, avoid=rules.avoid | barred), zone)
    return [Alternative(way, recipe, why="" if recipe else _NOTHING_LEFT)]


def _vivid(bench: Workbench, target: Target, rules: Rules, zone: Zone | None) -> list[Alternative]:
    """The strongest colour that keeps the value and does not drift where a drift shows at once."""
    by_value = replace(rules, goal="value")
    search = Search(bench, by_value, target.start, zone)
    found = sought(bench, search, target)
    if not len(found):
        return [Alternative("vivid", None, why=_NOTHING_LEFT)]
    miss = misses(found.lab, target.lab, by_value)
    strength, enough = chroma(found.lab), float(chroma(target.lab)) + _STRONGER
    held = np.flatnonzero((miss <= max(_VALUE_HELD, float(miss.min()))) & (strength >= enough))
    if not held.size:
        return [Alternative("vivid", None, why="nothing stronger holds this value")]
    row = _unwarned(bench, search, target, found, held[np.argsort(-strength[held], kind="stable")])
    return [Alternative("vivid", _recipe(bench, search, target, by_value, found, row))]


def _one_tin(
    bench: Workbench, target: Target, rules: Rules, zone: Zone | None, tins: Sequence[str]
) -> list[Alternative]:  # fmt: skip
    """The closest recipe out of the tin that comes nearest, where the kit is of several."""
    free: dict[str, list[int]] = {}
    for i in usable(bench, rules).tolist():
        if tins and tins[i]:
            free.setdefault(tins[i], []).append(i)
    free = {tin: mine for tin, mine in sorted(free.items()) if len(mine) >= _TIN}
    if len(set(tins)) < 2 or not free:
        return []
    every = frozenset(range(len(bench.swatches)))
    made = [(tin, _closest(bench, target, replace(rules, avoid=every - set(mine)), zone)) for tin, mine in free.items()]
    there = [(r.difference.de00, tin, r) for tin, r in made if r is not None]
    if not there:
        return []
    _, tin, recipe = min(there, key=lambda t: t[:2])
    return [Alternative("one_tin", recipe, tin)]


def _closest(bench: Workbench, target: Target, rules: Rules, zone: Zone | None) -> Recipe | None:
    search = Search(bench, rules, target.start, zone)
    found = sought(bench, search, target)
    if not len(found):
        return None
    row = _unwarned(bench, search, target, found, _plainest(found, misses(found.lab, target.lab, rules)))
    return _recipe(bench, search, target, rules, found, row)


def _plainest(found: Candidates, miss: Floats) -> Ints:
    """The nearest: of those nobody would tell from the first the ones with the fewest layers before all."""
    rows: Ints = np.flatnonzero(miss <= miss.min() + _EASED)
    alike = miss[rows] <= miss.min() + _ALIKE
    many = np.where(alike, (found.colour[rows] != NO_COLOUR).sum(axis=1), 0)
    out: Ints = rows[np.lexsort((miss[rows], many, ~alike))]
    return out


def _unwarned(bench: Workbench, search: Search, target: Target, found: Candidates, rows: Ints) -> int:
    """The first of these candidates that nothing warns of; the first of all where there is none."""
    for row in rows[:_LOOKED_AT]:
        if not fresh_cautions(bench, target.before, found.layers(int(row), search.fast.coats), of_skin=target.skin):
            return int(row)
    return int(rows[0])


def _recipe(bench: Workbench, search: Search, target: Target, rules: Rules, found: Candidates, row: int) -> Recipe:
    return recipe_of(bench, found.layers(row, search.fast.coats), target, rules)
