"""The command `cure`."""

from typing import Annotated

from pydantic import Field

from caltin_core.contract.command import Command
from caltin_core.contract.kit import Kit
from caltin_core.contract.matching import RulesShape, rules_of
from caltin_core.contract.shapes import SHARE_DECIMALS, AnyLayer, Coloured, ColourShape, HandShape, LabOut, Shape, Surface, rounded
from caltin_core.media.workbench import Workbench
from caltin_core.recipes.cure import Cure, cures


class CureRequest(Shape):
    """What `cure` is asked; `complaint` is what the artist says is wrong, `beside` what is drawn around the place,
    `looks` what it was measured to be; `believed`, what is complained of is taken to be so where the layers do not show it;
    `planned`, the layers that were still to come."""

    surface: Surface
    colours: list[ColourShape]
    hand: HandShape | None = None
    done: list[AnyLayer]
    target: Coloured
    complaint: Annotated[str, Field(max_length=200)] = ""
    rules: RulesShape = RulesShape()
    beside: list[Coloured] = []
    looks: Coloured | None = None
    believed: bool = False
    planned: list[AnyLayer] = []


class CureShape(Shape):
    """One cure: the layers from here, what is seen after them, and a sentence."""

    layers: list[AnyLayer]
    lab: LabOut
    de00: float
    tooth_used: float
    words: str
    last_resort: bool


class CureAnswer(Shape):
    """What `cure` answers, best first; `looks` is what the place is taken to look like where that is not what its layers show."""

    cures: list[CureShape]
    incurable: str | None = None
    looks: LabOut | None = None


def _shape(kit: Kit, cure: Cure) -> CureShape:
    return CureShape(
        layers=kit.acts(cure.layers), lab=rounded(cure.prediction.lab), de00=round(cure.difference.de00, 4),
        tooth_used=round(cure.prediction.tooth_used, SHARE_DECIMALS), words=cure.words, last_resort=cure.last_resort,
    )  # fmt: skip


def run(request: CureRequest) -> CureAnswer:
    """Find the smallest cures for what was done."""
    kit = Kit.by_id(request.surface, request.colours, request.hand)
    bench = Workbench(kit.swatches, kit.ground, kit.hand)
    done = kit.layers(list(request.done), "done")
    beside = [c.as_lab(f"beside[{i}]") for i, c in enumerate(request.beside)]
    complaint = " ".join(request.complaint.lower().replace("_", " ").replace("-", " ").split())
    looks = request.looks.as_lab("looks") if request.looks else None
    planned = kit.layers(list(request.planned), "planned")
    rules, target = rules_of(kit, request.rules), request.target.as_lab("target")
    found = cures(bench, done, target, complaint, rules, beside, looks, believed=request.believed, planned=planned)
    seems = rounded(found.looks) if found.astray else None
    return CureAnswer(cures=[_shape(kit, c) for c in found.cures], incurable=found.incurable or None, looks=seems)


COMMANDS = {"cure": Command(CureRequest, CureAnswer, run)}
