"""The command `cure`."""

from typing import Annotated

from pydantic import Field

from caltin_core.contract.command import Command
from caltin_core.contract.matching import RulesShape, rules_of
from caltin_core.contract.shapes import (
    SHARE_DECIMALS,
    AnyLayer,
    Coloured,
    ColourShape,
    HandShape,
    Kit,
    LabOut,
    Shape,
    Surface,
    rounded,
)
from caltin_core.media.workbench import Workbench
from caltin_core.recipes.cure import Cure, cures


class CureRequest(Shape):
    """What `cure` is asked; `complaint` is what the artist says is wrong, `beside` what is drawn around the place."""

    surface: Surface
    colours: list[ColourShape]
    hand: HandShape | None = None
    done: list[AnyLayer]
    target: Coloured
    complaint: Annotated[str, Field(max_length=200)] = ""
    rules: RulesShape = RulesShape()
    beside: list[Coloured] = []


class CureShape(Shape):
    """One cure: the layers from here, what is seen after them, and a sentence."""

    layers: list[AnyLayer]
    lab: LabOut
    de00: float
    tooth_used: float
    words: str
    last_resort: bool


class CureAnswer(Shape):
    """What `cure` answers, best first."""

    cures: list[CureShape]
    incurable: str | None = None


def _shape(kit: Kit, cure: Cure) -> CureShape:
    seen = cure.prediction
    return CureShape(
        layers=kit.acts(cure.layers), lab=rounded(seen.lab), de00=round(cure.difference.de00, 4),
        tooth_used=round(seen.tooth_used, SHARE_DECIMALS), words=cure.words, last_resort=cure.last_resort,
    )  # fmt: skip


def run(request: CureRequest) -> CureAnswer:
    """Find the smallest cures for what was done."""
    kit = Kit.by_id(request.surface, request.colours, request.hand)
    bench = Workbench(kit.swatches, kit.ground, kit.hand)
    done = kit.layers(list(request.done), "done")
    beside = [c.as_lab(f"beside[{i}]") for i, c in enumerate(request.beside)]
    complaint = " ".join(request.complaint.lower().replace("_", " ").replace("-", " ").split())
    found = cures(bench, done, request.target.as_lab("target"), complaint, rules_of(kit, request.rules), beside)
    return CureAnswer(cures=[_shape(kit, c) for c in found.cures], incurable=found.incurable or None)


COMMANDS = {"cure": Command(CureRequest, CureAnswer, run)}
