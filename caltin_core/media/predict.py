"""What a stack of layers will look like: the one door from kit, paper and hand to a predicted colour."""

from collections import defaultdict
from collections.abc import Sequence
from dataclasses import dataclass, field, replace
from functools import cached_property

import numpy as np

from caltin_core.colour.difference import delta_e_2000
from caltin_core.colour.spectra import lab_from_reflectance
from caltin_core.colour.tables import Floats
from caltin_core.media.colourants import Ground, Swatch, colourants
from caltin_core.media.film import seen_together
from caltin_core.media.hand import Hand
from caltin_core.media.layers import LIFTS, STROKE_INDEX, Lay, Layer, kinds
from caltin_core.media.pencil import Colourants, Drawn, Strokes, bare, blend, lay, lift, strokes_on
from caltin_core.media.tooth import TEETH, Tooth

_CHUNK = 256
# How far the defaults may be from a hand that was never measured: each is one standard deviation, judged
# from common practice; calibration will replace them by its residuals.
_UNSURE_HARDER, _UNSURE_DEEPER, _UNSURE_SCATTER = 1.25, 1.2, 1.6
_UNSURE_SWATCH = 1.0
_P80 = 1.28
_SMALL_KIT = 48


@dataclass(frozen=True)
class Start:
    """Where the layers begin when not on bare paper: a reflectance (31,) and the share of tooth used."""

    reflectance: Floats
    tooth_used: float


@dataclass(frozen=True)
class Workbench:
    """A kit on a sheet in a hand, ready to predict. Build it once and use it for many stacks."""

    swatches: tuple[Swatch, ...]
    ground: Ground
    hand: Hand = field(default_factory=Hand)
    scattering: float = 1.0

    @cached_property
    def tooth(self) -> Tooth:
        """The sheet's tooth."""
        return TEETH[self.ground.tooth]

    @cached_property
    def colourants(self) -> Colourants:
        """K and S of the kit. The swatches were made by this hand."""
        return colourants(self.swatches, self.hand, self.scattering)

    @cached_property
    def strokes(self) -> Strokes:
        """What every stroke deposits here."""
        return strokes_on(self.tooth, self.hand)

    @cached_property
    def solids(self) -> Floats:
        """D50 CIELAB (N, 3) of the solids as swatched."""
        return lab_from_reflectance(np.array([s.solid for s in self.swatches]))

    def doubts(self, colours: Sequence[int]) -> "tuple[tuple[Workbench, ...], dict[int, int]]":
        """The same bench with each thing that is only assumed moved by one standard deviation, and where each of
        `colours` lies in its kit. Of a large kit only these colours are solved again.
        """
        if len(self.swatches) <= _SMALL_KIT:
            return self._all_doubts, {colour: colour for colour in colours}
        return self._moved(tuple(self.swatches[c] for c in colours)), {c: index for index, c in enumerate(colours)}

    @cached_property
    def _all_doubts(self) -> "tuple[Workbench, ...]":
        return self._moved(self.swatches)

    def _moved(self, kit: tuple[Swatch, ...]) -> "tuple[Workbench, ...]":
        return (
            Workbench(kit, self.ground, self.hand.pressed(_UNSURE_HARDER), self.scattering),
            Workbench(kit, self.ground, self.hand.pressed(1.0, _UNSURE_DEEPER), self.scattering),
            Workbench(kit, self.ground, self.hand, self.scattering * _UNSURE_SCATTER),
        )

    def start(self, count: int, start: Start | None = None) -> Drawn:
        """`count` stacks with nothing laid yet."""
        if start is None:
            return bare(self.ground.reflectance, count)
        return bare(start.reflectance, count, start.tooth_used, self.tooth)

    def step(self, drawn: Drawn, layers: Sequence[Layer]) -> Drawn:
        """Lay, blend or lift once on each of B stacks; all layers of one kind."""
        first = layers[0]
        if isinstance(first, Lay):
            pairs = np.array([(x.colour, STROKE_INDEX[x.stroke]) for x in layers if isinstance(x, Lay)], dtype=np.intp)
            return lay(drawn, self.colourants, self.strokes, self.tooth, pairs[:, 0], pairs[:, 1])
        return lift(drawn, first.kind) if first.kind in LIFTS else blend(drawn, first.kind)

    def used(self, drawn: Drawn) -> Floats:
        """Mean share of the tooth's capacity that is used (B,), 0-1."""
        out: Floats = np.clip(drawn.fill.mean(axis=1) / self.tooth.capacity, 0.0, 1.0)
        return out


@dataclass(frozen=True)
class Prediction:
    """One stack: reflectance (31,), colour after each layer, tooth, grain and how unsure it is.

    `after_lab` (layers, 3), `after_used` (layers,), `after_grain` (layers, Q, 3), `grain_lab` (Q, 3); `lab` and
    these are relative to the illuminant's white. `uncertainty` is the ΔE00 within which 80 % of real patches lie.
    """

    lab: Floats
    reflectance: Floats
    tooth_used: float
    after_lab: Floats
    after_used: Floats
    after_grain: Floats
    grain_lab: Floats
    uncertainty: float


def predict(
    bench: Workbench, stacks: Sequence[Sequence[Layer]], illuminant: str = "D50", starts: Sequence[Start | None] | None = None
) -> list[Prediction]:
    """Predict every stack, in order. `starts`, where given, has one entry for each stack."""
    out: list[Prediction | None] = [None] * len(stacks)
    begin: list[Start | None] = list(starts) if starts is not None else [None] * len(stacks)
    groups: dict[tuple[int, tuple[str, ...]], list[int]] = defaultdict(list)
    for index, stack in enumerate(stacks):
        groups[(id(begin[index]), tuple(kinds(stack)))].append(index)
    for rows in groups.values():
        for at in range(0, len(rows), _CHUNK):
            part = rows[at : at + _CHUNK]
            group = [stacks[i] for i in part]
            for index, done in zip(part, _together(bench, group, illuminant, begin[part[0]]), strict=True):
                out[index] = done
    return [p for p in out if p is not None]


def colours_of(bench: Workbench, stacks: Sequence[Sequence[Layer]], start: Start | None = None) -> list[tuple[Floats, float]]:
    """Only the D50 Lab (3,) and the tooth used of every stack, from one start: `predict` without its doubts."""
    out: dict[int, tuple[Floats, float]] = {}
    groups: dict[tuple[str, ...], list[int]] = defaultdict(list)
    for index, stack in enumerate(stacks):
        groups[tuple(kinds(stack))].append(index)
    for rows in groups.values():
        last = _run(bench, [stacks[i] for i in rows], start)[-1]
        out.update(
            zip(rows, zip(lab_from_reflectance(seen_together(last.seen)), bench.used(last).tolist(), strict=True), strict=True)
        )
    return [out[i] for i in range(len(stacks))]


def _run(bench: Workbench, stacks: Sequence[Sequence[Layer]], start: Start | None) -> list[Drawn]:
    """The states after each layer of stacks that share their kinds, bare ground first."""
    states = [bench.start(len(stacks), start)]
    for position in range(len(stacks[0])):
        states.append(bench.step(states[-1], [stack[position] for stack in stacks]))
    return states


def _together(bench: Workbench, stacks: Sequence[Sequence[Layer]], illuminant: str, start: Start | None) -> list[Prediction]:
    states = _run(bench, stacks, start)
    seen = np.stack([seen_together(s.seen) for s in states], axis=1)
    labs = lab_from_reflectance(seen, illuminant)
    used = np.stack([bench.used(s) for s in states], axis=1)
    grain = lab_from_reflectance(np.stack([s.seen for s in states], axis=1), illuminant)
    unsure = _uncertainty(bench, stacks, start, lab_from_reflectance(seen[:, -1]))
    return [
        Prediction(
            labs[i, -1], seen[i, -1], float(used[i, -1]), labs[i, 1:], used[i, 1:], grain[i, 1:], grain[i, -1], float(unsure[i])
        )
        for i in range(len(stacks))
    ]


def _uncertainty(bench: Workbench, stacks: Sequence[Sequence[Layer]], start: Start | None, lab: Floats) -> Floats:
    """ΔE00 (B,) within which 80 % of real patches lie: each assumption moved in turn, added in squares."""
    variance = np.full(len(stacks), _UNSURE_SWATCH**2)
    used = sorted({layer.colour for stack in stacks for layer in stack if isinstance(layer, Lay)})
    if used:
        others, place = bench.doubts(used)
        moved_to = [[replace(x, colour=place[x.colour]) if isinstance(x, Lay) else x for x in stack] for stack in stacks]
        for other in others:
            moved = lab_from_reflectance(seen_together(_run(other, moved_to, start)[-1].seen))
            variance += delta_e_2000(lab, moved) ** 2
    out: Floats = _P80 * np.sqrt(variance)
    return out
