"""A ramp of recipes from one role to another, with the transition that is missing named."""

from collections.abc import Sequence
from dataclasses import dataclass, replace
from itertools import pairwise

import numpy as np

from caltin_core.colour.tables import Floats
from caltin_core.colour.words import tone_words
from caltin_core.media.layers import Lay
from caltin_core.media.predict import predict
from caltin_core.media.workbench import Workbench
from caltin_core.recipes.family import Member, family
from caltin_core.recipes.match import Match
from caltin_core.recipes.rules import Rules
from caltin_core.recipes.targets import Target

# One colour that neither end has may make a transition; steps farther apart than this (ΔE) are seen as a jump (common practice).
_MORE, _JUMP = 1, 14.0
# A transition is laid in few layers, or it is not laid at all (common practice).
_LAYERS = 3


@dataclass(frozen=True)
class Ramp:
    """The matches of every step, both ends among them; and what is missing, or empty."""

    steps: tuple[Match, ...]
    missing: str


def ramp(bench: Workbench, first: Sequence[Lay], last: Sequence[Lay], between: int, rules: Rules) -> Ramp:
    """Recipes in even steps from what the layers `first` look like to `last`, with `between` steps in the middle.

    They are made of the colours of both ends and one more; a step these do not reach is told, with the colour that would.
    """
    ends = [seen.lab for seen in predict(bench, [first, last])]
    share = np.linspace(0, 1, between + 2)
    labs: list[Floats] = [ends[0] * (1 - s) + ends[1] * s for s in share]
    names = ["the first end", *(f"step {i} of {between}" for i in range(1, between + 1)), "the other end"]
    members = [
        Member(Target(name, lab), 1.0, tuple(j for j in (i - 1, i + 1) if 0 <= j < len(labs)))
        for i, (name, lab) in enumerate(zip(names, labs, strict=True))
    ]
    members[0] = replace(members[0], pinned=tuple(first))
    members[-1] = replace(members[-1], pinned=tuple(last))
    colours = {x.colour for x in (*first, *last)}
    found = family(
        bench, members, replace(rules, school=None, max_layers=min(rules.max_layers, _LAYERS), max_colours=len(colours) + _MORE)
    )
    return Ramp(found.matches, _missing(found.matches))


def _missing(steps: Sequence[Match]) -> str:
    """The first transition that cannot be made, or that jumps, as a sentence."""
    for step in steps[1:-1]:
        if not step.reach.ok or not step.recipes:
            return f"At {step.role} a transition is missing: {step.reach.why}. What would make it: {step.reach.would_help}."
    labs = [s.recipes[0].prediction.lab for s in steps if s.recipes]
    apart = [float(np.linalg.norm(b - a)) for a, b in pairwise(labs)]
    if apart and max(apart) > _JUMP:
        at = int(np.argmax(apart))
        middle = (labs[at] + labs[at + 1]) / 2
        between = f"{steps[at].role} and {steps[at + 1].role}"
        return f"Between {between} the ramp still jumps: lay a {tone_words(middle)} between, or take more steps."
    return ""
