"""An area's layers as runs: what is laid with one colour in the hand, or wet into what was just laid, before anything else."""

from collections.abc import Sequence
from dataclasses import dataclass

from caltin_core.media.kinds import MEDIA
from caltin_core.media.layers import Lay, Layer
from caltin_core.media.workbench import Workbench

# A round of the drawing, and a school's stage within it: what comes earlier is through on the whole sheet before.
Turn = tuple[int, int]
GROUND, DRY, COVER = range(3)


@dataclass(frozen=True)
class Run:
    """Consecutive layers of one area, by their numbers.

    `chain` is the colours in the order they are taken up: one, or several where one is laid wet into another. Blends and lifts
    go with the layer they follow; a run of these alone has no chain.
    """

    layers: tuple[int, ...]
    chain: tuple[int, ...]
    turn: Turn


def rounds_of(bench: Workbench, layers: Sequence[Layer]) -> list[int]:
    """The round every layer of an area belongs to, never going back. Common practice: no marker after wax or chalk, which foul
    its nib, and the white pen at the very end; what a recipe lays under a marker, or under anything on the pen, comes when it must.
    """
    swatches = [bench.swatches[x.colour] if isinstance(x, Lay) else None for x in layers]
    marked = max((i + 1 for i, s in enumerate(swatches) if s and s.kind == "dye" and not MEDIA[s.medium].permanent), default=0)
    bare = max((i + 1 for i, s in enumerate(swatches) if s and s.kind != "cover"), default=0)
    now, out = GROUND, []
    for index, swatch in enumerate(swatches):
        if swatch and swatch.kind == "film" and index >= marked:
            now = max(now, DRY)
        if swatch and swatch.kind == "cover" and index >= bare:
            now = COVER
        out.append(now)
    return out


def runs_of(layers: Sequence[Layer], turns: Sequence[Turn]) -> list[Run]:
    """The runs of an area's layers; `turns` says for each layer the turn it belongs to, never going back."""
    out: list[Run] = []
    for index, layer in enumerate(layers):
        last = out[-1] if out else None
        if not isinstance(layer, Lay):
            out = [*out[:-1], _with(last, index, ())] if last else [Run((index,), (), turns[index])]
        elif last is not None and not last.chain:
            out[-1] = Run((*last.layers, index), (layer.colour,), turns[index])
        elif last is not None and _at_once(layer, turns[index], last):
            out[-1] = _with(last, index, () if layer.colour == last.chain[-1] else (layer.colour,))
        else:
            out.append(Run((index,), (layer.colour,), turns[index]))
    return out


def _at_once(layer: Lay, turn: Turn, last: Run) -> bool:
    """Whether a layer follows a run with nothing between: wet into it, or with the colour still in the hand."""
    if layer.stroke.wet and turn[0] == last.turn[0]:
        return True
    return layer.colour == last.chain[-1] and turn == last.turn


def _with(run: Run, index: int, more: tuple[int, ...]) -> Run:
    return Run((*run.layers, index), (*run.chain, *more), run.turn)
