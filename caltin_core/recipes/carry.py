"""Kept recipes carried to another kit, paper or hand: solved again for what they looked like, and what is lost is told."""

from collections.abc import Sequence
from dataclasses import dataclass, replace

from caltin_core.media.predict import Workbench
from caltin_core.recipes.family import Member, family
from caltin_core.recipes.match import Match, Target, matches
from caltin_core.recipes.rules import Rules

# A difference smaller than this, in ΔE00, is no loss: the hand differs as much from one day to the next (common practice).
_NO_LOSS = 1.0


@dataclass(frozen=True)
class Carried:
    """What was found for a kept recipe, and what is lost, or empty."""

    match: Match
    lost: str


def carried(bench: Workbench, looked: Sequence[Target], rules: Rules, together: int = 0) -> list[Carried]:
    """Solve again, on another bench, for what each kept recipe looked like: its role and its D50 Lab (3,).

    `together` is in how many colours in all; 0 solves each by itself.
    """
    if together and len(looked) > 1:
        members = [Member(target, 1.0) for target in looked]
        found = family(bench, members, replace(rules, max_colours=together)).matches
    else:
        found = tuple(matches(bench, looked, rules))
    return [Carried(match, _lost(match)) for match in found]


def _lost(match: Match) -> str:
    best = next(iter(match.recipes), None)
    if best is None:
        return match.reach.why or "there is no recipe for it within these rules"
    apart = best.difference
    if apart.de00 <= _NO_LOSS:
        return ""
    said = f"it comes out {apart.words} (ΔE00 {apart.de00:.1f})"
    if match.reach.ok:
        return said
    helped = f"; {match.reach.would_help} would help" if match.reach.would_help else ""
    return f"{said}: {match.reach.why}{helped}"
