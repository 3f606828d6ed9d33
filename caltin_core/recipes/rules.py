"""The rules a recipe obeys, checked for many stacks at once."""

from dataclasses import dataclass, replace
from typing import Literal

import numpy as np

from caltin_core.colour.tables import Bools, Ints
from caltin_core.media.layers import HARDNESS
from caltin_core.media.workbench import Workbench
from caltin_core.recipes.padded import NO_COLOUR, count_colours, lengths
from caltin_core.recipes.schools import School

BlackPolicy = Literal["never", "under", "last", "allowed"]
Goal = Literal["colour", "value"]
BLACK_POLICIES: tuple[BlackPolicy, ...] = ("never", "under", "last", "allowed")
# What a stick that is nearly used up must win, in ΔE00 (common practice).
SPARED = 0.5
PRESSURE_OF_STROKE = np.array(HARDNESS)


@dataclass(frozen=True)
class Rules:
    """What a recipe may do.

    `max_layers` counts coloured layers (several passes are one), `max_colours` different colours.
    `black`: never; under (another colour lies above it); last (nothing lies above it); allowed.
    `avoid`, `prefer` and `spare` (used only where it is worth `SPARED` ΔE00) are places in the kit. What is not of `skin` no
    marker's grey deadens and, by `for_role`, no school binds.
    """

    max_layers: int = 5
    max_colours: int = 4
    black: BlackPolicy = "last"
    avoid: frozenset[int] = frozenset()
    prefer: frozenset[int] = frozenset()
    goal: Goal = "colour"
    school: School | None = None
    spare: frozenset[int] = frozenset()
    skin: bool = True

    def for_role(self, black: BlackPolicy | None, *, skin: bool) -> "Rules":
        """The same rules under a role's own policy for black, and for what is of skin or not, which no school binds."""
        school = self.school if skin else None
        if black in (None, self.black) and skin == self.skin and school is self.school:
            return self
        return replace(self, black=black or self.black, skin=skin, school=school)


def usable(bench: Workbench, rules: Rules) -> Ints:
    """The colours (n,) the rules leave."""
    banned = set(rules.avoid)
    if rules.black == "never":
        banned |= {i for i, s in enumerate(bench.swatches) if s.is_black}
    return np.array([i for i in range(len(bench.swatches)) if i not in banned], dtype=np.intp)


def allowed(colour: Ints, black: Bools, rules: Rules) -> Bools:
    """Which stacks (B,) of colours (B, L) obey the rules. `black` (N,) tells the blacks of the kit.

    Bans are met by never offering a banned colour; see `usable`. Schools look at strokes too; see `schools.follows`.
    """
    length = lengths(colour)
    fine: Bools = (length >= 1) & (length <= rules.max_layers) & (count_colours(colour) <= rules.max_colours)
    if rules.black == "allowed" or not black.any():
        return fine
    dark = np.where(colour == NO_COLOUR, False, black[colour])
    last = np.arange(colour.shape[1]) == (length - 1)[:, None]
    wrong = {"last": dark & ~last, "under": dark & last}.get(rules.black, dark)
    fine &= ~wrong.any(axis=1)
    return fine


def repeats(colour: Ints, stroke: Ints) -> Bools:
    """Stacks (B,) that lay one colour twice running at one pressure, where more passes would say the same, or three times running
    at any: no one draws so."""
    same = (colour[:, 1:] == colour[:, :-1]) & (colour[:, 1:] != NO_COLOUR)
    pressure = PRESSURE_OF_STROKE[stroke]
    out: Bools = (same & (pressure[:, 1:] == pressure[:, :-1])).any(axis=1) | (same[:, 1:] & same[:, :-1]).any(axis=1)
    return out
