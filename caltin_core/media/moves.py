"""What calibration may move: where each offset stands in one vector, and how far the colours of stacks move with each."""

from collections.abc import Callable, Collection, Sequence
from dataclasses import replace
from itertools import chain

import numpy as np

from caltin_core.colour.tables import Floats, Ints
from caltin_core.lanes import in_lanes
from caltin_core.media.colourants import Near, Swatch
from caltin_core.media.fits import (
    COLOUR,
    MANNER,
    SHEET,
    ColourFit,
    hand_spread,
    hand_with,
    manner_bounds,
    manner_spread,
    sheet_bounds,
    sheet_spread,
)
from caltin_core.media.hand import HAND, Hand
from caltin_core.media.kinds import MEDIA
from caltin_core.media.layers import Lay, Layer
from caltin_core.media.predict import thin, thin_colours
from caltin_core.media.tooth import TEETH
from caltin_core.media.workbench import Workbench

_STEP = 0.02
_MANNERS = len(MANNER)
# Offsets of the hand and the sheet, which every stack is moved by.
WHOLE = HAND + SHEET
# So many moves are worth a lane of their own; so many stacks at least are moved together.
_LANE, _TOGETHER = 20, 128


class Space:
    """Where each offset stands in one long vector."""

    def __init__(self, bench: Workbench, used: Sequence[int], thinned: Workbench | None = None) -> None:
        self.bench, self.used = bench, list(used)
        self.media = list(dict.fromkeys(bench.swatches[c].medium for c in used))
        self.manner = {m: WHOLE + _MANNERS * i for i, m in enumerate(self.media)}
        self.shared = WHOLE + _MANNERS * len(self.media)
        self.own = {c: self.shared + COLOUR * i for i, c in enumerate(self.used)}
        self.size = self.shared + COLOUR * len(self.used)
        self.thin = thinned or thin(bench)
        bounds = [sheet_bounds(TEETH[bench.ground.tooth]), *(manner_bounds(MEDIA[m]) for m in self.media)]
        free = np.full(HAND, np.inf), np.full(self.size - self.shared, np.inf)
        # Beyond these nothing changes.
        self.least = np.concatenate([-free[0], *(low for low, _ in bounds), -free[1]])
        self.most = np.concatenate([free[0], *(high for _, high in bounds), free[1]])

    def small_step(self, theta: Floats, offset: int) -> float:
        """A small step of one offset that still changes something."""
        return _STEP if theta[offset] + _STEP <= self.most[offset] else -_STEP

    def spread(self) -> Floats:
        """Covariance of everything before a patch was measured."""
        out = np.zeros((self.size, self.size))
        out[:HAND, :HAND] = hand_spread()
        out[HAND:WHOLE, HAND:WHOLE] = sheet_spread()
        for at in self.manner.values():
            out[at : at + _MANNERS, at : at + _MANNERS] = manner_spread()
        for colour, at in self.own.items():
            out[at : at + COLOUR, at : at + COLOUR] = self.bench.swatches[colour].spread
        return out

    def fit_of(self, swatch: Swatch, colour: int, theta: Floats) -> ColourFit:
        """A colour's offsets, and its medium's."""
        manner = self.manner.get(swatch.medium)
        own = self.own.get(colour)
        return ColourFit(
            tuple(theta[own : own + COLOUR].tolist()) if own is not None else (0.0,) * COLOUR,
            tuple(theta[manner : manner + _MANNERS].tolist()) if manner is not None else (0.0,) * _MANNERS,
        )

    def at(self, theta: Floats, bench: Workbench, near: Near | None = None) -> Workbench:
        """A bench moved by these offsets, to where K and S are about those `near`. A solid laid on the same sheet moves too."""
        ground = replace(bench.ground, fit=tuple(theta[HAND:WHOLE].tolist()))
        swatches = tuple(
            replace(s, fit=self.fit_of(s, c, theta), on=ground if s.on is bench.ground else s.on)
            for c, s in enumerate(bench.swatches)
        )
        return Workbench(swatches, ground, hand_with(Hand(), theta[:HAND]), near=near)


def slopes(
    space: Space, theta: Floats, stacks: Sequence[Sequence[Layer]], seen: Floats, shared: Collection[int] | None = None
) -> Floats:  # fmt: skip
    """∂ Lab / ∂ offset (P, 3, n) of stacks by small steps from where they are `seen` (P, 3). Of what all colours share only the
    `shared` offsets are moved, where these are given."""
    shared = range(space.shared) if shared is None else shared
    here = space.at(theta, space.thin)
    near = (here.colourants.k, here.colourants.s)
    every = np.arange(len(stacks))
    moves: list[_Move] = [
        (_moved(space, theta, j, near), list(stacks), every, np.full(len(stacks), j)) for j in shared if j < WHOLE
    ]
    moves += _moved_colours(space, theta, here, stacks, [j for j in shared if j >= WHOLE])
    found = in_lanes(lambda some: [thin_colours(bench(), laid) for bench, laid, _, _ in some], moves, _LANE)
    jac = np.zeros((*seen.shape, space.size))
    for (_, _, rows, offsets), out in zip(moves, found, strict=True):
        steps = np.array([space.small_step(theta, j) for j in offsets])
        jac[rows, :, offsets] = (out - seen[rows]) / steps[:, None]
    return jac


# A bench to predict stacks on, which stand at some rows of all and tell the slope at some offset each.
_Move = tuple[Callable[[], Workbench], Sequence[Sequence[Layer]], Ints, Ints]


def _moved(space: Space, theta: Floats, offset: int, near: Near) -> Callable[[], Workbench]:
    moved = theta.copy()
    moved[offset] += space.small_step(theta, offset)
    return lambda: space.at(moved, space.thin, near)


def _moved_colours(
    space: Space, theta: Floats, here: Workbench, stacks: Sequence[Sequence[Layer]], manners: Sequence[int]
) -> list[_Move]:  # fmt: skip
    """What moves with a medium or with a colour moves as one kit: every colour stands in it once for each offset that moves it, and
    each stack is laid with those in place of its own."""
    offsets = {
        c: [*(j for j in manners if 0 <= j - space.manner[here.swatches[c].medium] < _MANNERS), *range(own, own + COLOUR)]
        for c, own in space.own.items()
    }
    kit, place = list(range(len(here.swatches))), {}
    moved = list(here.swatches)
    for c, every in offsets.items():
        for j in every:
            there = theta.copy()
            there[j] += space.small_step(theta, j)
            place[c, j] = len(kit)
            kit.append(c)
            moved.append(replace(here.swatches[c], fit=space.fit_of(here.swatches[c], c, there)))
    bench = Workbench(tuple(moved), here.ground, here.hand, near=(here.colourants.k[kit], here.colourants.s[kit]))
    laid, rows, at = [], [], []
    for row, stack in enumerate(stacks):
        colours = dict.fromkeys(x.colour for x in stack if isinstance(x, Lay))
        for j in dict.fromkeys(chain.from_iterable(offsets[c] for c in colours)):
            laid.append([Lay(place.get((x.colour, j), x.colour), x.stroke) if isinstance(x, Lay) else x for x in stack])
            rows.append(row)
            at.append(j)
    many = max(len(stacks), _TOGETHER)
    parts = [slice(first, first + many) for first in range(0, len(laid), many)]
    return [(lambda: bench, laid[p], np.array(rows[p], dtype=np.intp), np.array(at[p], dtype=np.intp)) for p in parts]
