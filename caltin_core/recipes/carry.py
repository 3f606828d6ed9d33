"""Kept recipes carried to another kit, paper or hand: solved again for what they looked like, and what is lost is told."""

from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np

from caltin_core.media.workbench import Workbench
from caltin_core.recipes.family import Member, family
from caltin_core.recipes.match import Match, Recipe, matches
from caltin_core.recipes.proposed import proposed_of
from caltin_core.recipes.rules import Rules
from caltin_core.recipes.schools import Zone, zones_of
from caltin_core.recipes.targets import Target

# A difference smaller than this, in ΔE00, is no loss: the hand differs as much from one day to the next (common practice).
_NO_LOSS = 1.0


@dataclass(frozen=True)
class Carried:
    """What was found for a kept recipe, which of it to take, or None, and what is lost with that, or empty."""

    match: Match
    recipe: Recipe | None
    lost: str


def carried(bench: Workbench, looked: Sequence[Target], rules: Rules, together: int = 0) -> list[Carried]:
    """Solve again, on another bench, for what each kept recipe looked like: its role and its D50 Lab (3,).

    `together` is in how many colours in all; 0 solves each by itself. Of recipes that lose nothing the one that is proposed
    anywhere is taken, else the closest.
    """
    if together and len(looked) > 1:
        members = [Member(target, 1.0) for target in looked]
        found = family(bench, members, replace(rules, max_colours=together)).matches
    else:
        found = tuple(matches(bench, looked, rules))
    zones = zones_of(np.array([target.lab[0] for target in looked]))
    return [_carried(bench, match, rules, target.skin, zone) for match, target, zone in zip(found, looked, zones, strict=True)]


def _carried(bench: Workbench, match: Match, rules: Rules, of_skin: bool, zone: Zone | None) -> Carried:
    kept = [r for r in match.recipes if r.difference.de00 <= _NO_LOSS]
    taken = proposed_of(bench, kept, of_skin=of_skin, school=rules.school, zone=zone) or next(iter(match.recipes), None)
    return Carried(match, taken, _lost(match, taken))


def _lost(match: Match, taken: Recipe | None) -> str:
    if taken is None:
        return match.reach.why or "there is no recipe for it within these rules"
    apart = taken.difference
    if apart.de00 <= _NO_LOSS:
        return ""
    said = f"it comes out {apart.words} (ΔE00 {apart.de00:.1f})"
    if match.reach.ok:
        return said
    helped = f"; {match.reach.would_help} would help" if match.reach.would_help else ""
    return f"{said}: {match.reach.why}{helped}"
