"""Shapes shared by the commands: colours, surfaces, layers; and their way into the core's own values."""

from collections.abc import Sequence
from typing import Annotated, Any, Literal

import numpy as np
from pydantic import BaseModel, ConfigDict, Discriminator, Field, Tag, model_validator
from pydantic_core import PydanticCustomError

from caltin_core.colour.spaces import HEX, lab_from_hex
from caltin_core.colour.spectra import DARKEST, LIGHTEST, lab_from_reflectance, reflectance_from_lab, reflectance_from_samples
from caltin_core.colour.tables import Floats
from caltin_core.errors import CaltinError
from caltin_core.media.colourants import Ground, Nib, sheet_from_fitted
from caltin_core.media.film import surface_taken_off
from caltin_core.media.layers import COAT, MAX_PASSES, Blend, Lay, Layer, Lift, Stroke

Finite = Annotated[float, Field(allow_inf_nan=False)]
LabTuple = tuple[
    Annotated[Finite, Field(ge=0, le=100)], Annotated[Finite, Field(ge=-200, le=200)], Annotated[Finite, Field(ge=-200, le=200)]
]
LabOut = tuple[Finite, Finite, Finite]
Medium = Literal[
    "wax_pencil", "oil_pencil", "graphite", "charcoal", "ink_line", "alcohol_marker", "hard_pastel", "soft_pastel",
    "pastel_pencil", "oil_pastel", "white_pen",
]  # fmt: skip
ToothName = Literal["smooth", "vellum", "textured", "sanded", "card"]
Pressure = Literal["light", "medium", "firm", "burnish"]
Illuminant = Literal["A", "D50", "D65", "FL2", "LED-B3"]
Id = Annotated[str, Field(min_length=1)]
# Decimals of a Lab colour in an answer, and of a share.
DECIMALS, SHARE_DECIMALS = 4, 5
_ONE_OF = ("lab", "hex", "reflectance")


class Shape(BaseModel):
    """Base of every shape: no unknown keys, nothing changed after it was read."""

    model_config = ConfigDict(extra="forbid", frozen=True)


class Samples(Shape):
    """A measured reflectance, samples `step` nm apart from `start` nm, covering 400-700 nm.

    `surface` says that it was measured with the surface's own reflection, which is then taken off.
    """

    start: Finite
    step: Annotated[Finite, Field(ge=1, le=20)]
    values: Annotated[list[Annotated[Finite, Field(ge=0, le=1)]], Field(min_length=2, max_length=1000)]
    surface: Annotated[bool, Field(strict=True)] = False


def _one_colour(schema: dict[str, Any]) -> None:
    schema["oneOf"] = [{"required": [key]} for key in _ONE_OF]


class Coloured(Shape):
    """A colour given as exactly one of `lab` (D50), `hex` (sRGB) or `reflectance`."""

    model_config = ConfigDict(extra="forbid", frozen=True, json_schema_extra=_one_colour)

    lab: LabTuple | None = Field(default=None, json_schema_extra={"description": "D50, 2°"})
    hex: Annotated[str, Field(pattern=f"^{HEX.pattern}$")] | None = None
    reflectance: Samples | None = None

    @model_validator(mode="before")
    @classmethod
    def _exactly_one(cls, value: Any) -> Any:
        if isinstance(value, dict):
            given = [key for key in _ONE_OF if key in value]
            if not given:
                raise PydanticCustomError("at:lab", "the colour is missing: give lab, hex or reflectance")
            if len(given) > 1:
                raise PydanticCustomError(f"at:{given[1]}", "give the colour once: either lab, hex or reflectance")
            if value[given[0]] is None:
                raise PydanticCustomError(f"at:{given[0]}", "the colour is empty")
        return value

    def as_lab(self, where: str) -> Floats:
        """D50 CIELAB (3,)."""
        if self.lab is not None:
            return np.array(self.lab)
        if self.hex is not None:
            return lab_from_hex(self.hex)
        return lab_from_reflectance(self.as_reflectance(where))

    def as_reflectance(self, where: str) -> Floats:
        """Reflectance (31,); smooth where only a colour was given."""
        if self.reflectance is None:
            return reflectance_from_lab(self.as_lab(where))
        try:
            samples = self.reflectance
            bands = reflectance_from_samples(samples.start, samples.step, np.array(samples.values))
            return np.clip(surface_taken_off(bands), DARKEST, LIGHTEST) if samples.surface else bands
        except CaltinError as fault:
            raise fault.inside(f"{where}.reflectance") from None


class Surface(Coloured):
    """A sheet; `fitted` is what `calibrate` found of it."""

    name: str
    tooth: ToothName
    fitted: dict[str, Any] | None = None

    def ground(self, where: str) -> Ground:
        """The sheet as the core knows it."""
        ground = Ground(self.as_reflectance(where), self.tooth)
        if self.fitted is None:
            return ground
        try:
            return sheet_from_fitted(ground, self.fitted)
        except CaltinError as fault:
            raise fault.inside(where) from None

    def is_sheet(self, other: "Surface") -> bool:
        """Whether this is the other sheet, said again, with as much found of it or without a word of that."""
        return self == (other if self.fitted is not None else other.model_copy(update={"fitted": None}))


class HandlingShape(Shape):
    """How a stick behaves."""

    hardness: Annotated[int, Field(ge=1, le=5, strict=True)] = 3
    weak: Annotated[bool, Field(strict=True)] = False
    crumbles: Annotated[bool, Field(strict=True)] = False
    chalky: Annotated[bool, Field(strict=True)] = False
    keeps_point: Annotated[bool, Field(strict=True)] = True
    nib: Nib = ""


class ColourShape(Coloured):
    """One colour of the kit: its solid swatch, three burnished passes or one dry coat; `fitted` is what `calibrate` found."""

    id: Id
    medium: Medium
    on: Surface | None = None
    handling: HandlingShape = HandlingShape()
    fitted: dict[str, Any] | None = None


class HandShape(Shape):
    """A hand as `calibrate` gives it."""

    fitted: dict[str, Any]


class LayShape(Shape):
    """A colour with its stroke."""

    colour: Id
    pressure: Pressure
    passes: Annotated[int, Field(ge=1, le=MAX_PASSES, strict=True)]
    point: Literal["sharp", "side"] = "sharp"
    turned: Annotated[bool, Field(strict=True)] = False


class CoatShape(Shape):
    """A marker, a line or the white pen with its coats; `wet` holds for every one of them."""

    colour: Id
    passes: Annotated[int, Field(ge=1, le=MAX_PASSES, strict=True)]
    wet: Annotated[bool, Field(strict=True)] = False


class BlendShape(Shape):
    """What lies there is worked into itself."""

    blend: Literal["stump", "finger", "blender", "solvent"]


class LiftShape(Shape):
    """Some of what lies there is taken off."""

    lift: Literal["kneaded", "stick", "knife"]


class RepeatShape(Shape):
    """Layers laid again; not nested."""

    repeat: Annotated[list["PlainLayer"], Field(min_length=1)]
    times: Annotated[int, Field(ge=2, le=6, strict=True)]


class NestedRepeat(Shape):
    """Refused, with a sentence."""

    @model_validator(mode="before")
    @classmethod
    def _refuse(cls, value: Any) -> Any:
        raise PydanticCustomError("at:repeat", "a repeat cannot stand inside a repeat")


def _kind(value: Any) -> str:
    keys = value if isinstance(value, dict) else type(value).model_fields if isinstance(value, BaseModel) else {}
    for key in ("repeat", "blend", "lift"):
        if key in keys:
            return f"~{key}"
    # Without any pressure, point or turn it can only be coats; which of both a colour needs is for the kit to say.
    pressed = "pressure" in keys or "point" in keys or "turned" in keys
    return "~laid" if not pressed and ("passes" in keys or "wet" in keys) else "~colour"


_Plain = (
    Annotated[LayShape, Tag("~colour")]
    | Annotated[CoatShape, Tag("~laid")]
    | Annotated[BlendShape, Tag("~blend")]
    | Annotated[LiftShape, Tag("~lift")]
)
# One coloured layer, pressed or in coats.
LaidShape = LayShape | CoatShape
# One thing done to what lies there.
ActShape = LaidShape | BlendShape | LiftShape
PlainLayer = Annotated[_Plain | Annotated[NestedRepeat, Tag("~repeat")], Discriminator(_kind)]
AnyLayer = Annotated[_Plain | Annotated[RepeatShape, Tag("~repeat")], Discriminator(_kind)]
RepeatShape.model_rebuild()


def stroke_of(shape: LaidShape) -> Stroke:
    """The stroke that a coloured layer of the contract says."""
    if isinstance(shape, CoatShape):
        return Stroke(COAT, shape.passes, wet=shape.wet)
    return Stroke(shape.pressure, shape.passes, shape.point, shape.turned)


def act_of(shape: BlendShape | LiftShape) -> Blend | Lift:
    """The blend or the lift that the contract says."""
    return Blend(shape.blend) if isinstance(shape, BlendShape) else Lift(shape.lift)


def laid_shape(colour: str, stroke: Stroke) -> LaidShape:
    """One coloured layer as the contract writes it."""
    if stroke.pressure == COAT:
        return CoatShape(colour=colour, passes=stroke.passes, wet=stroke.wet)
    return LayShape(
        colour=colour, pressure=stroke.pressure, passes=stroke.passes, point=stroke.point, turned=stroke.turned
    )  # fmt: skip


def act_shape(ids: Sequence[str], layer: Layer) -> ActShape:
    """One layer, blend or lift as the contract writes it; `ids` are the kit's colours."""
    if isinstance(layer, Lay):
        return laid_shape(ids[layer.colour], layer.stroke)
    return BlendShape(blend=layer.kind) if isinstance(layer, Blend) else LiftShape(lift=layer.kind)


def rounded(lab: Floats) -> LabOut:
    """A Lab colour for an answer."""
    l, a, b = (round(float(v), DECIMALS) for v in lab)  # noqa: E741
    return (l, a, b)
