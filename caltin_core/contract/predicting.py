"""The command `predict`."""

from typing import Annotated

from pydantic import Field

from caltin_core.colour.spaces import hex_from_lab
from caltin_core.contract.shapes import AnyLayer, ColourShape, HandShape, Id, Illuminant, Kit, LabOut, Shape, Surface, rounded
from caltin_core.errors import BadRequest
from caltin_core.media.cautions import cautions
from caltin_core.media.predict import Prediction, Workbench, predict


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
    rows = zip(prediction.after_lab, prediction.after_used, strict=True)
    return [After(lab=rounded(lab), hex=hex_from_lab(lab)[0], tooth_used=round(float(used), 5)) for lab, used in rows]


def grain_of(prediction: Prediction) -> list[Grain]:
    """The colour of every tooth quantile."""
    share = 1 / len(prediction.grain_lab)
    return [Grain(share=share, hex=hex_from_lab(lab)[0]) for lab in prediction.grain_lab]


def run(request: PredictRequest) -> PredictAnswer:
    """Predict every stack of the request, in its order."""
    kit = Kit(request.surface, request.colours, request.hand)
    seen: set[str] = set()
    stacks = []
    for index, stack in enumerate(request.stacks):
        if stack.id in seen:
            raise BadRequest(f"stacks[{index}].id", f"“{stack.id}” is there twice")
        seen.add(stack.id)
        stacks.append(kit.layers(list(stack.layers), f"stacks[{index}].layers"))
    bench = Workbench(kit.swatches, kit.ground, kit.hand)
    results = []
    for stack, layers, p in zip(request.stacks, stacks, predict(bench, stacks, request.illuminant), strict=True):
        shown, inside = hex_from_lab(p.lab)
        results.append(
            Result(
                id=stack.id,
                lab=rounded(p.lab),
                hex=shown,
                in_srgb=inside,
                uncertainty_de00=round(p.uncertainty, 4),
                tooth_used=round(p.tooth_used, 5),
                after=after_each(p),
                grain=grain_of(p),
                cautions=cautions(bench, layers) or None,
            )
        )
    return PredictAnswer(results=results)
