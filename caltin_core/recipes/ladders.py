"""Which strokes a search tries: ladders of them from coarse to complete, and the strokes a step away from one."""

from collections.abc import Sequence

import numpy as np

from caltin_core.colour.tables import Ints
from caltin_core.media.layers import MAX_PASSES, PRESSED, STROKE_INDEX, STROKES, Stroke
from caltin_core.recipes.padded import NO_COLOUR

# The library takes the finest of these whose pairs fit its budget.
COARSE = (("medium", 2),)
_FEW = (("light", 2), ("medium", 2), ("burnish", 1))
SOME = (("light", 1), ("light", 3), ("medium", 2), ("firm", 1), ("firm", 3), ("burnish", 1))
_MANY = (*SOME, ("light", 5), ("medium", 1), ("medium", 4), ("firm", 2), ("burnish", 2), ("burnish", 3))
EVERY = tuple((s.pressure, s.passes) for s in STROKES[:PRESSED] if s.point == "sharp" and not s.turned)
LADDERS = (EVERY, _MANY, SOME, _FEW, COARSE)
_BESIDE = ((0, -1), (0, 1), (-1, 0), (1, 0), (-1, 1), (1, -1))
_AROUND = (*_BESIDE, (-1, -1), (1, 1))


def indices(ladder: Sequence[tuple[str, int]]) -> Ints:
    """The places of pressures and passes in the table of all strokes."""
    return np.array([STROKE_INDEX[Stroke(pressure, passes)] for pressure, passes in ladder], dtype=np.intp)


# What a layer that is put in may be laid with.
NEW_LAYER = indices((("light", 1), ("light", 4), ("medium", 3), ("burnish", 1)))


def other_strokes(stroke: int) -> Ints:
    """Every pressure and number of passes with the same point and turn, and the same with those changed."""
    block = stroke - stroke % len(EVERY)
    same = np.arange(block, block + len(EVERY))
    others = stroke % len(EVERY) + len(EVERY) * np.arange(PRESSED // len(EVERY))
    both = np.concatenate([same, others])
    out: Ints = both[both != stroke]
    return out


def near_strokes(stroke: int, steps: Sequence[tuple[int, int]] = _BESIDE) -> Ints:
    """The strokes so many pressures harder and passes more than this one, where there are such."""
    block = stroke - stroke % len(EVERY)
    pressure, passes = divmod(stroke - block, MAX_PASSES)
    there = [(pressure + dp, passes + dn) for dp, dn in steps]
    fine = [p * MAX_PASSES + n for p, n in there if 0 <= p < len(EVERY) // MAX_PASSES and 0 <= n < MAX_PASSES]
    return np.array([block + x for x in fine], dtype=np.intp)


def jointly(colour: Ints, stroke: Ints) -> tuple[Ints, Ints]:
    """One stack (L,) with the strokes of all its layers as they are or a step away, in every combination (B, L)."""
    count = int((colour != NO_COLOUR).sum())
    near = [np.concatenate([[s], near_strokes(int(s), _AROUND)]) for s in stroke[:count]]
    grid = np.stack([m.ravel() for m in np.meshgrid(*near, indexing="ij")], axis=1)
    out = np.repeat(stroke[None], len(grid), axis=0)
    out[:, :count] = grid
    return np.repeat(colour[None], len(grid), axis=0), out
