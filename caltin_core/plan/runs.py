"""An area's layers as runs: what is laid with one colour in the hand, or wet into what was just laid, before anything else."""

from collections.abc import Sequence
from dataclasses import dataclass

from caltin_core.media.layers import Lay, Layer


@dataclass(frozen=True)
class Run:
    """Consecutive layers of one area, by their numbers.

    `chain` is the colours in the order they are taken up: one, or several where one is laid wet into another. Blends and lifts
    go with the layer they follow; a run of these alone has no chain.
    """

    layers: tuple[int, ...]
    chain: tuple[int, ...]
    stage: int


def runs_of(layers: Sequence[Layer], stages: Sequence[int]) -> list[Run]:
    """The runs of an area's layers; `stages` says for each layer the stage of a school it belongs to, never going back."""
    out: list[Run] = []
    for index, layer in enumerate(layers):
        last = out[-1] if out else None
        if not isinstance(layer, Lay):
            out = [*out[:-1], _with(last, index, ())] if last else [Run((index,), (), stages[index])]
        elif last is not None and not last.chain:
            out[-1] = Run((*last.layers, index), (layer.colour,), stages[index])
        elif last is not None and (layer.stroke.wet or (layer.colour == last.chain[-1] and stages[index] == last.stage)):
            out[-1] = _with(last, index, () if layer.colour == last.chain[-1] else (layer.colour,))
        else:
            out.append(Run((index,), (layer.colour,), stages[index]))
    return out


def _with(run: Run, index: int, more: tuple[int, ...]) -> Run:
    return Run((*run.layers, index), (*run.chain, *more), run.stage)
