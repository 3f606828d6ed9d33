"""What a stack of layers will look like: the one door from kit, paper and hand to a predicted colour."""

from collections import defaultdict
from collections.abc import Sequence
from dataclasses import dataclass, field, replace
from functools import cached_property
from typing import Any
from zlib import crc32

import numpy as np
from numpy.typing import NDArray

from caltin_core.colour.difference import delta_e_2000
from caltin_core.colour.spectra import lab_from_reflectance, lab_from_thinned, thinned
from caltin_core.colour.tables import Floats
from caltin_core.media.acts import blend, lift
from caltin_core.media.colourants import Ground, Near, Swatch, colourants
from caltin_core.media.fits import (
    COLOUR,
    SHEET,
    ColourFit,
    hand_spread,
    hand_with,
    manner_doubt,
    possible,
    sheet_doubt,
)
from caltin_core.media.hand import MEMBERS, Hand
from caltin_core.media.kinds import MEDIA
from caltin_core.media.layers import LIFTS, Lay, Layer
from caltin_core.media.stack import Colourants, Drawn, Strokes, bare, lay, strokes_on
from caltin_core.media.tooth import FEW_QUANTILES, QUANTILES, Tooth

# So many stacks are computed together: as many as a processor's near memory holds, whole and in the few bands and depths of doubts.
_CHUNK, _DOUBTED = 128, 2048
# Of what the ensemble differs by, every third band tells enough.
_THIRD = 3
# What a real patch misses a perfect prediction by, before any was measured: an unsteady hand, an uneven sheet (ΔE00).
_UNSURE_PATCH = 1.0
# How much harder or softer a hand draws from patch to patch, one standard deviation; common practice.
UNSTEADY = 0.06
# Of a difference in three directions about 80 % lie within this many root mean squares.
_P80 = 1.28
_SMALL_KIT = 48
# How truly a solid comes out on a bench that is quick, as a share.
_ROUGH = 1e-4


# One layer of B stacks: colours and strokes (B, 2), or the kind of a blend or a lift.
Act = NDArray[np.intp] | str


@dataclass(frozen=True)
class Start:
    """Where the layers begin when not on bare paper: a reflectance (31,), the share of tooth used and the coats of dye; or, where
    they are known, the `layers` that were laid before, else of which `medium` it is. `made_up` where the reflectance was made up
    from a colour."""

    reflectance: Floats
    tooth_used: float
    uptake: float = 0.0
    layers: tuple[Layer, ...] = ()
    medium: str | None = None
    made_up: bool = False


@dataclass(frozen=True)
class Workbench:
    """A kit on a sheet in a hand, ready to predict. Build it once and use it for many stacks.

    A `quick` bench computes in single precision. `near` are K and S of almost the same kit, which helps to find its own.
    """

    swatches: tuple[Swatch, ...]
    ground: Ground
    hand: Hand = field(default_factory=Hand)
    quick: bool = False
    near: Near | None = None

    @cached_property
    def tooth(self) -> Tooth:
        """The sheet's tooth."""
        return self.ground.teeth

    @cached_property
    def colourants(self) -> Colourants:
        """K and S of the kit. The swatches were made by this hand."""
        if self.quick:
            return colourants(self.swatches, self.hand, _ROUGH, self.near).single()
        return colourants(self.swatches, self.hand, near=self.near)

    @cached_property
    def strokes(self) -> Strokes:
        """What every stroke deposits here."""
        return self._strokes(self.hand)

    @cached_property
    def shaken(self) -> Strokes:
        """The same when the hand draws a little harder than its usual self, which made the swatches."""
        return self._strokes(self.hand.pressed(1 + UNSTEADY))

    def _strokes(self, hand: Hand) -> Strokes:
        strokes = strokes_on(self.tooth, hand)
        return strokes.single() if self.quick else strokes

    @cached_property
    def solids(self) -> Floats:
        """D50 CIELAB (N, 3) of the solids as swatched."""
        return lab_from_reflectance(np.array([s.solid for s in self.swatches]))

    def doubts(self, colours: Sequence[int]) -> "Doubts":
        """The same bench in every member of the ensemble, spectra and depths thinned, and where each of `colours` lies in its kit.
        Of a large kit only these colours are solved again.
        """
        if len(self.swatches) <= _SMALL_KIT:
            return self._all_doubts, np.arange(len(self.swatches))
        place = np.zeros(len(self.swatches), dtype=np.intp)
        place[list(colours)] = np.arange(len(colours))
        return self._members(colours), place

    @cached_property
    def _all_doubts(self) -> "tuple[Workbench, ...]":
        return self._members(range(len(self.swatches)))

    def _members(self, colours: Sequence[int]) -> "tuple[Workbench, ...]":
        hands, kit = _hands(self.hand), [self.swatches[c] for c in colours]
        k, s = (thinned(v[list(colours)], _THIRD) for v in (self.colourants.k, self.colourants.s))
        own = [_colour_members(s) for s in kit]
        # What patches told of a colour holds with its solid as it was swatched, on a sheet of which they told nothing.
        on = [(s.on, bool(s.fit.members) and s.on is not self.ground) for s in kit]
        grounds = {(id(g), sure): _grounds(g, sure) for g, sure in ((self.ground, False), *on)}
        lies = [grounds[id(g), sure] for g, sure in on]
        return tuple(
            Workbench(
                tuple(
                    replace(s, solid=thinned(s.solid, _THIRD), on=lies[i][m], fit=own[i][m]) for i, s in enumerate(kit)
                ),
                grounds[id(self.ground), False][m], hands[m], quick=True, near=(k, s),
            )
            for m in range(MEMBERS)
        )  # fmt: skip

    def start(self, count: int, start: Start | None = None) -> Drawn:
        """`count` stacks with nothing laid yet."""
        if start is None:
            return bare(self._exact(self.tooth.inside(self.ground.reflectance)), count, self.tooth)
        return bare(self._exact(self.tooth.inside(start.reflectance)), count, self.tooth, start.tooth_used, start.uptake)

    def _exact(self, reflectance: Floats) -> Floats:
        return reflectance.astype(np.float32) if self.quick else reflectance

    def step(self, drawn: Drawn, act: "Act", shaken: bool = False) -> Drawn:
        """Lay, blend or lift once on each of B stacks."""
        if isinstance(act, str):
            return lift(drawn, act, self.hand) if act in LIFTS else blend(drawn, act, self.hand)
        strokes = self.shaken if shaken else self.strokes
        return lay(drawn, self.colourants, strokes, self.tooth, act[:, 0], act[:, 1])

    def used(self, drawn: Drawn) -> Floats:
        """Mean share of the tooth's capacity that is used, or of what the paper takes up of dye where that is more (B,), 0-1."""
        tooth = drawn.fill.mean(axis=1) / self.tooth.capacity
        out: Floats = np.clip(np.maximum(tooth, drawn.uptake / self._holds), 0.0, 1.0)
        return out

    @cached_property
    def _holds(self) -> float:
        """Coats of dye this sheet takes of the kit's markers."""
        return float(self.colourants.uptake.max(initial=1.0))

    def seen(self, drawn: Drawn) -> Floats:
        """What is seen of each stack (B, bands)."""
        return self.tooth.seen(drawn.seen)

    def kinds(self, layers: Sequence[Layer]) -> tuple[str, ...]:
        """The kind of each layer, for grouping stacks that can be computed together."""
        return tuple([self._kinds[x.colour] if isinstance(x, Lay) else x.kind for x in layers])

    @cached_property
    def _kinds(self) -> tuple[str, ...]:
        return tuple(s.kind for s in self.swatches)


# The members of an ensemble, and where each colour of the kit lies in theirs.
Doubts = tuple[tuple[Workbench, ...], NDArray[np.intp]]


def _hands(hand: Hand) -> list[Hand]:
    """A hand in every member of the ensemble: as calibration found them, or about itself; what was not among it then, about the
    usual."""
    about = possible(1, hand_spread())
    if hand.members:
        return [hand_with(Hand(), np.array([*row, *usual[len(row) :]])) for row, usual in zip(hand.members, about, strict=True)]
    return [hand_with(hand, row) for row in about]


def _colour_members(swatch: Swatch) -> list[ColourFit]:
    """What a colour may be in every member of the ensemble; where it was not measured, about its default."""
    if swatch.fit.members:
        return [ColourFit(row[:COLOUR], row[COLOUR:]) for row in swatch.fit.members]
    own = swatch.fit.own + possible(crc32(swatch.id.encode()), swatch.spread)
    manner = swatch.fit.manner + possible(crc32(swatch.medium.encode()), manner_doubt(MEDIA[swatch.medium]))
    return [ColourFit(tuple(o), tuple(m)) for o, m in zip(own.tolist(), manner.tolist(), strict=True)]


def _grounds(ground: Ground, sure: bool) -> list[Ground]:
    """A sheet in every member of the ensemble; one that was not measured is the same in all where it is `sure`."""
    about = np.zeros((MEMBERS, SHEET)) if sure else possible(2, sheet_doubt())
    rows = np.array(ground.members) if ground.members else np.array(ground.fit or (0.0,) * SHEET) + about
    thin = thinned(ground.reflectance, _THIRD)
    return [Ground(thin, ground.tooth, tuple(row), quantiles=FEW_QUANTILES) for row in rows.tolist()]


@dataclass(frozen=True)
class Prediction:
    """One stack: reflectance (31,), colour after each layer, tooth, coats of dye, grain and how unsure it is.

    `after_lab` (layers, 3), `after_used` (layers,), `grain_lab` (Q, 3), `after_grain` (layers, Q, 3) or none; `lab` and
    these are relative to the illuminant's white. `uncertainty` is the ΔE00 within which 80 % of real patches lie.
    """

    lab: Floats
    reflectance: Floats
    tooth_used: float
    uptake: float
    after_lab: Floats
    after_used: Floats
    grain_lab: Floats
    after_grain: Floats
    uncertainty: float


def predict(
    bench: Workbench, stacks: Sequence[Sequence[Layer]], illuminant: str = "D50", starts: Sequence[Start | None] | None = None,
    *, grains: bool = True,
) -> list[Prediction]:  # fmt: skip
    """Predict every stack, in order. `starts`, where given, has one entry for each stack; without `grains` only the
    last layer's is told."""
    begin: list[Start | None] = list(starts) if starts is not None else [None] * len(stacks)
    if any(s is not None and s.layers for s in begin):
        whole = [whole_stack(s, stack) for s, stack in zip(begin, stacks, strict=True)]
        found = predict(bench, whole, illuminant, [None if s is not None and s.layers else s for s in begin], grains=grains)
        return [_from(p, len(w) - len(stack)) for p, w, stack in zip(found, whole, stacks, strict=True)]
    out: list[Prediction | None] = [None] * len(stacks)
    doubts = bench.doubts(sorted({x.colour for stack in stacks for x in stack if isinstance(x, Lay)}))
    for rows in _alike(bench, stacks, begin):
        start = begin[rows[0]]
        for part in _parts(rows, _DOUBTED):
            group = [stacks[i] for i in part]
            acts = acts_of(group)
            unsure = _uncertainty(bench, doubts, group, acts, start)
            for at in range(0, len(part), _CHUNK):
                few = slice(at, at + _CHUNK)
                here = [act if isinstance(act, str) else act[few] for act in acts]
                for index, done in zip(part[few], _together(bench, here, illuminant, start, unsure[few], grains), strict=True):
                    out[index] = done
    return [p for p in out if p is not None]


def media_of(bench: Workbench, layers: Sequence[Layer]) -> frozenset[str]:
    """The media that layers are laid in."""
    return frozenset(bench.swatches[x.colour].medium for x in layers if isinstance(x, Lay))


def whole_stack(start: Start | None, stack: Sequence[Layer]) -> Sequence[Layer]:
    """The stack with the layers it begins on, where these are known."""
    return stack if start is None else (*start.layers, *stack)


def _from(seen: Prediction, first: int) -> Prediction:
    """A prediction of which only what comes after the `first` layers is told step by step."""
    grain = seen.after_grain[first:] if len(seen.after_grain) == len(seen.after_lab) else seen.after_grain
    return replace(seen, after_lab=seen.after_lab[first:], after_used=seen.after_used[first:], after_grain=grain)


def _parts(rows: list[Any], most: int) -> list[list[Any]]:
    """The rows, at most so many at a time."""
    return [rows[at : at + most] for at in range(0, len(rows), most)]


def colours_of(bench: Workbench, stacks: Sequence[Sequence[Layer]], start: Start | None = None) -> list[tuple[Floats, float]]:
    """Only the D50 Lab (3,) and the tooth used of every stack, from one start: `predict` without its doubts."""
    if start is not None and start.layers:
        return colours_of(bench, [whole_stack(start, stack) for stack in stacks])
    out: dict[int, tuple[Floats, float]] = {}
    for group in _alike(bench, stacks):
        for rows in _parts(group, _CHUNK):
            last = _run(bench, len(rows), acts_of([stacks[i] for i in rows]), start)[-1]
            seen = zip(lab_from_reflectance(bench.seen(last)), bench.used(last).tolist(), strict=True)
            out.update(zip(rows, seen, strict=True))
    return [out[i] for i in range(len(stacks))]


def courses_of(bench: Workbench, stacks: Sequence[Sequence[Layer]]) -> list[tuple[Floats, Floats]]:
    """The D50 Lab (L + 1, 3) and the tooth used (L + 1,) of every stack: of the bare sheet, and after each of its L layers."""
    out: dict[int, tuple[Floats, Floats]] = {}
    for rows in _alike(bench, stacks):
        states = _run(bench, len(rows), acts_of([stacks[i] for i in rows]), None)
        labs = lab_from_reflectance(np.stack([bench.seen(s) for s in states], axis=1))
        used = np.stack([bench.used(s) for s in states], axis=1)
        out.update({index: (labs[i], used[i]) for i, index in enumerate(rows)})
    return [out[i] for i in range(len(stacks))]


def thin(bench: Workbench, quantiles: int = QUANTILES) -> Workbench:
    """The bench with every second band and so many depths of the tooth, for `thin_colours`."""
    known = (bench.ground, *(s.on for s in bench.swatches))
    grounds = {id(g): replace(g, reflectance=thinned(g.reflectance), quantiles=quantiles) for g in known}
    swatches = tuple(replace(s, solid=thinned(s.solid), on=grounds[id(s.on)]) for s in bench.swatches)
    return Workbench(swatches, grounds[id(bench.ground)], bench.hand)


def thin_colours(bench: Workbench, stacks: Sequence[Sequence[Layer]], *, shaken: bool = False) -> Floats:
    """D50 Lab (B, 3) of every stack on a thinned bench; `shaken`, drawn a little harder than usual."""
    out = np.empty((len(stacks), 3))
    for rows in _alike(bench, stacks):
        acts = acts_of([stacks[i] for i in rows])
        out[rows] = lab_from_thinned(bench.seen(_run(bench, len(rows), acts, None, shaken)[-1]))
    return out


def drawn_states(bench: Workbench, stacks: Sequence[Sequence[Layer]]) -> list[Drawn]:
    """What lies on the paper after each stack, a batch of one each: in single precision, thinned bands and few depths, to search
    from."""
    quick = thin(bench, FEW_QUANTILES)
    quick = Workbench(quick.swatches, quick.ground, quick.hand, quick=True)
    return [_run(quick, 1, acts_of([stack]), None)[-1] if stack else quick.start(1) for stack in stacks]


def _alike(bench: Workbench, stacks: Sequence[Sequence[Layer]], starts: Sequence[Start | None] = ()) -> list[list[int]]:
    """The rows of stacks that can be computed together, those that burnish alike beside each other, which saves steps."""
    groups: dict[tuple[int, tuple[str, ...]], list[int]] = defaultdict(list)
    for row, stack in enumerate(stacks):
        groups[(id(starts[row]) if starts else 0, bench.kinds(stack))].append(row)
    for rows in groups.values():
        rows.sort(key=lambda i: [isinstance(x, Lay) and x.stroke.pressure == "burnish" for x in stacks[i]])
    return list(groups.values())


def acts_of(stacks: Sequence[Sequence[Layer]]) -> list[Act]:
    """The layers of stacks that share their kinds, position by position."""
    out: list[Act] = []
    for position, first in enumerate(stacks[0]):
        if isinstance(first, Lay):
            here = (stack[position] for stack in stacks)
            out.append(np.array([(x.colour, x.stroke.index) for x in here if isinstance(x, Lay)], dtype=np.intp))
        else:
            out.append(first.kind)
    return out


def _run(bench: Workbench, count: int, acts: Sequence[Act], start: Start | None, shaken: bool = False) -> list[Drawn]:
    """The states of `count` stacks after each layer, bare ground first."""
    states = [bench.start(count, start)]
    for act in acts:
        states.append(bench.step(states[-1], act, shaken))
    return states


def _together(
    bench: Workbench, acts: Sequence[Act], illuminant: str, start: Start | None, unsure: Floats, grains: bool
) -> list[Prediction]:  # fmt: skip
    states = _run(bench, len(unsure), acts, start)
    seen = np.stack([bench.seen(s) for s in states], axis=1)
    labs = lab_from_reflectance(seen, illuminant)
    used = np.stack([bench.used(s) for s in states], axis=1)
    kept = states if grains else states[-1:]
    grain = lab_from_reflectance(bench.tooth.shown(np.stack([s.seen[0] for s in kept], axis=1)), illuminant)
    last = states[-1]
    return [
        Prediction(
            lab=labs[i, -1], reflectance=seen[i, -1], tooth_used=float(used[i, -1]), uptake=float(last.uptake[i]),
            after_lab=labs[i, 1:], after_used=used[i, 1:], grain_lab=grain[i, -1],
            after_grain=grain[i, 1:], uncertainty=float(unsure[i]),
        )
        for i in range(len(unsure))
    ]  # fmt: skip


def _uncertainty(
    bench: Workbench, doubts: Doubts, stacks: Sequence[Sequence[Layer]], acts: Sequence[Act], start: Start | None
) -> Floats:  # fmt: skip
    """ΔE00 (B,) within which 80 % of real patches lie: what the members of the ensemble differ by, and what is left."""
    variance = np.square([_noise(bench, stack) for stack in stacks])
    if any(not isinstance(act, str) for act in acts):
        members, place = doubts
        moved = [act if isinstance(act, str) else np.stack([place[act[:, 0]], act[:, 1]], axis=1) for act in acts]
        begun = start and replace(start, reflectance=thinned(start.reflectance, _THIRD))

        def colour(m: Workbench, shaken: bool = False) -> Floats:
            return lab_from_thinned(m.seen(_run(m, len(stacks), moved, begun, shaken)[-1]).astype(float))

        seen = [colour(m) for m in members]
        middle = np.mean(seen, axis=0)
        # The members lie about the fit on both sides; their middle stands for it, thinned and single precision as they are.
        variance = variance + np.mean([delta_e_2000(middle, other) ** 2 for other in seen], axis=0)
        variance = variance + delta_e_2000(seen[0], colour(members[0], shaken=True)) ** 2
    out: Floats = _P80 * np.sqrt(variance)
    return out


def _noise(bench: Workbench, stack: Sequence[Layer]) -> float:
    """What patches of these colours miss by beside all that the ensemble knows, in ΔE00."""
    fits = [bench.swatches[x.colour].fit for x in stack if isinstance(x, Lay)]
    known = [(f.noise, f.further) for f in fits if f.noise is not None]
    if not fits or len(known) < len(fits):
        return _UNSURE_PATCH
    alone, further = (max(each) for each in zip(*known, strict=True))
    return float(np.sqrt(alone**2 + (len(fits) - 1) * further**2))
