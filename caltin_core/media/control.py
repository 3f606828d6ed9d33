"""Control cells: a few patches laid again, to see whether hand and paper are still what was measured."""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from caltin_core.colour.difference import delta_e_2000
from caltin_core.errors import BadRequest
from caltin_core.media.calibrate import Patch, is_solid
from caltin_core.media.layers import Lay, Layer
from caltin_core.media.predict import colours_of
from caltin_core.media.workbench import Workbench

CONTROLS = 3
# Controls that miss by less, in ΔE00, are of the same hand; by more, of another (common practice).
_HOLDS, _DRIFTED = 2.5, 4.0


def controls(bench: Workbench, patches: Sequence[Patch]) -> list[tuple[Layer, ...]]:
    """A light, a middle and a dark one of the patches laid before; none of them a solid, or hidden under one, or blended or lifted,
    where that can be, since these tell little of how the hand presses. Raises BadRequest where there are too few."""
    if len(patches) < CONTROLS:
        raise BadRequest("paper", "measure a sheet on this paper first; a control lays three of its cells again")
    telling = [p for p in patches if all(isinstance(x, Lay) for x in p.layers) and not _hidden(bench, p.layers)]
    by_depth = sorted(telling if len(telling) >= CONTROLS else patches, key=lambda p: float(p.lab[0]))
    return [by_depth[int((i + 0.5) * len(by_depth) / CONTROLS)].layers for i in range(CONTROLS)]


def _hidden(bench: Workbench, layers: Sequence[Layer]) -> bool:
    """Whether only a solid is seen: a film hides what lies below, a dye does not."""
    last = layers[-1]
    film = isinstance(last, Lay) and bench.swatches[last.colour].kind == "film"
    return is_solid(bench, [last] if film else layers)


@dataclass(frozen=True)
class Drift:
    """By how much controls miss what was measured before: median ΔE00, and how much lighter they are on the whole."""

    away: float
    lighter: float

    @property
    def words(self) -> str:
        """What to make of it."""
        if self.away < _HOLDS:
            return f"Hand and paper hold: the controls are {self.away:.1f} away."
        how = f"{self.away:.1f} away, {'lighter' if self.lighter > 0 else 'darker'} than they were"
        if self.away < _DRIFTED:
            return f"Something moves: the controls are {how}. Lay another control before you trust close matches."
        return f"Hand or paper are no longer what was measured: the controls are {how}. Measure a new sheet."


def drift(bench: Workbench, patches: Sequence[Patch]) -> Drift:
    """How far controls (at least one) are from what a calibrated bench says of them."""
    seen = np.array([lab for lab, _ in colours_of(bench, [p.layers for p in patches])])
    read = np.array([p.lab for p in patches])
    return Drift(float(np.median(delta_e_2000(seen, read))), float((read - seen)[:, 0].mean()))
