"""Which patches teach most: those after which the stacks one means to lay are least in doubt.

Before a patch is drawn its colour is not known, but how it would narrow the doubts is: the posterior's covariance depends on
the patches' slopes alone. Patches are taken one after another, each the one that narrows the doubt of likely recipes most (the
greedy design of experiments; Krause, Singh & Guestrin 2008).
"""

from collections import Counter
from collections.abc import Sequence
from dataclasses import dataclass, replace
from itertools import pairwise

import numpy as np

from caltin_core.colour.difference import metric
from caltin_core.colour.tables import Floats
from caltin_core.media.cautions import closing
from caltin_core.media.colourants import solid_of
from caltin_core.media.layers import Lay, Layer, Lift, Stroke, lays
from caltin_core.media.moves import Space, slopes
from caltin_core.media.predict import thin, thin_colours
from caltin_core.media.tooth import FEW_QUANTILES
from caltin_core.media.workbench import THIRD, Workbench

_NOISE = 1.0
_LIKELY = 60
_PAIRS_MOST = 300
# Skin is made of warm colours of middle strength: such a colour is so many times as likely to be used (common practice).
_SKIN_LIKELY = 4.0
_PRESSED = tuple(
    Stroke(pressure, passes)
    for pressure, often in (("light", (1, 2, 4)), ("medium", (1, 2, 4)), ("firm", (1, 2, 4)), ("burnish", (1, 3)))
    for passes in often
)
_USUAL, _USUAL_COATS = Stroke("medium", 2), Stroke("coat", 2)
# So many cells stand in a row of a sheet; what lessens the doubt of a likely recipe by less (ΔE00) is hardly worth one (common
# practice: nobody sees it in a drawing).
_ROW, _HARDLY = 8, 0.1
# A patch of many coats tells how much the paper drinks; a recipe has few, and lays some of them on wet dye (common practice).
_COATS = tuple(Stroke("coat", passes) for passes in (2, 3, 4, 6))
_COATS_USED, _WET = (1, 2, 3), 0.35
# Where an artist blends and lifts, so many recipes have it, and so many stacks that may be asked for (common practice).
_ACTED, _ACTED_PAIRS = 0.5, 60


@dataclass(frozen=True)
class FurtherRow:
    """A row of swatches one might still lay: what it is, its cells, the doubt (ΔE00) of a likely recipe after it, and whether it
    lessens that enough to be worth the work."""

    words: str
    cells: tuple[tuple[Layer, ...], ...]
    doubt: float
    worth: bool


def sheet(
    bench: Workbench, many: int, known: Sequence[Sequence[Layer]], out: frozenset[int], *, acts: bool = False
) -> list[tuple[Layer, ...]]:  # fmt: skip
    """The cells of a sheet: every solid at hand that is not `known`, then what teaches most, `many` in all; with `acts`, of a hand
    that blends and lifts too."""
    asked = {tuple(stack) for stack in known}
    solids: list[tuple[Layer, ...]] = [(Lay(i, solid_of(s.kind)),) for i, s in enumerate(bench.swatches) if i not in out]
    first = [s for s in solids if s not in asked][:many]
    return first + (teaching(bench, many - len(first), [*first, *asked], out, acts=acts) if many > len(first) else [])


def teaching(
    bench: Workbench, many: int, known: Sequence[Sequence[Layer]] = (), out: frozenset[int] = frozenset(), *,
    layers: int | None = None, each: int | None = None, random: bool = False, acts: bool = False,
) -> list[tuple[Layer, ...]]:  # fmt: skip
    """The `many` patches that teach most of this kit, paper and hand, where `known` are measured already and the colours `out`
    are not at hand; in the order one draws them: singles by colour, then pairs. Only patches of so many `layers`, and
    at most `each` of one colour by itself, where said; with `acts`, some are blended or lifted in the end.
    With `random`, any others, to compare with.
    """
    rng = np.random.default_rng(7)
    weights = _likely(bench, out)
    if not weights.any():
        return []
    asked = {tuple(stack) for stack in known}
    every = _candidates(bench, rng, weights)
    if acts:
        every += dict.fromkeys(_acted(bench, rng, _stack(bench, rng, weights, 2)) for _ in range(_ACTED_PAIRS))
    candidates = [s for s in every if s not in asked and layers in (None, len(s))]
    if random:
        return [candidates[i] for i in rng.permutation(len(candidates))[:many]]
    targets = _aims(bench, rng, weights)
    if acts:
        targets = [_acted(bench, rng, t) if rng.random() < _ACTED else t for t in targets]
    jac, noise, spread = _slopes(bench, [*candidates, *targets, *known])
    first, last = len(candidates), len(candidates) + len(targets)
    for row, said in zip(jac[last:], noise[last:], strict=True):
        spread = _narrowed(spread, row, said)
    aims = jac[first:last].reshape(-1, jac.shape[-1])
    alone = [s[0].colour if len(s) == 1 and isinstance(s[0], Lay) else None for s in candidates]
    chosen = _greedy(spread, jac[:first], noise[:first], aims, many, alone, each)
    return [candidates[i] for i in sorted(chosen)]


def further_rows(
    bench: Workbench, known: Sequence[Sequence[Layer]], out: frozenset[int] = frozenset(), most: int = 3
) -> tuple[float, list[FurtherRow]]:
    """The doubt of a likely recipe now that `known` is measured (ΔE00, root mean square), and the rows of swatches that would
    lessen it most: of every kind of row the cells that teach most, as many as a row takes."""
    rng = np.random.default_rng(7)
    weights = _likely(bench, out)
    if not weights.any():
        return 0.0, []
    asked = {tuple(stack) for stack in known}
    kinds = {
        words: [c for c in cells if c not in asked] for words, cells in _kinds(bench, np.flatnonzero(weights).tolist()).items()
    }
    targets = _aims(bench, rng, weights)
    every = [cell for cells in kinds.values() for cell in cells]
    jac, noise, spread = _slopes(bench, [*every, *targets, *known])
    last = len(every) + len(targets)
    for row, said in zip(jac[last:], noise[last:], strict=True):
        spread = _narrowed(spread, row, said)
    aims = jac[len(every) : last]
    now = _doubt(spread, aims)
    found, at = [], 0
    for words, cells in kinds.items():
        here = slice(at, at + len(cells))
        at += len(cells)
        chosen = _greedy(spread, jac[here], noise[here], aims.reshape(-1, jac.shape[-1]), _ROW, [None] * len(cells), None)
        after = spread
        for i in chosen:
            after = _narrowed(after, jac[here][i], noise[here][i])
        if chosen:
            doubt = _doubt(after, aims)
            found.append(FurtherRow(words, tuple(cells[i] for i in sorted(chosen)), doubt, now - doubt >= _HARDLY))
    return now, sorted(found, key=lambda r: r.doubt)[:most]


def _kinds(bench: Workbench, at_hand: Sequence[int]) -> dict[str, list[tuple[Layer, ...]]]:
    """The kinds of row one may lay, in words, each with all its cells: colours by themselves in one way, and colours over their
    neighbours in the rack."""
    kinds: dict[str, list[tuple[Layer, ...]]] = {}
    for c in at_hand:
        for how in _strokes(bench, c):
            kinds.setdefault(f"colours by themselves, {how.words()}", []).append((Lay(c, how),))
    for below, above in pairwise(at_hand):
        dry = (Lay(below, _under(bench, below)), Lay(above, _under(bench, above)))
        kinds.setdefault("colours over their neighbours in the rack", []).append(dry)
        if _runs_into(bench, dry[:1], above):
            wet = Lay(above, replace(dry[1].stroke, wet=True))
            kinds.setdefault("colours laid wet over their neighbours in the rack", []).append((dry[0], wet))
    return kinds


def _under(bench: Workbench, colour: int) -> Stroke:
    """How a colour is laid where it meets another."""
    return _USUAL if bench.swatches[colour].kind == "film" else _USUAL_COATS


def _doubt(spread: Floats, aims: Floats) -> float:
    """Root mean square of the doubt of the aims (T, 3, n), in about ΔE00."""
    return float(np.sqrt(np.einsum("tin,nm,tim->ti", aims, spread, aims).sum(axis=1).mean()))


def _aims(bench: Workbench, rng: np.random.Generator, weights: Floats) -> list[tuple[Layer, ...]]:
    return [_stack(bench, rng, weights, int(rng.integers(2, 5))) for _ in range(_LIKELY)]


def _slopes(bench: Workbench, every: Sequence[tuple[Layer, ...]] | Sequence[Sequence[Layer]]) -> tuple[Floats, Floats, Floats]:
    """How each stack moves with each doubt (S, 3, n), in about ΔE00; the covariance (S, 3, 3) of what an unsteady hand and a
    reading add to it; and the doubts' covariance (n, n)."""
    # What a doubt is told by tells as well what would lessen it.
    space = Space(bench, range(len(bench.swatches)), thin(bench, FEW_QUANTILES, THIRD))
    usual = thin_colours(space.thin, every)
    weigh = metric(usual)
    way = np.einsum("pij,pj->pi", weigh, thin_colours(space.thin, every, shaken=True) - usual)
    noise = _NOISE**2 * np.eye(3) + way[:, :, None] * way[:, None, :]
    return weigh @ slopes(space, np.zeros(space.size), every, usual), noise, space.spread()


def _greedy(
    spread: Floats, jac: Floats, noise: Floats, aims: Floats, many: int, alone: Sequence[int | None], each: int | None
) -> list[int]:
    """Patches (P, 3, n) in the order in which each lessens the summed variance of the aims (A, n) most; of those of one
    colour `alone`, at most `each`.

    What a patch shares with itself and with the aims is narrowed along with the covariance rather than made anew.
    """
    moved = jac @ spread
    seen = moved @ jac.transpose(0, 2, 1) + noise
    shared = moved @ aims.T
    chosen: list[int] = []
    for _ in range(min(many, len(jac))):
        gain = np.einsum("pia,pia->p", shared, np.linalg.solve(seen, shared))
        had = Counter(alone[i] for i in chosen)
        full = [i for i, c in enumerate(alone) if c is not None and had[c] == each]
        gain[chosen + full] = -1
        best = int(np.argmax(gain))
        chosen.append(best)
        told = spread @ jac[best].T
        through = np.linalg.solve(seen[best], told.T)
        spread = spread - told @ through
        ours = jac @ told
        seen = seen - ours @ np.linalg.solve(seen[best], ours.transpose(0, 2, 1))
        shared = shared - ours @ (through @ aims.T)
    return chosen


def _narrowed(spread: Floats, jac: Floats, noise: Floats) -> Floats:
    """The covariance after a patch with these slopes (3, n) and noise (3, 3) was measured."""
    moved = spread @ jac.T
    out: Floats = spread - moved @ np.linalg.solve(jac @ moved + noise, moved.T)
    return out


def _likely(bench: Workbench, out: frozenset[int]) -> Floats:
    """How likely each colour is to be used for skin (N,), summing to 1; 0 for those `out`."""
    labs = bench.solids
    hue = np.degrees(np.arctan2(labs[:, 2], labs[:, 1]))
    warm = (hue > 15) & (hue < 95) & (np.hypot(labs[:, 1], labs[:, 2]) < 50)
    share: Floats = np.where(warm, _SKIN_LIKELY, 1.0)
    share[sorted(out)] = 0.0
    return share / max(float(share.sum()), 1e-9)


def _strokes(bench: Workbench, colour: int) -> tuple[Stroke, ...]:
    return _PRESSED if bench.swatches[colour].kind == "film" else _COATS


def _stack(bench: Workbench, rng: np.random.Generator, weights: Floats, layers: int) -> tuple[Layer, ...]:
    colours = rng.choice(len(weights), layers, replace=int((weights > 0).sum()) < layers, p=weights)
    out: list[Layer] = []
    for c in colours.tolist():
        if bench.swatches[c].kind == "film":
            out.append(Lay(c, _PRESSED[int(rng.integers(len(_PRESSED)))]))
        else:
            wet = _runs_into(bench, out, c) and bool(rng.random() < _WET)
            out.append(Lay(c, Stroke("coat", int(rng.choice(_COATS_USED)), wet=wet)))
    return tuple(out)


def _acted(bench: Workbench, rng: np.random.Generator, stack: tuple[Layer, ...]) -> tuple[Layer, ...]:
    """The stack with what closes its grain, or a lift, in the end; dye has neither."""
    medium = next((bench.swatches[x.colour].medium for x in lays(stack)[-1:]), "")
    blend = closing(medium) if medium else None
    return stack if blend is None else (*stack, blend if rng.random() < 0.5 else Lift("kneaded"))


def _runs_into(bench: Workbench, below: Sequence[Layer], colour: int) -> bool:
    """Whether a colour laid next finds dye that may still be wet, and is one itself."""
    under = [x.colour for x in below if isinstance(x, Lay)][-1:]
    return bool(under) and all(bench.swatches[c].kind == "dye" for c in (*under, colour))


def _candidates(bench: Workbench, rng: np.random.Generator, weights: Floats) -> list[tuple[Layer, ...]]:
    singles: list[tuple[Layer, ...]] = [(Lay(c, how),) for c in np.flatnonzero(weights).tolist() for how in _strokes(bench, c)]
    pairs = list(dict.fromkeys(_stack(bench, rng, weights, 2) for _ in range(_PAIRS_MOST)))
    return singles + pairs
