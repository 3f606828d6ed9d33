"""The search for ordered layers: from a library of short stacks by best-first local moves."""

from collections.abc import Iterator, Sequence

import numpy as np

from caltin_core.colour.tables import Floats, Ints
from caltin_core.media.cautions import overfull
from caltin_core.recipes.candidates import Candidates, effort, joined, misses
from caltin_core.recipes.ladders import SOME, indices, jointly
from caltin_core.recipes.padded import NO_COLOUR, count_colours, lengths
from caltin_core.recipes.possible import DEEP, Possible, opened, put_in

EVALUATIONS = 96_000
# In each round moves are made from so many of the best stacks, for the first few are seldom those that lead furthest, and from some
# with few colours or soft layers besides. A brief search, which looks at less, would have but one round with as many.
ROUNDS, EXPANDED, BESIDES, BRIEFLY = 24, 16, 2, 6
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
# And what an L* of the specks themselves counts, where room is kept for recipes that show few.
SMOOTHER = 0.1
# The first moves are made from so many of them.
EVENLY = 6
# So many that show less than this share of the specks of the nearest are tried in other strokes.
SMOOTHLY, FEW = 12, 0.6
# The search ends after so many rounds that gained less than this, in ΔE00.
CALM, GAIN = 2, 0.01
# What a grey over skin, which is warned of, must win, in ΔE00: as much as nobody sees.
DEADENED = 0.25
# What a recipe may miss by more that has a stage which its school is chosen for, in ΔE00.
SCHOOLED = 0.6
# Room is kept, and moves are made, where that counts so many times as much.
FOLLOWED = 4
# What a recipe wholly in preferred colours may miss by more, in ΔE00.
PREFERENCE = 0.5


class Search(Possible):
    """Finds stacks for any number of targets on one bench, in one zone, from one start, under one set of rules."""

    def short(self, target: Floats) -> Candidates:
        """The legal short stacks worth a look for one target, D50 Lab (3,)."""
        legal = self.legal_rows
        return self.library.take(self._near(legal, target) if legal.size else legal)

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
        if not self.small and most >= EVALUATIONS and not self.fast.coats[self.colours].all():
            pool = self._smoothed(pool, short, target)
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
            best = float((misses(pool.lab, target, self.rules) + self.unschooled(pool)).min())
            calm = calm + 1 if best_before - best < GAIN else 0
            best_before = min(best, best_before)
            settled = best < GOOD_ENOUGH and not self.rules.prefer
            if not open_rows or spent > most or calm >= CALM or (settled and turn > 1):
                break
            pool, looked = self._moved(pool, open_rows[: wide + besides], shortlist, target, known, done)
            spent += looked
        return pool

    def _evened(self, pool: Candidates, shortlist: Ints, target: Floats, done: set[bytes]) -> Candidates:
        """The pool with a few moves from stacks of colours near the target that are not too heavy."""
        order = np.argsort(self.score(pool, target) + self._unease(pool, target), kind="stable")
        rows = [int(order[i]) for i in _unlike(pool.colour[order], EVENLY, each=1)]
        return self._moved(pool, rows, shortlist, target, set(_keys(pool)), done)[0]

    def _smoothed(self, pool: Candidates, short: Candidates, target: Floats) -> Candidates:
        """The pool with what some stacks of two layers come to in other strokes: those nearest that show much fewer specks than the
        nearest of all."""
        score = self.score(short, target)
        few = np.flatnonzero((short.specks < FEW * short.specks[int(np.argmin(score))]) & (lengths(short.colour) == 2))
        order = few[np.argsort(score[few], kind="stable")]
        rows = order[_unlike(short.colour[order], SMOOTHLY, each=1)]
        if not rows.size:
            return pool
        more, known = self.alone([self.restroked(short.take(rows))]), set(_keys(pool))
        pool = joined([pool, more.take(np.flatnonzero([key not in known for key in _keys(more)]))])
        return self._sifted(pool, self.score(pool, target), target, 60)

    def _moved(
        self, pool: Candidates, rows: Sequence[int], shortlist: Ints, target: Floats, known: set[bytes], done: set[bytes]
    ) -> tuple[Candidates, int]:
        """The pool with all that moves from some of its rows lead to, and how many stacks were looked at; those `known` are not
        looked at again."""
        if not rows:
            return pool, 0
        parents = pool.take(np.array(rows))
        done.update(_keys(parents))
        colour, stroke, parent, prefix = self.moved_from(parents, shortlist)
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
        fine, starts = self.by_order
        apart = misses(fine.lab, target, self.rules)
        least = np.minimum.reduceat(apart, starts)
        at = np.flatnonzero(apart == np.repeat(least, np.diff([*starts, len(fine)])))
        out = list(self._steps(fine.take(at[np.argsort(apart[at], kind="stable")]), target))
        fewer = out[0].take(np.flatnonzero(lengths(out[0].colour) < min(self.width, DEEP))[:OPENED])
        new_c, new_s = self.plain(self.colours, indices(SOME))
        parts = [
            (put_in(opened(c, at), at, new_c), put_in(opened(s, at), at, new_s))
            for c, s in zip(fewer.colour, fewer.stroke, strict=True)
            for at in range(int((c != NO_COLOUR).sum()) + 1)
        ]
        if parts:
            more = self.alone(parts)
            order = np.argsort(misses(more.lab, target, self.rules), kind="stable")
            out += self._steps(more.take(order[_unlike(more.colour[order], TUNED[0], each=1)]), target)
        return out

    def _steps(self, best: Candidates, target: Floats) -> Iterator[Candidates]:
        """Fewer and fewer of these, the best first, each with all its strokes changed at once, again and again."""
        for many in TUNED if len(best) else ():
            parts = [jointly(c, s) for c, s in zip(best.colour[:many], best.stroke[:many], strict=True)]
            found = self.alone(parts)
            order = np.argsort(misses(found.lab, target, self.rules), kind="stable")
            best = found.take(order[_unlike(found.colour[order], many, each=1)])
            yield best

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
        """What awkward sticks, layers over a burnish, greys over skin and stages left out of the school add (B,)."""
        laid = pool.colour != NO_COLOUR
        burden = np.where(laid, self.burden[pool.colour], 0.0).sum(axis=1)
        burnish = self.fast.strokes.burnish[pool.stroke] & laid
        after = laid[:, 1:] & (np.cumsum(burnish, axis=1)[:, :-1] > 0)
        dead = DEADENED * self.deadened(pool.colour)
        work = 0.005 * after.sum(axis=1) + 0.001 * lengths(pool.colour)
        out: Floats = burden + work + dead + self.unschooled(pool)
        return out

    def unschooled(self, pool: Candidates) -> Floats:
        """What stages left out that the school wants here add (B,)."""
        out: Floats = SCHOOLED * self.left_out(pool.colour, pool.stroke)
        return out

    def liking(self, pool: Candidates) -> Floats:
        """What preferred colours are worth (B,): up to PREFERENCE where every layer is in one."""
        mine = np.isin(pool.colour, np.array(sorted(self.rules.prefer), dtype=np.intp))
        out: Floats = PREFERENCE * mine.sum(axis=1) / lengths(pool.colour)
        return out

    def _sifted(self, pool: Candidates, score: Floats, target: Floats, keep: int) -> Candidates:
        """The best of the pool, with room for few colours, for soft layers, for little work, for colours near the target in no more
        coats than is well, for few specks, for what the school is chosen for, and for unlike orders of colours."""
        order = np.argsort(score, kind="stable")
        colours = count_colours(pool.colour[order])
        soft = np.argsort(score[order] + 12 * pool.used[order], kind="stable")
        plain = np.argsort(score[order] + PLAIN * effort(pool)[order], kind="stable")
        calm = np.argsort((score + self._unease(pool, target))[order], kind="stable")
        smooth = np.argsort(score[order] + SMOOTHER * pool.specks[order], kind="stable")
        taught = np.argsort((score + FOLLOWED * self.unschooled(pool))[order], kind="stable") if self.wanted else order[:0]
        chosen: dict[int, None] = {}
        for rows in (
            _unlike(pool.colour[order], keep, each=3),
            *(np.flatnonzero(colours == n)[: keep // 5] for n in (1, 2, 3)),
            soft[: keep // 4],
            plain[: keep // 4],
            calm[: keep // 4],
            calm[_unlike(pool.colour[order][calm], keep // 4, each=1)],
            smooth[_unlike(pool.colour[order][smooth], keep // 4, each=1)],
            taught[_unlike(pool.colour[order][taught], keep // 4, each=1)],
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
        if self.wanted:
            taught = np.argsort(score + FOLLOWED * self.unschooled(pool), kind="stable")
            rows = [*(int(taught[i]) for i in _unlike(pool.colour[taught], BESIDES, each=1)), *rows]
        return list(dict.fromkeys(rows))

    def _shortlist(self, pool: Candidates, score: Floats) -> Ints:
        """The colours offered as new layers: those that took part in the best short stacks."""
        if len(self.colours) <= SHORTLIST:
            return self.colours
        order = np.argsort(score, kind="stable")[:4000]
        seen = dict.fromkeys(int(c) for c in pool.colour[order].ravel() if c != NO_COLOUR)
        return np.array([*seen, *(int(c) for c in self.colours if int(c) not in seen)][:SHORTLIST], dtype=np.intp)


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
