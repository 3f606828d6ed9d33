"""Calibration: hand, sheet, media and colours moved so that they explain measured patches, by robust least squares.

Everything that may move is an offset with a prior (`fits`): what the patches say little of stays near its default, so few
patches help and none harm. Differences are weighed as CIEDE2000 weighs them near each patch; a patch that fits nothing else
loses its say (Cauchy weights). The same patches give the same fit.
"""

from collections.abc import Generator, Iterator, Sequence
from dataclasses import dataclass, replace

import numpy as np

from caltin_core.colour.difference import delta_e_2000, metric
from caltin_core.colour.tables import Bools, Floats, Ints
from caltin_core.errors import BadRequest
from caltin_core.media.colourants import solid_of, solids_from_lab
from caltin_core.media.fits import MOST_MISSED, UNEVEN, possible
from caltin_core.media.hand import HAND, PRESSURES
from caltin_core.media.layers import MAX_PASSES, Lay, Layer
from caltin_core.media.moves import WHOLE, Space, slopes
from caltin_core.media.predict import colours_of, thin_colours
from caltin_core.media.workbench import Workbench

_ROUNDS = 20
# So near its bound an offset stands at it.
_AT = 1e-9
# A patch this many times the usual miss has lost half its say.
_ROBUST = 2.2
# The usual miss of a patch in one direction before any is known, as uneven as a solid, worth so many patches.
_LEAST_NOISE, _FIRST_NOISE, _USUAL_COUNT = 0.35, UNEVEN, 16
# Every patch is let miss by so many times that at first, and by half as much each turn, until it misses what it must: with all
# their say at once a few patches would hold the fit where it happened to begin (graduated non-convexity: Blake & Zisserman 1987).
_WIDE = 8.0
_WORST = 5
# What a further layer adds to what a layer by itself misses by, in squares, before stacks were measured: worth so many of them.
_FURTHER, _USUAL_STACKS = 0.5, 12
# The median of squared lengths against their mean, of three normal ones each (chi-square).
_MEDIAN = 2.366 / 3
# From here on a miss is more than an unsteady hand, in ΔE00.
_SUSPECT = 3.0


@dataclass(frozen=True)
class Patch:
    """What was laid, and what was measured: D50 CIELAB (3,)."""

    layers: tuple[Layer, ...]
    lab: Floats


@dataclass(frozen=True)
class Calibrated:
    """The bench as it fits the patches, and what each patch still misses by: ΔE00 (P,)."""

    bench: Workbench
    misses: Floats

    @property
    def worst(self) -> list[int]:
        """The patches that fit worst, worst first."""
        return [int(i) for i in np.argsort(-self.misses, kind="stable")[:_WORST]]


def is_solid(bench: Workbench, layers: Sequence[Layer]) -> bool:
    """Whether a patch of these layers is the solid swatch of one colour."""
    first = layers[0]
    return len(layers) == 1 and isinstance(first, Lay) and first.stroke == solid_of(bench.swatches[first.colour].kind)


def with_solids(bench: Workbench, patches: Sequence[Patch]) -> Workbench:
    """The bench swatched on its own sheet, the solids that are among the patches in place of what was typed; a spectrum that
    was measured is worth more than a patch's colour and stays."""
    read = {p.layers[0].colour: p.lab for p in patches if is_solid(bench, p.layers) and isinstance(p.layers[0], Lay)}
    fresh = [c for c in read if not bench.swatches[c].measured]
    media = [bench.swatches[c].medium for c in fresh]
    made = solids_from_lab([read[c] for c in fresh], [bench.ground] * len(fresh), media)
    solids = dict(zip(fresh, made, strict=True))
    swatches = (replace(s, solid=solids.get(i, s.solid), on=bench.ground) for i, s in enumerate(bench.swatches))
    return replace(bench, swatches=tuple(swatches))


def doubt(bench: Workbench, patch: Patch, miss: float) -> str:
    """What may have gone wrong with a patch that misses by so much, as a question; empty where nothing explains it."""
    if miss < _SUSPECT:
        return ""
    others = list(_otherwise(patch.layers))
    if not others:
        return ""
    seen = np.array([lab for lab, _ in colours_of(bench, [layers for _, layers in others])])
    away = delta_e_2000(patch.lab, seen)
    best = int(np.argmin(away))
    return others[best][0] if away[best] < 0.5 * miss else ""


def _otherwise(layers: tuple[Layer, ...]) -> Iterator[tuple[str, tuple[Layer, ...]]]:
    """What may have been laid in place of these layers."""
    for i, x in enumerate(layers):
        if not isinstance(x, Lay):
            continue
        before, after = layers[:i], layers[i + 1 :]
        if 2 * x.stroke.passes <= MAX_PASSES:
            yield "laid twice?", (*before, replace(x, stroke=replace(x.stroke, passes=2 * x.stroke.passes)), *after)
        if len(layers) > 1:
            yield "a layer left out?", (*before, *after)
        if x.stroke.pressure in PRESSURES:
            at = PRESSURES.index(x.stroke.pressure)
            for said, to in (("pressed harder?", at + 1), ("pressed more softly?", at - 1)):
                if 0 <= to < len(PRESSURES):
                    yield said, (*before, replace(x, stroke=replace(x.stroke, pressure=PRESSURES[to])), *after)
    if len(layers) > 1:
        yield "laid in the other order?", layers[::-1]


def calibrate(bench: Workbench, patches: Sequence[Patch]) -> Calibrated:
    """Fit the bench to the patches. Raises BadRequest when there is none."""
    steps = fitting(bench, patches)
    while True:
        try:
            next(steps)
        except StopIteration as done:
            out: Calibrated = done.value
            return out


def fitting(bench: Workbench, patches: Sequence[Patch]) -> Generator[tuple[int, int], None, Calibrated]:
    """The same in steps: how many are done, of how many at most; it may be left between any two, and nothing is changed."""
    if not patches:
        raise BadRequest("patches", "at least one patch is needed")
    stacks = [p.layers for p in patches]
    measured = np.array([p.lab for p in patches])
    used = sorted({x.colour for stack in stacks for x in stack if isinstance(x, Lay)})
    space = Space(bench, used)
    prior = np.linalg.inv(space.spread())
    scale, theta = metric(measured), np.zeros(space.size)
    noise, damping, here = _WIDE * _FIRST_NOISE, 1e-3, space.thin
    seen = thin_colours(here, stacks)
    weigh = _steadied(scale, here, stacks, seen, noise)
    slope = slopes(space, theta, stacks, seen)
    r, jac = _weighed(weigh, seen - measured), weigh @ slope
    say = _say(r, noise)
    # What changes nothing of these patches, such as how a dye washes where there is none, never will.
    shared = [j for j in range(space.shared) if jac[:, :, j].any()]
    for turn in range(_ROUNDS):
        yield turn, _ROUNDS
        pull = np.einsum("p,pij,pi->j", say, jac, r) / noise**2 + prior @ theta
        normal = np.einsum("p,pij,pik->jk", say, jac, jac) / noise**2 + prior
        step = step_from(space, theta, normal + damping * np.diag(np.diag(normal)), pull)
        there = space.at(theta + step, space.thin)
        moved = thin_colours(there, stacks)
        trial = _weighed(weigh, moved - measured)
        before, after = (_cost(x, t, noise, prior) for x, t in ((r, theta), (trial, theta + step)))
        better = after < before
        if better:
            theta, r, seen, here, damping = theta + step, trial, moved, there, max(damping / 10, 1e-6)
        else:
            damping = min(damping * 10, 1e3)
        noise, wider = max(_noise_of(r), noise / 2), noise
        say = _say(r, noise)
        if noise > wider / 2 and (before - after < 1e-3 * before if better else damping >= 1e3):
            break
        if better or noise < wider:
            slope = slopes(space, theta, stacks, seen, shared) if better else slope
            weigh = _steadied(scale, here, stacks, seen, noise)
            r, jac = _weighed(weigh, seen - measured), weigh @ slope
    yield _ROUNDS, _ROUNDS
    return _told(space, bench, patches, theta, r, say, jac, prior, noise)


def step_from(space: Space, theta: Floats, normal: Floats, pull: Floats) -> Floats:
    """The step (n,) that lessens the misses most; what stands at its bound and would go beyond stays (projected Newton steps:
    Bertsekas 1982)."""
    held = (theta <= space.least + _AT) & (pull > 0) | (theta >= space.most - _AT) & (pull < 0)
    step = np.zeros(len(theta))
    step[~held] = np.linalg.solve(normal[np.ix_(~held, ~held)], -pull[~held])
    return np.clip(theta + step, space.least, space.most) - theta


def _told(
    space: Space, bench: Workbench, patches: Sequence[Patch], theta: Floats, r: Floats, say: Floats, jac: Floats, prior: Floats,
    noise: float,
) -> Calibrated:  # fmt: skip
    spread = np.linalg.inv(np.einsum("p,pij,pik->jk", say, jac, jac) / noise**2 + prior)
    spread = (spread + spread.T) / 2
    members = theta + possible(3, spread)
    laid = np.array([max(1, sum(isinstance(x, Lay) for x in p.layers)) for p in patches])
    left, further = _left(r, jac, spread, say, noise, laid)
    fitted = space.at(theta, bench)
    hand = replace(fitted.hand, members=_rows(members[:, :HAND]))
    ground = replace(fitted.ground, members=_rows(members[:, HAND:WHOLE]))
    swatches = []
    for c, s in enumerate(fitted.swatches):
        each = [space.fit_of(s, c, m) for m in members]
        # Of a colour without a patch of its own only the hand, the sheet and the medium are known.
        rows = _rows(np.array([[*f.own, *f.manner] for f in each])) if c in space.own else ()
        on = ground if s.on is fitted.ground else s.on
        swatches.append(
            replace(s, on=on, fit=replace(s.fit, members=rows, noise=left if rows else None, further=further if rows else 0.0))
        )
    out = Workbench(tuple(swatches), ground, hand)
    seen = np.array([lab for lab, _ in colours_of(out, [p.layers for p in patches])])
    return Calibrated(out, delta_e_2000(np.array([p.lab for p in patches]), seen))


def _rows(table: Floats) -> tuple[tuple[float, ...], ...]:
    return tuple(tuple(round(float(v), 6) for v in row) for row in table)


def _weighed(weigh: Floats, by: Floats) -> Floats:
    """Differences (P, 3), each in the metric (P, 3, 3) of its patch."""
    return np.asarray(np.einsum("pij,pj->pi", weigh, by))


def _steadied(scale: Floats, bench: Workbench, stacks: Sequence[Sequence[Layer]], seen: Floats, noise: float) -> Floats:
    """The metric (P, 3, 3) with less weight along the way each patch goes from where it is `seen` when the hand draws a little
    harder."""
    along = _weighed(scale, thin_colours(bench, stacks, shaken=True) - seen)
    length = _length(along)[:, None, None]
    unit = along[:, :, None] / np.maximum(length, 1e-9)
    less = 1 / np.sqrt(1 + (length / noise) ** 2)
    keep = np.eye(3) - (1 - less) * unit * unit.transpose(0, 2, 1)
    out: Floats = keep @ scale
    return out


def _length(r: Floats) -> Floats:
    return np.asarray(np.sqrt((r * r).sum(axis=1)))


def _noise_of(r: Floats) -> float:
    """The usual miss in one direction: the median length of three normal ones is 1.54 of it. Few patches can be met by
    moving everything, so that what they leave says little: it counts beside what is usual."""
    left = float(np.median(_length(r))) / 1.54
    both = (len(r) * left**2 + _USUAL_COUNT * _FIRST_NOISE**2) / (len(r) + _USUAL_COUNT)
    return max(float(np.sqrt(both)), _LEAST_NOISE)


def _say(r: Floats, noise: float) -> Floats:
    out: Floats = 1 / (1 + (_length(r) / (_ROBUST * 1.54 * noise)) ** 2)
    return out


def _cost(r: Floats, theta: Floats, noise: float, prior: Floats) -> float:
    at = _ROBUST * 1.54 * noise
    return float((at / noise) ** 2 * np.log1p((_length(r) / at) ** 2).sum() + theta @ prior @ theta)


def _left(r: Floats, jac: Floats, spread: Floats, say: Floats, noise: float, layers: Ints) -> tuple[float, float]:
    """What a patch of one layer misses by beyond the spread of the offsets, in ΔE00, and what every further layer adds to it in
    squares: of the misses, each against the share of it that the fit leaves of a patch so well fitted (studentized: Cook & Weisberg
    1982, "Residuals and Influence in Regression")."""
    lever, along = np.linalg.eigh(say[:, None, None] * np.einsum("pij,jk,plk->pil", jac, spread, jac) / noise**2)
    whole = np.einsum("pij,pj,pkj->pik", along, 1 / np.sqrt(1 - np.clip(lever, 0, 0.95)), along)
    square = _length(_weighed(whole, r)) ** 2

    def beyond(rows: Bools) -> float:
        # Among a dozen stacks one that fits nothing would rule their mean.
        return max(float(np.median(square[rows])) / _MEDIAN, _LEAST_NOISE**2)

    single, stacked = layers == 1, layers > 1
    first = beyond(single) if single.any() else beyond(stacked)
    # Few stacks say little of the usual one: they count beside what is usual.
    count, more = int(stacked.sum()), 0.0
    if stacked.any() and single.any():
        more = max(beyond(stacked) - first, 0.0) / float((layers[stacked] - 1).mean())
    more = (count * more + _USUAL_STACKS * _FURTHER * first) / (count + _USUAL_STACKS)
    return min(float(np.sqrt(first)), MOST_MISSED), min(float(np.sqrt(more)), MOST_MISSED)
