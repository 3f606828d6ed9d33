"""The command `light`."""

from typing import Annotated

from pydantic import Field, model_validator
from pydantic_core import PydanticCustomError

from caltin_core.colour.sources import spectrum_of
from caltin_core.colour.spaces import hex_from_lab
from caltin_core.colour.tables import ILLUMINANTS, Floats
from caltin_core.contract.command import Command
from caltin_core.contract.shapes import Coloured, Finite, Illuminant, LabOut, Shape, rounded
from caltin_core.skin.planned import Bounce, Head, Key

Kelvin = Annotated[Finite, Field(ge=1667, le=25000)]


class KeyShape(Shape):
    """The light that makes the form: its colour as `kelvin` or `illuminant`, `elevation` in degrees above the horizon, `azimuth` in
    degrees about the head: 0 from the viewer, 90 from the right of the picture, 180 from behind."""

    kelvin: Kelvin | None = None
    illuminant: Illuminant | None = None
    elevation: Annotated[Finite, Field(ge=-90, le=90)]
    azimuth: Annotated[Finite, Field(ge=-360, le=360)]

    @model_validator(mode="after")
    def _one_light(self) -> "KeyShape":
        if (self.kelvin is None) == (self.illuminant is None):
            raise PydanticCustomError("light", "give the key's colour as exactly one of kelvin and illuminant")
        return self

    def spectrum(self) -> Floats:
        """Relative power (31,)."""
        return spectrum_of(self.kelvin) if self.kelvin is not None else ILLUMINANTS[str(self.illuminant)]


class FillShape(Shape):
    """The light from all around, so many stops below the key."""

    kelvin: Kelvin
    stops_below: Annotated[Finite, Field(ge=0, le=12)]


class BounceShape(Coloured):
    """A neighbouring thing that throws the key back, and how much of it there is."""

    strength: Annotated[Finite, Field(ge=0, le=1)]


class LightRequest(Shape):
    """What `light` is asked: a complexion's base as it looks in plain light, and the lights one plans."""

    base: Coloured
    key: KeyShape
    fill: FillShape
    bounce: BounceShape | None = None


class LitShape(Shape):
    """The tone of one role."""

    role: str
    lab: LabOut
    hex: str


class LightAnswer(Shape):
    """What `light` answers: the roles in the order an artist goes through them."""

    targets: list[LitShape]


def _light(request: LightRequest) -> LightAnswer:
    base = request.base.as_lab("base")
    key = Key(request.key.spectrum(), request.key.elevation, request.key.azimuth)
    thing = request.bounce
    bounce = None if thing is None else Bounce(thing.as_reflectance("bounce"), thing.strength)
    tones = Head(base, key, spectrum_of(request.fill.kelvin), request.fill.stops_below, bounce).tones()
    return LightAnswer(targets=[LitShape(role=role, lab=rounded(lab), hex=hex_from_lab(lab)[0]) for role, lab in tones.items()])


COMMANDS = {"light": Command(LightRequest, LightAnswer, _light)}
