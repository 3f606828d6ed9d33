"""A recipe taken further from what already lies on the paper, whether that was meant or not."""

from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np

from caltin_core.colour.difference import delta_e_2000
from caltin_core.colour.tables import Floats
from caltin_core.media.layers import Layer, lays
from caltin_core.media.measured import Measured, as_laid
from caltin_core.media.predict import Prediction, drawn_states, media_of
from caltin_core.media.workbench import Workbench
from caltin_core.recipes.beginnings import beginnings, effort, last_resort
from caltin_core.recipes.padded import NO_COLOUR
from caltin_core.recipes.rules import Rules
from caltin_core.recipes.schools import School, Zone, stage_table
from caltin_core.recipes.search import Search

# So many further layers are open even where the rules' number is used up.
_LEAST = 2
# Where going on by few passes ends farther off than this, lifting and bleaching are looked at too.
_FAR = 1.0
_LOOKED_AT, _CANDIDATES = 16, 6000


@dataclass(frozen=True)
class Onward:
    """The layers still to come, what is seen after all, and how far that is from the target (ΔE00)."""

    layers: tuple[Layer, ...]
    prediction: Prediction
    de00: float


def onward(
    bench: Workbench, done: Sequence[Layer], target: Floats, rules: Rules, zone: Zone | None = None, there: Measured | None = None
) -> Onward:  # fmt: skip
    """The way from `done` to the D50 Lab `target` (3,) that ends nearest with few layers; `there` is what was laid as it was
    measured, where it was.

    Colours the rules leave out are not used again, though they may lie there. A school is followed from the stage reached; where
    what lies there has left it, it no longer binds. Where no colour brings the place near, some of what lies there is taken off.
    """
    there = there or as_laid(bench, done)
    left = max(rules.max_layers - len(lays(done)), _LEAST)
    school = _left_of(rules.school, bench, done, zone) if rules.school else None
    mine = replace(rules, max_layers=left, max_colours=min(rules.max_colours, left), school=school)
    tries: list[tuple[Layer, ...]] = [(), *_found(bench, there, (), target, mine, zone)]
    miss = _misses(there, tries, target)
    cost = [m + effort(bench, done, t, of_skin=rules.skin) for m, t in zip(miss, tries, strict=True)]
    if min(cost) > _FAR:
        gentle = [b for b in beginnings(bench, done, rules) if not last_resort(bench, b)]
        begun = _promising(there, gentle, target)
        more = [t for begin in begun for t in (begin, *_found(bench, there, begin, target, mine, zone))]
        tries, miss = tries + more, miss + _misses(there, more, target)
        cost = [m + effort(bench, done, t, of_skin=rules.skin) for m, t in zip(miss, tries, strict=True)]
    at = int(np.argmin(cost))
    return Onward(tries[at], there.predict([tries[at]])[0], miss[at])


def _promising(there: Measured, begun: Sequence[tuple[Layer, ...]], target: Floats) -> list[tuple[Layer, ...]]:
    """Of these ways to begin the one that ends nearest by itself, and the nearest that is not too dark: from there colours help."""
    seen = there.colours(begun) if begun else []
    order = sorted(range(len(begun)), key=lambda i: float(delta_e_2000(target, seen[i][0])))
    light = [i for i in order if seen[i][0][0] >= target[0]]
    return [begun[i] for i in dict.fromkeys([*order[:1], *light[:1]])]


def _misses(there: Measured, tries: Sequence[tuple[Layer, ...]], target: Floats) -> list[float]:
    seen = there.colours(tries) if tries else []
    return [float(delta_e_2000(target, lab)) for lab, _ in seen]


def _found(
    bench: Workbench, there: Measured, begin: tuple[Layer, ...], target: Floats, rules: Rules, zone: Zone | None
) -> list[tuple[Layer, ...]]:
    (state,) = drawn_states(there.bench, [[*there.done, *begin]])
    search = Search(bench, rules, zone=zone, drawn=state, below=media_of(there.bench, there.done))
    # What no colours explain stays whatever is laid.
    found = search.find(target - there.off, _CANDIDATES)
    few = np.flatnonzero((found.colour != NO_COLOUR).sum(axis=1) <= _LEAST)[:_LOOKED_AT]
    rows = dict.fromkeys([*range(min(_LOOKED_AT, len(found))), *few.tolist()])
    return [(*begin, *found.layers(int(row), search.fast.coats)) for row in rows]


def _left_of(school: School, bench: Workbench, done: Sequence[Layer], zone: Zone | None) -> School | None:
    """The school from the stage that `done` has reached on; None where that has left it."""
    table = stage_table(school, bench, zone)
    stage = 0
    for x in lays(done):
        stage = int(table[stage, x.colour, x.stroke.index])
    if stage == len(school.stages):
        return None
    here, *rest = school.stages[stage:]
    return replace(school, stages=(replace(here, wanted=()), *rest))
