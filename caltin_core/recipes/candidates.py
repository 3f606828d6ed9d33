"""Candidate stacks as arrays, evaluated many at a time in single precision."""

from collections.abc import Sequence
from dataclasses import dataclass, fields, replace

import numpy as np

from caltin_core.colour.difference import chroma, delta_e_2000, hue_angle
from caltin_core.colour.spaces import lab_from_xyz
from caltin_core.colour.spectra import thin_weights, thinned, weights
from caltin_core.colour.tables import Bools, Floats, Ints
from caltin_core.media.kinds import MEDIA
from caltin_core.media.layers import HARDNESS, PRESSED, STROKE_INDEX, STROKES, Lay, Stroke, as_coat
from caltin_core.media.stack import Drawn, bare, in_one, lay, strokes_of
from caltin_core.media.tooth import FEW_QUANTILES
from caltin_core.media.workbench import Start, Workbench
from caltin_core.recipes.padded import NO_COLOUR, lengths
from caltin_core.recipes.rules import Rules

CHUNK = 1920
# What L* grows by with the cube root of Y (CIE 1976).
_LIGHTNESS = 116.0


@dataclass(frozen=True)
class Candidates:
    """B stacks: `colour`, `stroke` (B, L) padded with -1; predicted `lab` (B, 3), tooth `used` (B,), and `specks` (B,): by how many
    L* the depths of the tooth differ (root mean square)."""

    colour: Ints
    stroke: Ints
    lab: Floats
    used: Floats
    specks: Floats

    def take(self, rows: Ints) -> "Candidates":
        """The candidates at `rows`."""
        return Candidates(*(getattr(self, f.name)[rows] for f in fields(self)))

    def layers(self, row: int, coats: Bools) -> tuple[Lay, ...]:
        """The layers of one candidate; `coats` (N,) tells the colours of the kit that are laid in coats."""
        pairs = [(int(c), STROKES[int(s)]) for c, s in zip(self.colour[row], self.stroke[row], strict=True) if c != NO_COLOUR]
        return tuple(Lay(c, as_coat(s) if coats[c] else s) for c, s in pairs)

    def __len__(self) -> int:
        return len(self.colour)


def joined(parts: list[Candidates]) -> Candidates:
    """All candidates of several sets."""
    return Candidates(*(np.concatenate([getattr(p, f.name) for p in parts]) for f in fields(Candidates)))


class FastBench:
    """A workbench for searching: single precision, every second band, few depths of the tooth. Final recipes are predicted in full.

    It begins on the bare sheet, on a `start`, or on what is `drawn` already (a batch of one, in the same bands and depths).

    Bands left out are taken to lie on straight lines between those kept, so the weights are theirs too.
    """

    def __init__(self, bench: Workbench, start: Start | None, drawn: Drawn | None = None) -> None:
        self.tooth = replace(bench.tooth, quantiles=FEW_QUANTILES)
        single = bench.colourants.single()
        self.colourants = replace(single, k=thinned(single.k), s=thinned(single.s))
        self.strokes = strokes_of(bench.hand).single()
        below = thinned(start.reflectance if start else bench.ground.reflectance).astype(np.float32)
        used, uptake = (start.tooth_used, start.uptake) if start else (0.0, 0.0)
        self._one = bare(self.tooth.inside(below), 1, self.tooth, used, uptake) if drawn is None else drawn
        self._table, self._white = thin_weights().astype(np.float32), weights()[1]
        self._used = bench.used
        self.coats: Bools = np.array([s.kind != "film" for s in bench.swatches], dtype=bool)
        self._laid = np.stack([np.arange(PRESSED), [STROKE_INDEX[as_coat(s)] for s in STROKES[:PRESSED]]])
        self._plain = np.stack(
            [np.arange(PRESSED), *([STROKE_INDEX[_as_pressed(s, wet)] for s in STROKES[:PRESSED]] for wet in (True, False))]
        )
        # Of films, markers, and other coats: nothing dry is dissolved by these, so that wet is nothing to them.
        self._kind = np.array(
            [int(s.kind != "film") + (s.kind == "cover" or MEDIA[s.medium].permanent) for s in bench.swatches], dtype=np.intp
        )
        self._on_dye = bool(self._one.uptake.max() > 0)

    def plain(self, colour: Ints, stroke: Ints) -> Ints:
        """Strokes of which none come to the same as another, for colours laid in coats; padding stays."""
        if not self.coats.any():
            return stroke
        out: Ints = np.where(colour == NO_COLOUR, stroke, self._plain[self._kind[colour], stroke])
        return out

    def idle(self, colour: Ints, stroke: Ints) -> Bools:
        """Which stacks (B, L) begin with one coat laid wet where there is no dye: it is that coat laid dry."""
        first, wet = colour[:, 0], _TURNED_ONCE[stroke[:, 0]]
        out: Bools = wet & self.coats[first] & (first != NO_COLOUR)
        return out if not self._on_dye else np.zeros_like(out)

    def begin(self, count: int) -> Drawn:
        """`count` stacks with nothing laid."""
        return self._one.take(np.zeros(count, dtype=np.intp))

    def lay(self, drawn: Drawn, colour: Ints, stroke: Ints) -> Drawn:
        """Lay one layer on each of B stacks."""
        if self.coats.any():
            stroke = self._laid[self.coats[colour].astype(int), stroke]
        return lay(drawn, self.colourants, self.strokes, self.tooth, colour, stroke, depth=1)

    def after_each(self, colour: Ints, stroke: Ints) -> list[Drawn]:
        """The states of stacks (B, L) after each layer, bare ground first; padding lays a first colour lightly."""
        states = [self.begin(len(colour))]
        for position in range(colour.shape[1]):
            states.append(self.lay(states[-1], np.maximum(colour[:, position], 0), np.maximum(stroke[:, position], 0)))
        return states

    def evaluate_alone(self, colour: Ints, stroke: Ints) -> Candidates:
        """Predict stacks (B, L), padded with -1, from where it begins; what several begin with is laid once."""
        length = lengths(colour)
        states, last = [self.begin(1)], np.zeros(len(colour), dtype=np.intp)
        for position in range(int(length.max(initial=1)) - 1):
            longer = np.flatnonzero(length > position + 1)
            laid = last[longer], colour[longer, position], stroke[longer, position]
            shape = len(last), len(self.coats), len(STROKES)
            once, of = np.unique(np.ravel_multi_index(laid, shape), return_inverse=True)
            below, colours, strokes = np.unravel_index(once, shape)
            states.append(self.lay(states[-1].take(below), colours, strokes))
            last = last.copy()
            last[longer] = of
        return self.evaluate(colour, stroke, states, last, np.maximum(length - 1, 0))

    def evaluate(self, colour: Ints, stroke: Ints, states: list[Drawn], parent: Ints, prefix: Ints) -> Candidates:
        """Predict stacks (B, L), padded with -1, that share their first `prefix` (B,) layers with stack
        `parent` (B,) of `states`, as `after_each` gave them."""
        lab, used, specks = np.empty((len(colour), 3)), np.empty(len(colour)), np.empty(len(colour))
        length = lengths(colour)
        first = np.cumsum([0, *(len(s.fill) for s in states)])
        every, begins = in_one(states), first[prefix] + parent
        burnish = ((self.strokes.burnish[stroke] & (colour != NO_COLOUR)) << np.arange(colour.shape[1])).sum(axis=1) >> prefix
        # Those with the most layers to lay come first: the others join them when as many are left.
        left = length - prefix
        order = np.lexsort((burnish, -left))
        for at in range(0, len(order), CHUNK):
            rows = order[at : at + CHUNK]
            ends = np.searchsorted(-left[rows], -np.arange(int(left[rows[0]]), -1, -1), side="right")
            drawn = every.take(begins[rows[: ends[0]]])
            for turn, end in enumerate(ends[1:]):
                here = rows[: len(drawn.fill)]
                position = prefix[here] + turn - (left[rows[0]] - left[here])
                drawn = self.lay(drawn, colour[here, position], stroke[here, position])
                if end > len(here):
                    drawn = in_one([drawn, every.take(begins[rows[len(here) : end]])])
            seen = self.tooth.seen(drawn.seen) @ self._table
            lab[rows] = lab_from_xyz(seen.astype(float), self._white)
            used[rows] = self._used(drawn)
            specks[rows] = _LIGHTNESS * np.cbrt(drawn.seen[0] @ self._table[:, 1]).std(axis=1)
        return Candidates(colour, stroke, lab, used, specks)


def _as_pressed(stroke: Stroke, wet: bool) -> Stroke:
    """The one stroke that stands for all that come to the same coats, of which it tells `wet` ones or not."""
    return Stroke("medium", stroke.passes, turned=stroke.turned and wet)


_TURNED_ONCE = np.array([s.turned and s.passes == 1 for s in STROKES])


# What a stroke asks for by itself, in layers: its passes, and turning the sheet or the stick.
_WORK = np.array([s.passes / 6 + 0.5 * s.turned + 0.5 * (s.point == "side") for s in STROKES])
_BURNISH = np.array([s.pressure == "burnish" for s in STROKES])
_HARDNESS = np.array([float(h) for h in HARDNESS])


def effort(found: Candidates) -> Floats:
    """The work in a recipe (B,), counted in layers: passes, turning the sheet, laying over a burnish.

    Pressing hard first and softly over it counts too: it closes the tooth early; and the colour just laid once more at another
    pressure: one would have done (common practice).
    """
    return _effort(found.colour, found.stroke)


def effort_of(layers: Sequence[Lay]) -> float:
    """The same of one recipe, as it is laid."""
    colour, stroke = (np.array([row], dtype=np.intp) for row in ([x.colour for x in layers], [x.stroke.index for x in layers]))
    return float(_effort(colour, stroke)[0])


def _effort(colour: Ints, stroke: Ints) -> Floats:
    laid = colour != NO_COLOUR
    burnish, harder = laid & _BURNISH[stroke], np.where(laid, _HARDNESS[stroke], 0.0)
    over = (laid[:, 1:] & (np.cumsum(burnish, axis=1)[:, :-1] > 0)).sum(axis=1)
    softer_on_harder = (laid[:, 1:] & (harder[:, 1:] < harder[:, :-1])).sum(axis=1)
    again = (laid[:, 1:] & (colour[:, 1:] == colour[:, :-1])).sum(axis=1)
    strokes = np.where(laid, _WORK[stroke], 0.0).sum(axis=1)
    out: Floats = laid.sum(axis=1) + strokes + 1.5 * over + 0.5 * softer_on_harder + again
    return out


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
