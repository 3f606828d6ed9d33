"""What a stack of layers will look like: the one door from kit, paper and hand to a predicted colour."""

from collections import defaultdict
from collections.abc import Sequence
from dataclasses import dataclass, replace
from typing import Any

import numpy as np

from caltin_core.colour.difference import delta_e_2000
from caltin_core.colour.spectra import lab_from_reflectance, lab_from_thinned, thinned
from caltin_core.colour.tables import Floats
from caltin_core.media.layers import Lay, Layer
from caltin_core.media.stack import Drawn, in_one
from caltin_core.media.tooth import FEW_QUANTILES, QUANTILES
from caltin_core.media.workbench import THIRD, Act, Doubts, Start, Workbench

# So many stacks are computed together: as many as a processor's near memory holds, whole, thinned or in single precision, and in
# the few bands and depths of doubts.
_CHUNK, _HALF_CHUNK, _DOUBTED = 384, 768, 2048
# Stacks of some kinds, where they are fewer, are computed with those of others: to part them layer by layer takes less than to
# begin anew.
_FEW = 96
# What a real patch misses a perfect prediction by, before any was measured: an unsteady hand, an uneven sheet (ΔE00).
_UNSURE_PATCH = 1.0
# Of a difference in three directions about 80 % lie within this many root mean squares.
_P80 = 1.28


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
    *, grains: bool = True, quick: bool = False,
) -> list[Prediction]:  # fmt: skip
    """Predict every stack, in order. `starts`, where given, has one entry for each stack; without `grains` only the
    last layer's is told. `quick` is in single precision: the same to a hundredth of a ΔE00."""
    begin: list[Start | None] = list(starts) if starts is not None else [None] * len(stacks)
    if any(s is not None and s.layers for s in begin):
        whole = [whole_stack(s, stack) for s, stack in zip(begin, stacks, strict=True)]
        found = predict(
            bench, whole, illuminant, [None if s is not None and s.layers else s for s in begin], grains=grains, quick=quick
        )
        return [_from(p, len(w) - len(stack)) for p, w, stack in zip(found, whole, stacks, strict=True)]
    out: list[Prediction | None] = [None] * len(stacks)
    laid_on, chunk = (bench.single, _HALF_CHUNK) if quick else (bench, _CHUNK)
    doubts = bench.doubts(sorted({x.colour for stack in stacks for x in stack if isinstance(x, Lay)}))
    for rows in _alike(bench, stacks, begin):
        start = begin[rows[0]]
        for part in _parts(rows, _DOUBTED):
            acts = acts_of([stacks[i] for i in part])
            unsure = _uncertainty(bench, doubts, acts, len(part), start)
            for at in range(0, len(part), chunk):
                few = slice(at, at + chunk)
                seen = _together(laid_on, _acts_at(acts, few), illuminant, start, unsure[few], grains)
                for index, done in zip(part[few], seen, strict=True):
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
            last = _ended(_run(bench, len(rows), acts_of([stacks[i] for i in rows]), start))
            seen = zip(lab_from_reflectance(bench.seen(last)), bench.used(last).tolist(), strict=True)
            out.update(zip(rows, seen, strict=True))
    return [out[i] for i in range(len(stacks))]


def courses_of(bench: Workbench, stacks: Sequence[Sequence[Layer]]) -> list[tuple[Floats, Floats]]:
    """The D50 Lab (L + 1, 3) and the tooth used (L + 1,) of every stack: of the bare sheet, and after each of its L layers."""
    out: dict[int, tuple[Floats, Floats]] = {}
    for rows in _alike(bench, stacks):
        states = _run(bench, len(rows), acts_of([stacks[i] for i in rows]), None)
        labs, used = _of_each(_labs([bench.seen(s) for s in states])), _of_each([bench.used(s) for s in states])
        out.update(zip(rows, zip(labs, used, strict=True), strict=True))
    return [out[i] for i in range(len(stacks))]


def thin(bench: Workbench, quantiles: int = QUANTILES, step: int = 2) -> Workbench:
    """The bench with every second band, or every third, and so many depths of the tooth, for `thin_colours`."""
    known = (bench.ground, *(s.on for s in bench.swatches))
    grounds = {id(g): replace(g, reflectance=thinned(g.reflectance, step), quantiles=quantiles) for g in known}
    swatches = tuple(replace(s, solid=thinned(s.solid, step), on=grounds[id(s.on)]) for s in bench.swatches)
    return Workbench(swatches, grounds[id(bench.ground)], bench.hand)


def thin_colours(bench: Workbench, stacks: Sequence[Sequence[Layer]], *, shaken: bool = False) -> Floats:
    """D50 Lab (B, 3) of every stack on a thinned bench; `shaken`, drawn a little harder than usual."""
    out = np.empty((len(stacks), 3))
    for group in _alike(bench, stacks):
        for rows in _parts(group, _HALF_CHUNK):
            acts = acts_of([stacks[i] for i in rows])
            out[rows] = lab_from_thinned(bench.seen(_ended(_run(bench, len(rows), acts, None, shaken))))
    return out


def drawn_states(bench: Workbench, stacks: Sequence[Sequence[Layer]]) -> list[Drawn]:
    """What lies on the paper after each stack, a batch of one each: in single precision, thinned bands and few depths, to search
    from."""
    quick = thin(bench, FEW_QUANTILES)
    quick = Workbench(quick.swatches, quick.ground, quick.hand, quick=True)
    return [_run(quick, 1, acts_of([stack]), None)[-1] if stack else quick.start(1) for stack in stacks]


def _alike(bench: Workbench, stacks: Sequence[Sequence[Layer]], starts: Sequence[Start | None] = ()) -> list[list[int]]:
    """The rows of stacks that can be computed together, those of the most layers first, and those that burnish alike beside each
    other, which saves steps. All are of the same kinds, layer by layer, or all layers of all are of one kind; or they are few, and
    all that is done is to lay."""
    groups: dict[tuple[int, tuple[str, ...]], list[int]] = defaultdict(list)
    for row, stack in enumerate(stacks):
        kinds = bench.kinds(stack)
        alone = len(set(kinds)) == 1 and isinstance(stack[0], Lay)
        groups[(id(starts[row]) if starts else 0, kinds[:1] if alone else kinds)].append(row)
    for (start, kinds), rows in list(groups.items()):
        if kinds and len(rows) < _FEW and all(isinstance(x, Lay) for x in stacks[rows[0]]):
            groups[(start, ())] += groups.pop((start, kinds))

    def place(row: int) -> tuple[int, list[bool]]:
        return -len(stacks[row]), [isinstance(x, Lay) and x.stroke.pressure == "burnish" for x in stacks[row]]

    return [sorted(rows, key=place) for rows in groups.values()]


def acts_of(stacks: Sequence[Sequence[Layer]]) -> list[Act]:
    """The layers of stacks that are computed together, position by position: of those that have so many, which come first."""
    out: list[Act] = []
    for position, first in enumerate(stacks[0]):
        if isinstance(first, Lay):
            here = (stack[position] for stack in stacks if len(stack) > position)
            out.append(np.array([(x.colour, x.stroke.index) for x in here if isinstance(x, Lay)], dtype=np.intp))
        else:
            out.append(first.kind)
    return out


def _acts_at(acts: Sequence[Act], rows: slice) -> list[Act]:
    """The same of some of these stacks."""
    return [act if isinstance(act, str) else act[rows] for act in acts if isinstance(act, str) or len(act) > rows.start]


def _run(bench: Workbench, count: int, acts: Sequence[Act], start: Start | None, shaken: bool = False) -> list[Drawn]:
    """The states of `count` stacks after each layer, bare ground first; of those that have so many, which come first."""
    states = [bench.start(count, start)]
    for act in acts:
        drawn = states[-1]
        if not isinstance(act, str) and len(act) < len(drawn.fill):
            drawn = drawn.take(np.arange(len(act)))
        states.append(bench.step(drawn, act, shaken))
    return states


def _ended(states: Sequence[Drawn]) -> Drawn:
    """Every stack as it is after its last layer, in their order; `states` as `_run` gave them."""
    sizes = [len(s.fill) for s in states]
    if sizes[-1] == sizes[0]:
        return states[-1]
    ends = [s.take(np.arange(then, many), 0) for s, many, then in zip(states, sizes, [*sizes[1:], 0], strict=True) if many > then]
    return in_one(ends[::-1], 0)


def _of_each(after: Sequence[Floats]) -> list[Floats]:
    """For every stack what is told of it after each of its layers, bare ground first; `after` each layer told of those that have so
    many, which come first."""
    first = after[0]
    table = np.empty((len(first), len(after), *first.shape[1:]))
    for layers, told in enumerate(after):
        table[: len(told), layers] = told
    many = (np.arange(len(first)) < np.array([len(told) for told in after])[:, None]).sum(axis=0)
    return [row[:n] for row, n in zip(table, many.tolist(), strict=True)]


def _labs(seen: Sequence[Floats], illuminant: str = "D50") -> list[Floats]:
    """Lab (…, 3) of each of these batches of reflectances (…, 31)."""
    ends = np.cumsum([len(s) for s in seen])[:-1]
    return np.split(lab_from_reflectance(np.concatenate(seen), illuminant), ends)


def _together(
    bench: Workbench, acts: Sequence[Act], illuminant: str, start: Start | None, unsure: Floats, grains: bool
) -> list[Prediction]:  # fmt: skip
    states = _run(bench, len(unsure), acts, start)
    last = _ended(states)
    labs, used = _of_each(_labs([bench.seen(s) for s in states], illuminant)), _of_each([bench.used(s) for s in states])
    grain = _of_each(_labs([bench.tooth.shown(s.seen[0]) for s in (states if grains else [last])], illuminant))
    reflects = bench.seen(last).astype(float, copy=False)
    return [
        Prediction(
            lab=labs[i][-1], reflectance=reflects[i], tooth_used=float(used[i][-1]), uptake=float(last.uptake[i]),
            after_lab=labs[i][1:], after_used=used[i][1:], grain_lab=grain[i][-1],
            after_grain=grain[i][1:], uncertainty=float(unsure[i]),
        )
        for i in range(len(unsure))
    ]  # fmt: skip


def _uncertainty(bench: Workbench, doubts: Doubts, acts: Sequence[Act], count: int, start: Start | None) -> Floats:
    """ΔE00 (B,) within which 80 % of real patches lie: what the members of the ensemble differ by, and what is left."""
    variance = np.square(_noise(bench, acts, count))
    if any(not isinstance(act, str) for act in acts):
        members, place = doubts
        moved = [act if isinstance(act, str) else np.stack([place[act[:, 0]], act[:, 1]], axis=1) for act in acts]
        begun = start and replace(start, reflectance=thinned(start.reflectance, THIRD))

        def colour(m: Workbench, shaken: bool = False) -> Floats:
            return lab_from_thinned(m.seen(_ended(_run(m, count, moved, begun, shaken))).astype(float))

        seen = [colour(m) for m in members]
        middle = np.mean(seen, axis=0)
        # The members lie about the fit on both sides; their middle stands for it, thinned and single precision as they are.
        variance = variance + np.mean([delta_e_2000(middle, other) ** 2 for other in seen], axis=0)
        variance = variance + delta_e_2000(seen[0], colour(members[0], shaken=True)) ** 2
    out: Floats = _P80 * np.sqrt(variance)
    return out


def _noise(bench: Workbench, acts: Sequence[Act], count: int) -> Floats:
    """What patches of these colours miss by beside all that the ensemble knows, in ΔE00 (B,)."""
    worst, layers = np.zeros((2, count)), np.zeros(count)
    for act in acts:
        if not isinstance(act, str):
            worst[:, : len(act)] = np.maximum(worst[:, : len(act)], bench.noises[:, act[:, 0]])
            layers[: len(act)] += 1
    alone, further = worst
    out: Floats = np.sqrt(alone**2 + np.maximum(layers - 1, 0) * further**2)
    return np.where((layers > 0) & np.isfinite(out), out, _UNSURE_PATCH)
