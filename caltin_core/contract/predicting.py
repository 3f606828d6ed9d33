"""The command `predict`."""

from collections.abc import Iterator, Sequence
from typing import Annotated, Any

import numpy as np
from pydantic import Field
from pydantic_core import to_json

from caltin_core.colour.spaces import hexes_from_lab
from caltin_core.contract.command import Command
from caltin_core.contract.kit import Kit
from caltin_core.contract.shapes import (
    DECIMALS,
    SHARE_DECIMALS,
    AnyLayer,
    ColourShape,
    HandShape,
    Id,
    Illuminant,
    LabOut,
    Shape,
    Surface,
    rounded,
)
from caltin_core.errors import BadRequest
from caltin_core.lanes import in_lanes
from caltin_core.media.cautions import cautions
from caltin_core.media.layers import Layer
from caltin_core.media.predict import Prediction, predict
from caltin_core.media.workbench import Workbench

# So many stacks are worth a lane of their own; so many are predicted in single precision.
_LANE, _MANY = 500, 5000


class Stack(Shape):
    """Layers to predict, under a name."""

    id: Id
    layers: list[AnyLayer]


class PredictRequest(Shape):
    """What `predict` is asked."""

    surface: Surface
    colours: list[ColourShape]
    hand: HandShape | None = None
    illuminant: Illuminant = "D50"
    stacks: list[Stack]


class After(Shape):
    """What is seen after one expanded layer."""

    lab: LabOut
    hex: str
    tooth_used: Annotated[float, Field(ge=0, le=1)]


class Grain(Shape):
    """One tooth quantile: its share of the sheet and its colour."""

    share: float
    hex: str


class Result(Shape):
    """One stack's prediction; `cautions` where the layers want a warning."""

    id: str
    lab: LabOut
    hex: str
    in_srgb: bool
    uncertainty_de00: float
    tooth_used: Annotated[float, Field(ge=0, le=1)]
    after: list[After]
    grain: list[Grain]
    cautions: list[str] | None = None


class PredictAnswer(Shape):
    """What `predict` answers."""

    results: list[Result]


def after_each(prediction: Prediction) -> list[After]:
    """The colour and tooth after every layer."""
    rows = zip(prediction.after_lab, hexes_from_lab(prediction.after_lab)[0], prediction.after_used, strict=True)
    return [After(lab=rounded(lab), hex=shown, tooth_used=round(float(used), SHARE_DECIMALS)) for lab, shown, used in rows]


def _results(found: Sequence[Prediction]) -> Iterator[dict[str, Any]]:
    """All of each `Result` that is seen; the colours of all stacks turned at once, which one by one takes longer than to
    predict them."""
    parts = [part for p in found for part in (p.lab[None], p.after_lab, p.grain_lab)]
    labs = np.concatenate(parts) if parts else np.zeros((0, 3))
    hexes, inside = hexes_from_lab(labs)
    plain = np.round(labs, DECIMALS).tolist()
    shares = iter(np.round(np.concatenate([np.zeros(0), *(p.after_used for p in found)]), SHARE_DECIMALS).tolist())
    at = 0
    for p in found:
        after, grain = at + 1, at + 1 + len(p.after_lab)
        end = grain + len(p.grain_lab)
        yield {
            "lab": plain[at], "hex": hexes[at], "in_srgb": bool(inside[at]), "uncertainty_de00": round(p.uncertainty, 4),
            "tooth_used": round(p.tooth_used, SHARE_DECIMALS),
            "after": [
                {"lab": lab, "hex": shown, "tooth_used": share}
                for lab, shown, share in zip(plain[after:grain], hexes[after:grain], shares, strict=False)
            ],
            "grain": [{"share": 1 / len(p.grain_lab), "hex": shown} for shown in hexes[grain:end]],
        }  # fmt: skip
        at = end


def _asked(request: PredictRequest) -> tuple[Workbench, list[list[Layer]]]:
    kit = Kit(request.surface, request.colours, request.hand)
    seen: set[str] = set()
    stacks = []
    for index, stack in enumerate(request.stacks):
        if stack.id in seen:
            raise BadRequest(f"stacks[{index}].id", f"“{stack.id}” is there twice")
        seen.add(stack.id)
        stacks.append(kit.layers(list(stack.layers), f"stacks[{index}].layers"))
    return Workbench(kit.swatches, kit.ground, kit.hand), stacks


def _many(stacks: Sequence[Sequence[Layer]]) -> bool:
    return len(stacks) >= _MANY


def _told(
    bench: Workbench, light: Illuminant, names: Sequence[Stack], stacks: Sequence[Sequence[Layer]], quick: bool
) -> list[dict[str, Any]]:  # fmt: skip
    """All of each `Result`."""
    out = []
    found = predict(bench, stacks, light, grains=False, quick=quick)
    for stack, layers, seen in zip(names, stacks, _results(found), strict=True):
        warned = cautions(bench, layers)
        out.append({"id": stack.id, **seen, "cautions": warned} if warned else {"id": stack.id, **seen})
    return out


def run(request: PredictRequest) -> PredictAnswer:
    """Predict every stack of the request, in its order."""
    bench, stacks = _asked(request)
    return PredictAnswer.model_validate({"results": _told(bench, request.illuminant, request.stacks, stacks, _many(stacks))})


def text(request: PredictRequest) -> str:
    """The same as JSON at once, many stacks in lanes: to build so many shapes takes long."""
    bench, stacks = _asked(request)
    # What is found once for the whole kit is found before the lanes part.
    bench.doubts(())

    def work(rows: Sequence[int]) -> list[str]:
        told = _told(bench, request.illuminant, [request.stacks[i] for i in rows], [stacks[i] for i in rows], _many(stacks))
        return [to_json(result).decode() for result in told]

    return f'{{"results":[{",".join(in_lanes(work, range(len(stacks)), _LANE))}]}}'


COMMANDS = {"predict": Command(PredictRequest, PredictAnswer, run, text)}
