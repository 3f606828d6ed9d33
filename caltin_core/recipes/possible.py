"""What may be laid at all: the stacks of a kit that obey the rules, short ones in a library and those one move from others."""

from collections.abc import Collection, Sequence
from functools import cached_property

import numpy as np

from caltin_core.colour.tables import Bools, Ints
from caltin_core.media.cautions import Deadened, holds
from caltin_core.media.predict import drawn_states, media_of
from caltin_core.media.stack import Drawn
from caltin_core.media.workbench import Start, Workbench
from caltin_core.recipes.candidates import Candidates, FastBench, joined
from caltin_core.recipes.ladders import COARSE, EVERY, LADDERS, NEW_LAYER, indices, near_strokes, other_strokes
from caltin_core.recipes.padded import NO_COLOUR
from caltin_core.recipes.rules import SPARED, Rules, allowed, repeats, usable
from caltin_core.recipes.schools import Zone, follows, leaves_out, stage_table, wanted_in

LIBRARY_BUDGET = 40_000
# A kit of so few colours is looked through more closely, where nothing good was found: among so many stacks of three layers.
SMALL, TRIPLES, DEEP = 12, 120_000, 3
# Stacks that can all be looked at are so many, of layers of so many strokes: the pressures, in one to three passes.
COUNTABLE, PLAIN_STROKES = 5_000_000, 12


class Possible:
    """The legal stacks on one bench, in one zone, from one start, under one set of rules.

    What is `drawn` already is in the media `below`. Nothing is laid where it does not hold.
    """

    def __init__(
        self, bench: Workbench, rules: Rules, start: Start | None = None, zone: Zone | None = None, drawn: Drawn | None = None,
        below: Collection[str] = (),
    ) -> None:  # fmt: skip
        self.rules = rules
        if start is not None and start.layers:
            (drawn,), below = drawn_states(bench, [start.layers]), media_of(bench, start.layers)
        elif start is not None and start.medium:
            below = (start.medium,)
        self.fast = FastBench(bench, start, drawn)
        media = [s.medium for s in bench.swatches]
        self.colours = np.array([c for c in usable(bench, rules) if all(holds(m, media[c]) for m in below)], dtype=np.intp)
        # Which colours (columns) do not hold where others (rows) lie; padding, the last of either, holds everywhere.
        self.slips = np.zeros((len(media) + 1, len(media) + 1), dtype=bool)
        known, at = np.unique(media, return_inverse=True)
        for i, one in enumerate(known):
            for j, other in enumerate(known):
                self.slips[np.ix_(np.flatnonzero(at == i), np.flatnonzero(at == j))] = not holds(str(one), str(other))
        self.black: Bools = np.array([s.is_black for s in bench.swatches], dtype=bool)
        self.swatches = bench.swatches
        self.deadened = Deadened(bench.swatches, of_skin=rules.skin)
        self.solids = np.array([s.lab for s in bench.swatches]).reshape(-1, 3)
        self.burden = np.array([s.handling.burden() + SPARED * (i in rules.spare) for i, s in enumerate(bench.swatches)])
        self.small = len(self.colours) <= SMALL
        self.width = min(rules.max_layers, 12)
        # Whether all its stacks could be looked at, so that the best there is can be told.
        self.countable = self.small or (PLAIN_STROKES * len(self.colours)) ** self.width <= COUNTABLE
        self.stages = stage_table(rules.school, bench, zone) if rules.school else None
        # What the school is chosen for; what begins on something drawn has left that behind.
        self.wanted = wanted_in(rules.school, zone) if rules.school and rules.skin and start is None else ()
        self.library = self._library()

    def _library(self) -> Candidates:
        """Single layers with every stroke, and pairs with as many strokes as the budget allows."""
        count = len(self.colours)
        if count == 0:
            empty = np.empty((0, self.width), dtype=np.intp)
            return Candidates(empty, empty, np.empty((0, 3)), np.empty(0), np.empty(0))
        one_c, one_s = self.plain(self.colours, indices(EVERY))
        singles = self._after(one_c[:0], one_s[:0], one_c, one_s, np.zeros(len(one_c), dtype=np.intp))
        if self.width < 2 or self.rules.max_colours < 2:
            return singles
        ladder = next((rung for rung in LADDERS if (count * len(rung)) ** 2 <= LIBRARY_BUDGET), COARSE)
        c, s = self.plain(self.colours, indices(ladder))
        first, second = (m.ravel() for m in np.meshgrid(np.arange(len(c)), np.arange(len(c)), indexing="ij"))
        keep = ~repeats(np.stack([c[first], c[second]], axis=1), np.stack([s[first], s[second]], axis=1))
        pairs = self._after(c, s, c[second[keep]], s[second[keep]], first[keep])
        return joined([singles, pairs, *self._triples(LIBRARY_BUDGET)])

    def _triples(self, most: int) -> list[Candidates]:
        """Of a small kit, stacks of three too, at most so many of them."""
        count = len(self.colours)
        ladder = next((rung for rung in LADDERS if (count * len(rung)) ** 3 <= most), None)
        if self.width < 3 or ladder is None:
            return []
        c, s = self.plain(self.colours, indices(ladder))
        first, second, third = (m.ravel() for m in np.meshgrid(*[np.arange(len(c))] * 3, indexing="ij"))
        colour, stroke = (np.stack([v[first], v[second], v[third]], axis=1) for v in (c, s))
        fine = np.flatnonzero(~repeats(colour, stroke))
        states = self.fast.after_each(c[:, None], s[:, None])
        prefix = np.ones(len(fine), dtype=np.intp)
        return [self.fast.evaluate(self.padded(colour[fine]), self.padded(stroke[fine]), states, first[fine], prefix)]

    def plain(self, colours: Ints, strokes: Ints) -> tuple[Ints, Ints]:
        """Every one of `colours` with every one of `strokes`, those once that come to the same coats."""
        colour, stroke = (m.ravel() for m in np.meshgrid(colours, strokes, indexing="ij"))
        stroke = self.fast.plain(colour, stroke)
        both = np.unique(np.stack([colour, stroke], axis=1), axis=0)
        return both[:, 0], both[:, 1]

    def _after(self, first_c: Ints, first_s: Ints, colour: Ints, stroke: Ints, first: Ints) -> Candidates:
        """One more layer on single layers (or on bare ground, where none are given)."""
        depth = 1 if len(first_c) else 0
        below_c, below_s = (first_c[:, None], first_s[:, None]) if depth else (colour[:1, None], stroke[:1, None])
        states = self.fast.after_each(below_c, below_s)
        rows_c = np.concatenate([below_c[first], colour[:, None]], axis=1)[:, 1 - depth :]
        rows_s = np.concatenate([below_s[first], stroke[:, None]], axis=1)[:, 1 - depth :]
        prefix = np.full(len(colour), depth, dtype=np.intp)
        return self.fast.evaluate(self.padded(rows_c), self.padded(rows_s), states, first, prefix)

    def padded(self, rows: Ints) -> Ints:
        """The rows (B, n) in the width of all stacks (B, L)."""
        out = np.full((len(rows), self.width), NO_COLOUR, dtype=np.intp)
        out[:, : rows.shape[1]] = rows
        return out

    @cached_property
    def legal_rows(self) -> Ints:
        """The rows of the library that obey the rules."""
        library = self.library
        return np.flatnonzero(self._legal(library.colour, library.stroke)) if len(library) else np.empty(0, dtype=np.intp)

    @cached_property
    def by_order(self) -> tuple[Candidates, Ints]:
        """The legal stacks of up to three layers, those of one order of colours together, and where each order begins."""
        fine = joined([self.library, *self._triples(TRIPLES)])
        fine = fine.take(np.flatnonzero(self._legal(fine.colour, fine.stroke)))
        colours = fine.colour[:, :DEEP] + 1
        of = colours @ (1 + colours.max(initial=0)) ** np.arange(colours.shape[1])[::-1]
        order = np.argsort(of, kind="stable")
        return fine.take(order), np.flatnonzero(np.diff(of[order], prepend=-1))

    def alone(self, parts: Sequence[tuple[Ints, Ints]]) -> Candidates:
        """The legal ones of stacks (B, L), predicted from where the search begins."""
        colour, stroke = np.concatenate([c for c, _ in parts]), np.concatenate([s for _, s in parts])
        stroke = self.fast.plain(colour, stroke)
        fine = self._legal(colour, stroke) & ~repeats(colour, stroke)
        return self.fast.evaluate_alone(colour[fine], stroke[fine])

    def _legal(self, colour: Ints, stroke: Ints) -> Bools:
        """Which stacks (B, L) obey the rules, the school's order too."""
        fine = allowed(colour, self.black, self.rules)
        if self.fast.coats.any():
            fine = fine & ~self.fast.idle(colour, stroke)
        if self.slips.any():
            for at in range(colour.shape[1] - 1):
                fine = fine & ~self.slips[colour[:, at, None], colour[:, at + 1 :]].any(axis=1)
        if self.stages is not None:
            fine = fine & follows(colour, stroke, self.stages)
        return fine

    def left_out(self, colour: Ints, stroke: Ints) -> Ints:
        """How many stages that the school wants here stacks (B, L) leave out (B,)."""
        out = np.zeros(len(colour), dtype=np.intp)
        if self.stages is not None:
            for stage in self.wanted:
                out += leaves_out(colour, stroke, self.stages, stage)
        return out

    def restroked(self, parents: Candidates) -> tuple[Ints, Ints]:
        """All legal stacks, as colours and strokes (B, L), that differ from one of `parents` in the stroke of one layer or of two
        layers at once."""
        out: list[tuple[Ints, Ints]] = []
        for c, s in zip(parents.colour, parents.stroke, strict=True):
            n = int((c != NO_COLOUR).sum())
            for at in range(n):
                others = other_strokes(int(s[at]))
                out.append((put_in(c, at, np.full(len(others), c[at])), put_in(s, at, others)))
                for then in range(at + 1, n):
                    near, also = near_strokes(int(s[at])), near_strokes(int(s[then]))
                    both = put_in(s, at, np.repeat(near, len(also)))
                    both[:, then] = np.tile(also, len(near))
                    out.append((np.repeat(c[None], len(both), axis=0), both))
        colour = np.concatenate([o[0] for o in out])
        stroke = self.fast.plain(colour, np.concatenate([o[1] for o in out]))
        fine = self._legal(colour, stroke) & ~repeats(colour, stroke)
        both = np.unique(np.concatenate([colour[fine], stroke[fine]], axis=1), axis=0)
        return both[:, : self.width], both[:, self.width :]

    def moved_from(self, parents: Candidates, shortlist: Ints) -> tuple[Ints, Ints, Ints, Ints]:
        """All legal stacks one move away: another stroke or colour, a layer more, less, or exchanged.

        Gives colours and strokes (B, L), the parent of each (B,) and how many first layers it shares (B,).
        """
        out: list[tuple[Ints, Ints, int, int]] = []
        new_c, new_s = self.plain(shortlist, NEW_LAYER)
        for row, (c, s) in enumerate(zip(parents.colour, parents.stroke, strict=True)):
            n = int((c != NO_COLOUR).sum())
            for at in range(n):
                other_s, other_c = other_strokes(int(s[at])), shortlist[shortlist != c[at]]
                out.append((put_in(c, at, np.full(len(other_s), c[at])), put_in(s, at, other_s), row, at))
                out.append((put_in(c, at, other_c), put_in(s, at, np.full(len(other_c), s[at])), row, at))
                if n > 1:
                    out.append((taken_out(c, at), taken_out(s, at), row, at))
                if at + 1 < n:
                    swap = np.arange(self.width)
                    swap[[at, at + 1]] = at + 1, at
                    out.append((c[None, swap], s[None, swap], row, at))
            if n < self.width:
                # A school's order may ask for a layer in the middle.
                for at in (0, n) if self.stages is None and not self.small else range(n + 1):
                    out.append((put_in(opened(c, at), at, new_c), put_in(opened(s, at), at, new_s), row, at))
        colour = np.concatenate([o[0] for o in out])
        stroke = self.fast.plain(colour, np.concatenate([o[1] for o in out]))
        sizes = [len(o[0]) for o in out]
        parent, prefix = np.repeat([o[2] for o in out], sizes), np.repeat([o[3] for o in out], sizes)
        fine = self._legal(colour, stroke) & ~repeats(colour, stroke)
        return colour[fine], stroke[fine], parent[fine], prefix[fine]


def put_in(row: Ints, position: int, values: Ints) -> Ints:
    """A row (L,) once for each of the values (B,), which stand at the position (B, L)."""
    out = np.repeat(row[None], len(values), axis=0)
    out[:, position] = values
    return out


def taken_out(row: Ints, position: int) -> Ints:
    """A row (L,) without what stands at the position (1, L)."""
    out: Ints = np.concatenate([np.delete(row, position), [NO_COLOUR]])[None]
    return out


def opened(row: Ints, position: int) -> Ints:
    """A row (L,) with room at the position."""
    return np.concatenate([row[:position], [NO_COLOUR], row[position:-1]])
