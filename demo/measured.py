"""The demo's kits, papers and hands as if an artist had measured them in an evening: invented patches from the stand-in sheet.

An evening takes a while to calibrate; what the three gave lies in `measured.json`, written by ``python -m demo.measured``.
"""

import json
from collections.abc import Sequence
from dataclasses import asdict, dataclass
from pathlib import Path
from typing import Any

import numpy as np

from caltin_core.colour.spectra import DARKEST, LIGHTEST, reflectance_from_lab
from caltin_core.contract.shapes import laid_shape
from caltin_core.media.calibrate import Patch, calibrate
from caltin_core.media.colourants import Ground, Swatch
from caltin_core.media.layers import Lay, Stroke
from caltin_core.media.workbench import Workbench
from caltin_core.standins.paper import Nature, Sheet
from demo.kits import MARKERS_36, PASTELS_30, WAX_24

VELLUM, CARD, NIGHT = (95.0, 0.0, 3.0), (96.0, 0.0, 0.5), (38.0, -1.0, -6.0)
PAIRS = 12
_PRESSED = (
    (("light", 2), ("medium", 3), ("firm", 2)),
    (("light", 4), ("firm", 1), ("burnish", 1)),
    (("medium", 1), ("medium", 4), ("burnish", 2)),
)
_COATS = ((("coat", 2),), (("coat", 3),))
# How a pair is laid; markers' in turns dry and wet.
_PRESSED_PAIR = ((Stroke("medium", 3), Stroke("medium", 2)),)
_DUSTY_PAIR = ((Stroke("medium", 2), Stroke("light", 2)),)
_COATS_PAIR = ((Stroke("coat", 1), Stroke("coat", 1)), (Stroke("coat", 2), Stroke("coat", 2, wet=True)))
Stick = tuple[str, str, str, tuple[float, float, float]]


FILE = Path(__file__).parent / "measured.json"


@dataclass(frozen=True)
class Evening:
    """What the evening gave: of every colour its name, medium, D50 Lab, spectrum and fit; of the sheet tooth and fit; the hand; and
    the patches, each its layers and what was read."""

    tooth: str
    ground: dict[str, Any]
    hand: dict[str, Any]
    colours: dict[str, dict[str, Any]]
    patches: list[dict[str, Any]]


def kept(name: str) -> Evening:
    """What an evening gave when it was last calibrated: that of wax, markers or pastels."""
    return Evening(**json.loads(FILE.read_text())[name])


def wax() -> Evening:
    """The 24 wax pencils on vellum."""
    sticks = [(id, name, "wax_pencil", lab) for id, name, lab in WAX_24]
    return _evening(sticks, VELLUM, "vellum", Nature(harder=0.9, deeper=1.05), 24, _PRESSED, _PRESSED_PAIR)


def markers() -> Evening:
    """The 36 markers on card."""
    sticks = [(id, name, "alcohol_marker", lab) for id, name, lab in MARKERS_36]
    return _evening(sticks, CARD, "card", Nature(harder=1.05), 36, _COATS, _COATS_PAIR)


def pastels() -> Evening:
    """The 30 pastels on a dark toned paper."""
    return _evening(PASTELS_30, NIGHT, "sanded", Nature(harder=1.1), 30, [h[:2] for h in _PRESSED], _DUSTY_PAIR)


def _evening(
    sticks: Sequence[Stick], paper: tuple[float, float, float], tooth: str, nature: Nature, seed: int,
    strokes: Sequence[Sequence[tuple[str, int]]], pairs: Sequence[tuple[Stroke, Stroke]],
) -> Evening:  # fmt: skip
    """Draw and read some patches of every colour and a dozen pairs, and calibrate; the same each time."""
    bare = reflectance_from_lab(np.array(paper))
    sheet, ground = Sheet(bare, tooth, nature, seed), Ground(bare, tooth)
    swatches = []
    for id, name, medium, lab in sticks:
        solid = np.clip(sheet.solid_reflectance(sheet.add(np.array(lab), medium)), DARKEST, LIGHTEST)
        swatches.append(Swatch(id, solid, medium, ground, name=name, measured=True))
    stacks = [[Lay(c, Stroke(*how))] for c in range(len(swatches)) for how in strokes[c % len(strokes)]]
    for i, (one, other) in enumerate(np.random.default_rng(seed).choice(len(swatches), (PAIRS, 2))):
        under, over = pairs[i % len(pairs)]
        stacks.append([Lay(int(one), under), Lay(int(other), over)])
    patches = [Patch(tuple(stack), sheet.patch(stack)) for stack in stacks]
    bench = calibrate(Workbench(tuple(swatches), ground), patches).bench
    colours = {
        s.id: {
            "name": s.name, "medium": s.medium, "lab": [round(float(v), 4) for v in s.lab],
            "spectrum": [round(float(v), 5) for v in s.solid], "fitted": s.fit.fitted(),
        }
        for s in bench.swatches
    }  # fmt: skip
    read = [
        {
            "layers": [laid_shape(sticks[x.colour][0], x.stroke).model_dump() for x in stack],
            "lab": [round(float(v), 3) for v in patch.lab],
        }
        for stack, patch in zip(stacks, patches, strict=True)
    ]
    return Evening(tooth, bench.ground.fitted(), bench.hand.fitted(), colours, read)


EVENINGS = {"wax": wax, "markers": markers, "pastels": pastels}

if __name__ == "__main__":
    FILE.write_text(json.dumps({name: asdict(evening()) for name, evening in EVENINGS.items()}) + "\n")
