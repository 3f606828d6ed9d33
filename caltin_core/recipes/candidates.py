"""Candidate stacks as arrays, evaluated many at a time in single precision."""

from collections.abc import Iterator
from dataclasses import dataclass

import numpy as np

from caltin_core.colour.difference import chroma, delta_e_2000, hue_angle
from caltin_core.colour.spaces import lab_from_xyz
from caltin_core.colour.spectra import weights
from caltin_core.colour.tables import Floats
from caltin_core.media.film import seen_together
from caltin_core.media.layers import STROKES, Lay
from caltin_core.media.pencil import Colourants, Drawn, Strokes, bare, lay
from caltin_core.media.predict import Start, Workbench
from caltin_core.recipes.rules import NO_COLOUR, Ints, Rules, lengths

CHUNK = 320


@dataclass(frozen=True)
class Candidates:
    """B stacks: `colour`, `stroke` (B, L) padded with -1; predicted `lab` (B, 3) and tooth `used` (B,)."""

    colour: Ints
    stroke: Ints
    lab: Floats
    used: Floats

    def take(self, rows: Ints) -> "Candidates":
        """The candidates at `rows`."""
        return Candidates(self.colour[rows], self.stroke[rows], self.lab[rows], self.used[rows])

    def layers(self, row: int) -> tuple[Lay, ...]:
        """The layers of one candidate."""
        pairs = zip(self.colour[row], self.stroke[row], strict=True)
        return tuple(Lay(int(c), STROKES[int(s)]) for c, s in pairs if c != NO_COLOUR)

    def __len__(self) -> int:
        return len(self.colour)


def joined(parts: list[Candidates]) -> Candidates:
    """All candidates of several sets."""
    return Candidates(*(np.concatenate([getattr(p, n) for p in parts]) for n in ("colour", "stroke", "lab", "used")))


class FastBench:
    """A workbench for searching: single precision, every second band. Final recipes are predicted in full.

    Bands left out are taken to lie on straight lines between those kept, so the weights are theirs too.
    """

    def __init__(self, bench: Workbench, start: Start | None) -> None:
        self.tooth = bench.tooth
        c, s = bench.colourants, bench.strokes

        def thin(spectra: Floats) -> Floats:
            return np.ascontiguousarray(spectra[..., ::2], dtype=np.float32)

        per_colour = (np.asarray(row, dtype=np.float32) for row in (c.deposit, c.merge, c.even))
        self.colourants = Colourants(thin(c.k), thin(c.s), *per_colour)
        self.strokes = Strokes(s.rate.astype(np.float32), s.again.astype(np.float32), s.burnish)
        ground = thin(start.reflectance if start else bench.ground.reflectance)
        self._one = bare(ground, 1, start.tooth_used if start else 0.0, bench.tooth)
        table, self._white = weights()
        between = table[1::2] / 2
        kept = table[::2].copy()
        kept[:-1] += between
        kept[1:] += between
        self._table = kept.astype(np.float32)

    def begin(self, count: int) -> Drawn:
        """`count` stacks with nothing laid."""
        return self._one.take(np.zeros(count, dtype=np.intp))

    def lay(self, drawn: Drawn, colour: Ints, stroke: Ints) -> Drawn:
        """Lay one layer on each of B stacks."""
        return lay(drawn, self.colourants, self.strokes, self.tooth, colour, stroke)

    def after_each(self, colour: Ints, stroke: Ints) -> list[Drawn]:
        """The states of stacks (B, L) after each layer, bare ground first; padding lays a first colour lightly."""
        states = [self.begin(len(colour))]
        for position in range(colour.shape[1]):
            states.append(self.lay(states[-1], np.maximum(colour[:, position], 0), np.maximum(stroke[:, position], 0)))
        return states

    def evaluate(self, colour: Ints, stroke: Ints, states: list[Drawn], parent: Ints, prefix: Ints) -> Candidates:
        """Predict stacks (B, L), padded with -1, that share their first `prefix` (B,) layers with stack
        `parent` (B,) of `states`, as `after_each` gave them."""
        count = len(colour)
        lab, used = np.empty((count, 3)), np.empty(count)
        length = lengths(colour)
        burnish = ((self.strokes.burnish[stroke] & (colour != NO_COLOUR)) << np.arange(colour.shape[1])).sum(axis=1)
        for rows, shared, many in _batches(prefix, length, burnish):
            drawn = states[shared].take(parent[rows])
            for position in range(shared, many):
                drawn = self.lay(drawn, colour[rows, position], stroke[rows, position])
            seen = seen_together(drawn.seen) @ self._table
            lab[rows] = lab_from_xyz(seen.astype(float), self._white)
            used[rows] = drawn.fill.mean(axis=1) / self.tooth.capacity
        return Candidates(colour, stroke, lab, used)


def _batches(prefix: Ints, length: Ints, burnish: Ints) -> Iterator[tuple[Ints, int, int]]:
    """Rows that share prefix and length, those that burnish alike next to each other, in chunks."""
    order = np.lexsort((burnish, length, prefix))
    both = prefix[order] * 1000 + length[order]
    for group in np.split(order, np.flatnonzero(np.diff(both)) + 1):
        for at in range(0, len(group), CHUNK):
            rows = group[at : at + CHUNK]
            if len(rows):
                yield rows, int(prefix[rows[0]]), int(length[rows[0]])


def misses(lab: Floats, target: Floats, rules: Rules) -> Floats:
    """How far predicted colours (B, 3) miss the target (3,), by the goal of the rules.

    Goal *colour*: ΔE00. Goal *value*: |ΔL*| first; hue is free among reds, violets, oranges and browns,
    while a drift to green, dead grey or raw yellow costs (common practice).
    """
    de00 = delta_e_2000(target, lab)
    if rules.goal == "colour":
        return de00
    hue, strength = hue_angle(lab), chroma(lab)
    green = np.clip(np.minimum(hue - 95, 290 - hue) / 30, 0, 1) * np.clip(strength / 10, 0, 1)
    dead = np.clip(1 - strength / max(4.0, 0.4 * float(chroma(target))), 0, 1)
    raw = np.clip((hue - 74) / 12, 0, 1) * (hue < 110) * np.clip((strength - 28) / 12, 0, 1)
    out: Floats = np.abs(lab[:, 0] - target[0]) + 3 * (green + dead + raw) + 0.02 * de00
    return out
