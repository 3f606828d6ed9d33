"""What kits, papers and hands look like from outside."""

from typing import Annotated, Any, Literal
from uuid import UUID

from ninja import Schema
from pydantic import Field

from caltin_core.contract.shapes import HandlingShape, Medium, ToothName
from caltin_site.shapes import Lab, Strict, Tone

Name = Annotated[str, Field(min_length=1, max_length=80)]


class KitColour(Strict):
    """A colour of a kit; `tone` is its solid swatch."""

    id: Annotated[str, Field(min_length=1, max_length=40, pattern=r"^[A-Za-z0-9_-]+$")]
    name: Name
    medium: Medium
    tone: Lab
    source: Literal["typed", "photograph", "demo"] = "typed"
    handling: HandlingShape = HandlingShape()
    retired: bool = False


class PaperData(Strict):
    """A sheet's tone and tooth, and what calibration found of it."""

    tone: Lab
    tooth: ToothName
    fitted: dict[str, Any] | None = None


class Measured(Strict):
    """What was measured of a colour: its solid's spectrum (31 bands, empty without a spectral reader), and its fit."""

    spectrum: list[float] = []
    fitted: dict[str, Any]


class KitData(Strict):
    """All colours of a kit; what was measured of them, and the sheet on which that was."""

    colours: list[KitColour]
    measured: dict[str, Measured] = {}
    on: PaperData | None = None


class HandData(Strict):
    """A hand's numbers, as the core fitted them."""

    fitted: dict[str, Any]


class KitColourOut(KitColour):
    """A kit's colour with its tone as the screen needs it."""

    shown: Tone
    is_black: bool
    words: str
    measured: bool


class KitOut(Schema):
    """A kit in one version."""

    id: UUID
    name: str
    version: UUID
    number: int
    newest: int
    colours: list[KitColourOut]


class PaperOut(Schema):
    """A paper in one version."""

    id: UUID
    name: str
    version: UUID
    number: int
    newest: int
    tone: Tone
    tooth: ToothName


class HandOut(Schema):
    """A hand in one version; `measured`, or only one to start from."""

    id: UUID
    name: str
    version: UUID
    number: int
    newest: int
    measured: bool


class RackOut(Schema):
    """Everything one can draw with, in its newest version."""

    kits: list[KitOut]
    papers: list[PaperOut]
    hands: list[HandOut]


class NewKit(Strict):
    """A kit to begin; empty, or with colours."""

    name: Name
    colours: list[KitColour] = []


class KitChange(Strict):
    """A kit's next version, made from the version numbered `seen`."""

    seen: int
    name: Name
    colours: list[KitColour]


class NewPaper(Strict):
    """A paper to add."""

    name: Name
    tone: Lab
    tooth: ToothName


class PaperChange(NewPaper):
    """A paper's next version."""

    seen: int


class ToneAsked(Strict):
    """A colour typed as hex."""

    hex: str
