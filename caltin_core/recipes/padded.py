"""Many stacks of layers at once, as tables of colours: a row each, padded at its end where a stack is shorter."""

import numpy as np

from caltin_core.colour.tables import Ints

NO_COLOUR = -1


def lengths(colour: Ints) -> Ints:
    """Number of layers (B,) of stacks (B, L)."""
    out: Ints = (colour != NO_COLOUR).sum(axis=1)
    return out


def count_colours(colour: Ints) -> Ints:
    """Number of different colours (B,) of stacks (B, L)."""
    ordered = np.sort(colour, axis=1)
    new = np.ones_like(ordered, dtype=bool)
    new[:, 1:] = ordered[:, 1:] != ordered[:, :-1]
    out: Ints = (new & (ordered != NO_COLOUR)).sum(axis=1)
    return out
