"""What kits, papers and hands look like from outside."""

from typing import Annotated, Any, Literal
from uuid import UUID

from ninja import Schema
from pydantic import Field

from caltin_core.colour.tables import BANDS
from caltin_core.contract.shapes import HandlingShape, Medium, ToothName
from caltin_core.rack.entries import Lightfast
from caltin_core.rack.states import State
from caltin_site.shapes import Lab, Strict, Tone

Name = Annotated[str, Field(min_length=1, max_length=80)]


class KitColour(Strict):
    """A colour of a kit; `tone` is its solid swatch."""

    id: Annotated[str, Field(min_length=1, max_length=40, pattern=r"^[A-Za-z0-9_-]+$")]
    name: Name
    medium: Medium
    tone: Lab
    source: Literal["typed", "photograph", "file", "reader", "demo"] = "typed"
    handling: HandlingShape = HandlingShape()
    retired: bool = False
    line: Annotated[str, Field(max_length=60)] = ""
    lightfast: Lightfast = ""
    harmful: Annotated[str, Field(max_length=200)] = ""


Spectrum = Annotated[list[Annotated[float, Field(gt=0, lt=1)]], Field(min_length=BANDS, max_length=BANDS)]


class PaperData(Strict):
    """A sheet's tone and tooth, and what calibration found of it."""

    tone: Lab
    tooth: ToothName
    fitted: dict[str, Any] | None = None


class Measured(Strict):
    """What was measured of a colour: its solid's spectrum (31 bands, empty without a spectral reader), and its fit, empty
    without patches; the name of the paper that was on, when (ISO 8601), and what the swatches showed of its handling, where
    that is known."""

    spectrum: list[float] = []
    fitted: dict[str, Any] = {}
    paper: str = ""
    when: str = ""
    learnt: str = ""


class KitData(Strict):
    """All colours of a kit; what was measured of them, and the sheet on which that was, as its patches show it: `paper` is that
    sheet's own id, where it has one."""

    colours: list[KitColour]
    measured: dict[str, Measured] = {}
    on: PaperData | None = None
    paper: UUID | None = None


class HandData(Strict):
    """A hand's numbers, as the core fitted them."""

    fitted: dict[str, Any]


class KitColourOut(KitColour):
    """A kit's colour with its tone as the screen needs it."""

    shown: Tone
    is_black: bool
    words: str
    measured: bool
    paper: str
    when: str
    learnt: str
    state: State = "full"
    # Whether it is laid in coats, and whether it cannot be drawn with now.
    coats: bool
    out: bool


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
    spectra: dict[str, Spectrum] = {}


class KitChange(Strict):
    """A kit's next version, made from the version numbered `seen`."""

    seen: int
    name: Name
    colours: list[KitColour]
    spectra: dict[str, Spectrum] = {}


class StateAsked(Strict):
    """How full a stick is now."""

    colour: str
    state: State


class PairOut(Schema):
    """Two colours that may be taken for one another; `says` is a sentence."""

    one: str
    other: str
    why: Literal["alike", "same colour", "same name"]
    says: str


class GapOut(Schema):
    """A tone of skin that no stick is near."""

    tone: Tone
    words: str
    away: float


class RackTold(Schema):
    """What a rack tells of itself: its orders by ids, pairs to beware of, and gaps."""

    orders: dict[str, list[str]]
    pairs: list[PairOut]
    gaps: list[GapOut]


class NearOut(Schema):
    """A colour and how far it is from a tone, in ΔE00."""

    colour: str
    away: float


class ReplacementOut(Schema):
    """How to do without a colour: the nearest other stick, and the nearest two layers of others."""

    nearest: str | None
    away: float | None
    sentence: str
    tone: Tone | None
    misses: float | None


class RowOut(Schema):
    """A row of a file: what it becomes, or what is wrong with it."""

    number: int
    cells: dict[str, str]
    colour: KitColour | None
    spectrum: list[float]
    hex: str
    wrong: str


class FileOut(Schema):
    """What a file would become."""

    name: str
    format: str
    rows: list[RowOut]


class RowAsked(Strict):
    """A row to look at again, after its cells were changed."""

    number: Annotated[int, Field(ge=0)]
    cells: Annotated[dict[str, str], Field(max_length=100)]


class ReaderOut(Schema):
    """Whether a colour reader is set up on this machine."""

    there: bool


class ReadingOut(Schema):
    """What the colour reader saw: the tone, its spectrum of 31 bands, and by how much its readings differ (ΔE00)."""

    tone: Tone
    spectrum: list[float]
    spread: float


class NewPaper(Strict):
    """A paper to add."""

    name: Name
    tone: Lab
    tooth: ToothName


class PaperChange(NewPaper):
    """A paper's next version."""

    seen: int


class ByEye(Strict):
    """A colour set by eye: Munsell value, strength in C*ab, hue in degrees of CIELAB."""

    value: Annotated[float, Field(ge=0, le=10)]
    strength: Annotated[float, Field(ge=0, le=200)]
    hue: Annotated[float, Field(ge=0, le=360)]


class ToneAsked(Strict):
    """A colour typed as hex or as Lab, or set by eye."""

    hex: str | None = None
    lab: Lab | None = None
    eye: ByEye | None = None


class ToneTold(Tone):
    """A tone in words, and as it is set by eye."""

    words: str
    hue_word: str
    eye: ByEye


class CoveredOut(Schema):
    """One complexion: its undertone, its base as drawn, and the roles this kit misses, with how far (ΔE00)."""

    undertone: str
    base: Tone
    missed: dict[str, float]


class CoverageOut(Schema):
    """Complexions by depth, the lightest first, in rows of undertones from ruddy to olive; and what they say."""

    undertones: list[str]
    roles: list[str]
    complexions: list[CoveredOut]
    words: list[str]
