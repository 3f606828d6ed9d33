"""The search for ordered layers: a library of short stacks to begin from, then best-first local moves."""

from collections.abc import Collection, Iterator, Sequence
from functools import cached_property

import numpy as np

from caltin_core.colour.tables import Floats
from caltin_core.media.cautions import holds, overfull
from caltin_core.media.layers import MAX_PASSES, PRESSED, STROKE_INDEX, STROKES, Stroke
from caltin_core.media.predict import Start, Workbench, drawn_states, media_of
from caltin_core.media.stack import Drawn
from caltin_core.recipes.candidates import Candidates, FastBench, effort, joined, misses
from caltin_core.recipes.rules import NO_COLOUR, SPARED, Bools, Ints, Rules, allowed, count_colours, lengths, repeats, usable
from caltin_core.recipes.schools import Zone, follows, stage_table

# Ladders of strokes from coarse to complete; the library takes the finest whose pairs fit its budget.
_COARSE = (("medium", 2),)
_FEW = (("light", 2), ("medium", 2), ("burnish", 1))
_SOME = (("light", 1), ("light", 3), ("medium", 2), ("firm", 1), ("firm", 3), ("burnish", 1))
_MANY = (*_SOME, ("light", 5), ("medium", 1), ("medium", 4), ("firm", 2), ("burnish", 2), ("burnish", 3))
_EVERY = tuple((s.pressure, s.passes) for s in STROKES[:PRESSED] if s.point == "sharp" and not s.turned)
_LADDERS = (_EVERY, _MANY, _SOME, _FEW, _COARSE)

LIBRARY_BUDGET = 40_000
EVALUATIONS = 96_000
# In each round moves are made from so many of the best stacks, for the first few are seldom those that lead furthest, and from some
# with few colours or soft layers besides. A brief search, which looks at less, would have but one round with as many.
ROUNDS, EXPANDED, BESIDES, BRIEFLY = 24, 16, 2, 6
# A kit of so few colours is looked through more closely, where nothing good was found: among so many stacks of three layers.
SMALL, TRIPLES, _DEEP = 12, 120_000, 3
# Stacks that can all be looked at are so many, of layers of so many strokes: the pressures, in one to three passes.
COUNTABLE, PLAIN_STROKES = 5_000_000, 12
# Of so many orders of colours, then of fewer, the strokes change all at once; so many are opened for one more layer.
TUNED, OPENED = (60, 24, 8), 6
SHORTLIST = 20
NEAR = 4000
GOOD_ENOUGH = 0.06
# What a layer's work may be worth, in ΔE00, to one who takes a plainer recipe.
PLAIN = 0.5
# Where room is kept for recipes without specks and not too heavy: what a colour an L* off the target (a* and b* half) counts, and a
# coat or a burnished pass that is too much in one place, in ΔE00.
CALMER, HEAVIER = 0.04, 0.2
# The first moves are made from so many of them.
EVENLY = 6
# The search ends after so many rounds that gained less than this, in ΔE00.
CALM, GAIN = 2, 0.01
# What a recipe wholly in preferred colours may miss by more, in ΔE00.
PREFERENCE = 0.5


def _indices(ladder: Sequence[tuple[str, int]]) -> Ints:
    return np.array([STROKE_INDEX[Stroke(pressure, passes)] for pressure, passes in ladder], dtype=np.intp)


class Search:
    """Finds stacks for any number of targets on one bench, in one zone, from one start, under one set of rules.

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
        self.solids = np.array([s.lab for s in bench.swatches]).reshape(-1, 3)
        self.burden = np.array([s.handling.burden() + SPARED * (i in rules.spare) for i, s in enumerate(bench.swatches)])
        self.small = len(self.colours) <= SMALL
        self.width = min(rules.max_layers, 12)
        # Whether all its stacks could be looked at, so that the best there is can be told.
        self.countable = self.small or (PLAIN_STROKES * len(self.colours)) ** self.width <= COUNTABLE
        self.stages = stage_table(rules.school, bench.solids, self.fast.coats, zone) if rules.school else None
        self.library = self._library()

    def _library(self) -> Candidates:
        """Single layers with every stroke, and pairs with as many strokes as the budget allows."""
        count = len(self.colours)
        if count == 0:
            empty = np.empty((0, self.width), dtype=np.intp)
            return Candidates(empty, empty, np.empty((0, 3)), np.empty(0))
        one_c, one_s = self._plain(self.colours, _indices(_EVERY))
        singles = self._after(one_c[:0], one_s[:0], one_c, one_s, np.zeros(len(one_c), dtype=np.intp))
        if self.width < 2 or self.rules.max_colours < 2:
            return singles
        ladder = next((rung for rung in _LADDERS if (count * len(rung)) ** 2 <= LIBRARY_BUDGET), _COARSE)
        c, s = self._plain(self.colours, _indices(ladder))
        first, second = (m.ravel() for m in np.meshgrid(np.arange(len(c)), np.arange(len(c)), indexing="ij"))
        keep = ~repeats(np.stack([c[first], c[second]], axis=1), np.stack([s[first], s[second]], axis=1))
        pairs = self._after(c, s, c[second[keep]], s[second[keep]], first[keep])
        return joined([singles, pairs, *self._triples(LIBRARY_BUDGET)])

    def _triples(self, most: int) -> list[Candidates]:
        """Of a small kit, stacks of three too, at most so many of them."""
        count = len(self.colours)
        ladder = next((rung for rung in _LADDERS if (count * len(rung)) ** 3 <= most), None)
        if self.width < 3 or ladder is None:
            return []
        c, s = self._plain(self.colours, _indices(ladder))
        first, second, third = (m.ravel() for m in np.meshgrid(*[np.arange(len(c))] * 3, indexing="ij"))
        colour, stroke = (np.stack([v[first], v[second], v[third]], axis=1) for v in (c, s))
        fine = np.flatnonzero(~repeats(colour, stroke))
        states = self.fast.after_each(c[:, None], s[:, None])
        prefix = np.ones(len(fine), dtype=np.intp)
        return [self.fast.evaluate(self._padded(colour[fine]), self._padded(stroke[fine]), states, first[fine], prefix)]

    def _plain(self, colours: Ints, strokes: Ints) -> tuple[Ints, Ints]:
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
        return self.fast.evaluate(self._padded(rows_c), self._padded(rows_s), states, first, prefix)

    def _padded(self, rows: Ints) -> Ints:
        out = np.full((len(rows), self.width), NO_COLOUR, dtype=np.intp)
        out[:, : rows.shape[1]] = rows
        return out

    def short(self, target: Floats) -> Candidates:
        """The legal short stacks worth a look for one target, D50 Lab (3,)."""
        legal = self._legal_rows
        return self.library.take(self._near(legal, target) if legal.size else legal)

    @cached_property
    def _legal_rows(self) -> Ints:
        """The rows of the library that obey the rules."""
        library = self.library
        return np.flatnonzero(self._legal(library.colour, library.stroke)) if len(library) else np.empty(0, dtype=np.intp)

    @cached_property
    def _by_order(self) -> tuple[Candidates, Ints]:
        """The legal stacks of up to three layers, those of one order of colours together, and where each order begins."""
        fine = joined([self.library, *self._triples(TRIPLES)])
        fine = fine.take(np.flatnonzero(self._legal(fine.colour, fine.stroke)))
        colours = fine.colour[:, :_DEEP] + 1
        of = colours @ (1 + colours.max(initial=0)) ** np.arange(colours.shape[1])[::-1]
        order = np.argsort(of, kind="stable")
        return fine.take(order), np.flatnonzero(np.diff(of[order], prepend=-1))

    def find(self, target: Floats, most: int = EVALUATIONS) -> Candidates:
        """Every legal candidate worth keeping for one target, D50 Lab (3,), best first, after looking at about `most`."""
        short = self.short(target)
        if len(short) == 0:
            return short
        score = misses(short.lab, target, self.rules) - self.liking(short)
        shortlist = self._shortlist(short, score)
        done: set[bytes] = set()
        pool = self._sifted(short, score, target, 30)
        if not self.small and most >= EVALUATIONS and not self.fast.coats[self.colours].all():
            pool = self._evened(pool, shortlist, target, done)
        pool = self._improved(pool, shortlist, target, most, done)
        if self.small and most >= EVALUATIONS and misses(pool.lab, target, self.rules).min() > GOOD_ENOUGH:
            pool = self._improved(joined([pool, *self._tuned(target)]), shortlist, target, most, done)
        return pool.take(np.argsort(self.score(pool, target), kind="stable"))

    def _improved(self, pool: Candidates, shortlist: Ints, target: Floats, most: int, done: set[bytes]) -> Candidates:
        """The pool after best-first moves, until nothing is gained or about `most` stacks were looked at; what moves were made from
        already is `done`."""
        known = set(_keys(pool))
        spent, best_before, calm = 0, np.inf, 0
        wide, besides = (EXPANDED, BESIDES) if most >= EVALUATIONS else (BRIEFLY, 0)
        for turn in range(ROUNDS):
            score = self.score(pool, target)
            keys_here = _keys(pool)
            open_rows = [i for i in self._frontier(pool, score, wide) if keys_here[i] not in done]
            best = float(misses(pool.lab, target, self.rules).min())
            calm = calm + 1 if best_before - best < GAIN else 0
            best_before = min(best, best_before)
            settled = best < GOOD_ENOUGH and not self.rules.prefer
            if not open_rows or spent > most or calm >= CALM or (settled and turn > 1):
                break
            pool, looked = self._moved(pool, open_rows[: wide + besides], shortlist, target, known, done)
            spent += looked
        return pool

    def _evened(self, pool: Candidates, shortlist: Ints, target: Floats, done: set[bytes]) -> Candidates:
        """The pool with a few moves from stacks that show no specks and are not too heavy."""
        order = np.argsort(self.score(pool, target) + self._unease(pool, target), kind="stable")
        rows = [int(order[i]) for i in _unlike(pool.colour[order], EVENLY, each=1)]
        return self._moved(pool, rows, shortlist, target, set(_keys(pool)), done)[0]

    def _moved(
        self, pool: Candidates, rows: Sequence[int], shortlist: Ints, target: Floats, known: set[bytes], done: set[bytes]
    ) -> tuple[Candidates, int]:
        """The pool with all that moves from some of its rows lead to, and how many stacks were looked at; those `known` are not
        looked at again."""
        if not rows:
            return pool, 0
        parents = pool.take(np.array(rows))
        done.update(_keys(parents))
        colour, stroke, parent, prefix = self._moves(parents, shortlist)
        keys = {key: row for row, key in enumerate(_row_keys(colour, stroke)) if key not in known}
        if keys:
            known.update(keys)
            fresh = np.fromiter(keys.values(), dtype=np.intp)
            states = self.fast.after_each(parents.colour, parents.stroke)
            children = self.fast.evaluate(colour[fresh], stroke[fresh], states, parent[fresh], prefix[fresh])
            pool = joined([pool, children])
            pool = self._sifted(pool, self.score(pool, target), target, 60)
        return pool, len(keys)

    def _tuned(self, target: Floats) -> list[Candidates]:
        """For a small kit: of the best orders of up to three colours, and of the best with one put in, the best strokes.

        One stroke at a time does not lead there: the strokes of all layers change at once.
        """
        fine, starts = self._by_order
        apart = misses(fine.lab, target, self.rules)
        least = np.minimum.reduceat(apart, starts)
        at = np.flatnonzero(apart == np.repeat(least, np.diff([*starts, len(fine)])))
        out = list(self._steps(fine.take(at[np.argsort(apart[at], kind="stable")]), target))
        fewer = out[0].take(np.flatnonzero(lengths(out[0].colour) < min(self.width, _DEEP))[:OPENED])
        new_c, new_s = self._plain(self.colours, _indices(_SOME))
        parts = [
            (_with(_opened(c, at), at, new_c), _with(_opened(s, at), at, new_s))
            for c, s in zip(fewer.colour, fewer.stroke, strict=True)
            for at in range(int((c != NO_COLOUR).sum()) + 1)
        ]
        if parts:
            put_in = self._alone(parts)
            order = np.argsort(misses(put_in.lab, target, self.rules), kind="stable")
            out += self._steps(put_in.take(order[_unlike(put_in.colour[order], TUNED[0], each=1)]), target)
        return out

    def _steps(self, best: Candidates, target: Floats) -> Iterator[Candidates]:
        """Fewer and fewer of these, the best first, each with all its strokes changed at once, again and again."""
        for many in TUNED if len(best) else ():
            parts = [_jointly(c, s) for c, s in zip(best.colour[:many], best.stroke[:many], strict=True)]
            found = self._alone(parts)
            order = np.argsort(misses(found.lab, target, self.rules), kind="stable")
            best = found.take(order[_unlike(found.colour[order], many, each=1)])
            yield best

    def _alone(self, parts: Sequence[tuple[Ints, Ints]]) -> Candidates:
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

    def _near(self, rows: Ints, target: Floats) -> Ints:
        """The rows of the library worth a full look: the nearest by plain distance, and single layers always."""
        if self.rules.goal == "value" or len(rows) <= NEAR:
            return rows
        apart = ((self.library.lab[rows] - target) ** 2).sum(axis=1)
        apart[lengths(self.library.colour[rows]) == 1] = 0
        return rows[np.sort(np.argpartition(apart, NEAR)[:NEAR])]

    def score(self, pool: Candidates, target: Floats) -> Floats:
        """How far candidates miss (B,), with what awkward sticks add and preferred ones take off."""
        return misses(pool.lab, target, self.rules) + self.handling(pool) - self.liking(pool)

    def handling(self, pool: Candidates) -> Floats:
        """What awkward sticks and layers over a burnished surface add (B,), small against a difference."""
        laid = pool.colour != NO_COLOUR
        burden = np.where(laid, self.burden[pool.colour], 0.0).sum(axis=1)
        burnish = self.fast.strokes.burnish[pool.stroke] & laid
        after = laid[:, 1:] & (np.cumsum(burnish, axis=1)[:, :-1] > 0)
        out: Floats = burden + 0.005 * after.sum(axis=1) + 0.001 * lengths(pool.colour)
        return out

    def liking(self, pool: Candidates) -> Floats:
        """What preferred colours are worth (B,): up to PREFERENCE where every layer is in one."""
        mine = np.isin(pool.colour, np.array(sorted(self.rules.prefer), dtype=np.intp))
        out: Floats = PREFERENCE * mine.sum(axis=1) / lengths(pool.colour)
        return out

    def _sifted(self, pool: Candidates, score: Floats, target: Floats, keep: int) -> Candidates:
        """The best of the pool, with room for few colours, for soft layers, for little work, for colours near the target
        in no more coats than is well, and for unlike orders of colours."""
        order = np.argsort(score, kind="stable")
        colours = count_colours(pool.colour[order])
        soft = np.argsort(score[order] + 12 * pool.used[order], kind="stable")
        plain = np.argsort(score[order] + PLAIN * effort(pool)[order], kind="stable")
        calm = np.argsort((score + self._unease(pool, target))[order], kind="stable")
        chosen: dict[int, None] = {}
        for rows in (
            _unlike(pool.colour[order], keep, each=3),
            *(np.flatnonzero(colours == n)[: keep // 5] for n in (1, 2, 3)),
            soft[: keep // 4],
            plain[: keep // 4],
            calm[: keep // 4],
            calm[_unlike(pool.colour[order][calm], keep // 4, each=1)],
        ):
            chosen.update(dict.fromkeys(int(r) for r in rows))
        return pool.take(order[np.array(sorted(chosen), dtype=np.intp)])

    def _unease(self, pool: Candidates, target: Floats) -> Floats:
        """What specks and too much in one place count (B,), where room is kept for recipes without them: colours far off the target
        show as specks."""
        apart = np.linalg.norm((self.solids - target) * [1.0, 0.5, 0.5], axis=1)
        films = (pool.colour != NO_COLOUR) & ~self.fast.coats[pool.colour]
        off = np.where(films, apart[pool.colour], 0.0).max(axis=1)
        out: Floats = CALMER * off + HEAVIER * overfull(self.swatches, pool.colour, pool.stroke)
        return out

    def _frontier(self, pool: Candidates, score: Floats, many: int) -> list[int]:
        """Which candidates to expand next: the `many` best, and the best with few colours and with soft layers."""
        order = np.argsort(score, kind="stable")
        colours = count_colours(pool.colour)
        some = [int(i) for i in _unlike(pool.colour[order], many, each=2)]
        rows = [int(order[i]) for i in some]
        for n in (1, 2, 3):
            rows += [int(i) for i in order if colours[i] == n][:2]
        rows += [int(i) for i in np.argsort(score + 12 * pool.used, kind="stable")[:2]]
        return list(dict.fromkeys(rows))

    def _shortlist(self, pool: Candidates, score: Floats) -> Ints:
        """The colours offered as new layers: those that took part in the best short stacks."""
        if len(self.colours) <= SHORTLIST:
            return self.colours
        order = np.argsort(score, kind="stable")[:4000]
        seen = dict.fromkeys(int(c) for c in pool.colour[order].ravel() if c != NO_COLOUR)
        return np.array([*seen, *(int(c) for c in self.colours if int(c) not in seen)][:SHORTLIST], dtype=np.intp)

    def restroked(self, parents: Candidates) -> tuple[Ints, Ints]:
        """All legal stacks, as colours and strokes (B, L), that differ from one of `parents` in the stroke of one layer or of two
        layers at once."""
        out: list[tuple[Ints, Ints]] = []
        for c, s in zip(parents.colour, parents.stroke, strict=True):
            n = int((c != NO_COLOUR).sum())
            for at in range(n):
                others = _other_strokes(int(s[at]))
                out.append((_with(c, at, np.full(len(others), c[at])), _with(s, at, others)))
                for then in range(at + 1, n):
                    near, also = _near_strokes(int(s[at])), _near_strokes(int(s[then]))
                    both = _with(s, at, np.repeat(near, len(also)))
                    both[:, then] = np.tile(also, len(near))
                    out.append((np.repeat(c[None], len(both), axis=0), both))
        colour = np.concatenate([o[0] for o in out])
        stroke = self.fast.plain(colour, np.concatenate([o[1] for o in out]))
        fine = self._legal(colour, stroke) & ~repeats(colour, stroke)
        both = np.unique(np.concatenate([colour[fine], stroke[fine]], axis=1), axis=0)
        return both[:, : self.width], both[:, self.width :]

    def _moves(self, parents: Candidates, shortlist: Ints) -> tuple[Ints, Ints, Ints, Ints]:
        """All legal stacks one move away: another stroke or colour, a layer more, less, or exchanged.

        Gives colours and strokes (B, L), the parent of each (B,) and how many first layers it shares (B,).
        """
        out: list[tuple[Ints, Ints, int, int]] = []
        new_c, new_s = self._plain(shortlist, _NEW_LAYER)
        for row, (c, s) in enumerate(zip(parents.colour, parents.stroke, strict=True)):
            n = int((c != NO_COLOUR).sum())
            for at in range(n):
                other_s, other_c = _other_strokes(int(s[at])), shortlist[shortlist != c[at]]
                out.append((_with(c, at, np.full(len(other_s), c[at])), _with(s, at, other_s), row, at))
                out.append((_with(c, at, other_c), _with(s, at, np.full(len(other_c), s[at])), row, at))
                if n > 1:
                    out.append((_without(c, at), _without(s, at), row, at))
                if at + 1 < n:
                    swap = np.arange(self.width)
                    swap[[at, at + 1]] = at + 1, at
                    out.append((c[None, swap], s[None, swap], row, at))
            if n < self.width:
                # A school's order may ask for a layer in the middle.
                for at in (0, n) if self.stages is None and not self.small else range(n + 1):
                    out.append((_with(_opened(c, at), at, new_c), _with(_opened(s, at), at, new_s), row, at))
        colour = np.concatenate([o[0] for o in out])
        stroke = self.fast.plain(colour, np.concatenate([o[1] for o in out]))
        sizes = [len(o[0]) for o in out]
        parent, prefix = np.repeat([o[2] for o in out], sizes), np.repeat([o[3] for o in out], sizes)
        fine = self._legal(colour, stroke) & ~repeats(colour, stroke)
        return colour[fine], stroke[fine], parent[fine], prefix[fine]


_BESIDE = ((0, -1), (0, 1), (-1, 0), (1, 0), (-1, 1), (1, -1))
_AROUND = (*_BESIDE, (-1, -1), (1, 1))
_NEW_LAYER = _indices((("light", 1), ("light", 4), ("medium", 3), ("burnish", 1)))


def _other_strokes(stroke: int) -> Ints:
    """Every pressure and number of passes with the same point and turn, and the same with those changed."""
    block = stroke - stroke % len(_EVERY)
    same = np.arange(block, block + len(_EVERY))
    others = stroke % len(_EVERY) + len(_EVERY) * np.arange(PRESSED // len(_EVERY))
    both = np.concatenate([same, others])
    out: Ints = both[both != stroke]
    return out


def _near_strokes(stroke: int, steps: Sequence[tuple[int, int]] = _BESIDE) -> Ints:
    """The strokes so many pressures harder and passes more than this one, where there are such."""
    block = stroke - stroke % len(_EVERY)
    pressure, passes = divmod(stroke - block, MAX_PASSES)
    there = [(pressure + dp, passes + dn) for dp, dn in steps]
    fine = [p * MAX_PASSES + n for p, n in there if 0 <= p < len(_EVERY) // MAX_PASSES and 0 <= n < MAX_PASSES]
    return np.array([block + x for x in fine], dtype=np.intp)


def _jointly(colour: Ints, stroke: Ints) -> tuple[Ints, Ints]:
    """One stack (L,) with the strokes of all its layers as they are or a step away, in every combination (B, L)."""
    count = int((colour != NO_COLOUR).sum())
    near = [np.concatenate([[s], _near_strokes(int(s), _AROUND)]) for s in stroke[:count]]
    grid = np.stack([m.ravel() for m in np.meshgrid(*near, indexing="ij")], axis=1)
    out = np.repeat(stroke[None], len(grid), axis=0)
    out[:, :count] = grid
    return np.repeat(colour[None], len(grid), axis=0), out


def _with(row: Ints, position: int, values: Ints) -> Ints:
    out = np.repeat(row[None], len(values), axis=0)
    out[:, position] = values
    return out


def _without(row: Ints, position: int) -> Ints:
    out: Ints = np.concatenate([np.delete(row, position), [NO_COLOUR]])[None]
    return out


def _opened(row: Ints, position: int) -> Ints:
    return np.concatenate([row[:position], [NO_COLOUR], row[position:-1]])


def _row_keys(colour: Ints, stroke: Ints) -> list[bytes]:
    both = np.ascontiguousarray(np.concatenate([colour, stroke], axis=1).astype(np.int16))
    return [row.tobytes() for row in both]


def _keys(pool: Candidates) -> list[bytes]:
    return _row_keys(pool.colour, pool.stroke)


def _unlike(colour: Ints, keep: int, each: int) -> Ints:
    """The first `keep` rows (of rows in order of merit) with at most `each` of one order of colours."""
    rows: list[int] = []
    counts: dict[bytes, int] = {}
    for index, row in enumerate(colour[: 40 * keep].astype(np.int16)):
        key = row.tobytes()
        if counts.get(key, 0) < each:
            counts[key] = counts.get(key, 0) + 1
            rows.append(index)
            if len(rows) == keep:
                break
    return np.array(rows, dtype=np.intp)
