"""The command `calibrate`."""

from typing import Annotated

import numpy as np
from pydantic import Field

from caltin_core.contract.command import Command
from caltin_core.contract.kit import Kit
from caltin_core.contract.shapes import AnyLayer, Coloured, ColourShape, HandShape, Shape, Surface
from caltin_core.media.calibrate import Patch, calibrate, doubt
from caltin_core.media.workbench import Workbench


class PatchShape(Coloured):
    """What was laid, and what was measured."""

    layers: list[AnyLayer]


class CalibrateRequest(Shape):
    """What `calibrate` is asked. What an earlier calibration found is left out: the patches say it anew."""

    surface: Surface
    colours: list[ColourShape]
    patches: Annotated[list[PatchShape], Field(min_length=1)]


class WorstShape(Shape):
    """A patch that fits badly, by its place in the request, and what may have happened to it."""

    patch: int
    de00: float
    words: str | None = None


class ResidualsShape(Shape):
    """What the patches still miss by, in ΔE00."""

    median_de00: float
    p90_de00: float
    worst: list[WorstShape]


class CalibrateAnswer(Shape):
    """What `calibrate` answers: surface, colours and hand go back into `predict` and `match` as they are."""

    surface: Surface
    colours: list[ColourShape]
    hand: HandShape
    residuals: ResidualsShape


def run(request: CalibrateRequest) -> CalibrateAnswer:
    """Fit hand, sheet and colours to the patches."""
    surface = request.surface.model_copy(update={"fitted": None})
    colours = [c.model_copy(update={"fitted": None}) for c in request.colours]
    kit = Kit(surface, colours, None)
    patches = [
        Patch(tuple(kit.layers(list(p.layers), f"patches[{i}].layers")), p.as_lab(f"patches[{i}]"))
        for i, p in enumerate(request.patches)
    ]
    found = calibrate(Workbench(kit.swatches, kit.ground), patches)
    fitted = {s.id: s.fit.fitted() for s in found.bench.swatches}
    worst = [
        WorstShape(
            patch=i, de00=round(float(found.misses[i]), 4), words=doubt(found.bench, patches[i], float(found.misses[i])) or None
        )
        for i in found.worst
    ]
    return CalibrateAnswer(
        surface=surface.model_copy(update={"fitted": found.bench.ground.fitted()}),
        colours=[c.model_copy(update={"fitted": fitted[c.id]}) for c in colours],
        hand=HandShape(fitted=found.bench.hand.fitted()),
        residuals=ResidualsShape(
            median_de00=round(float(np.median(found.misses)), 4),
            p90_de00=round(float(np.quantile(found.misses, 0.9)), 4),
            worst=worst,
        ),
    )


COMMANDS = {"calibrate": Command(CalibrateRequest, CalibrateAnswer, run)}
