"""The command `read`."""

from pathlib import Path
from typing import Annotated, Literal

from pydantic import Field

from caltin_core.colour.spaces import hex_from_lab
from caltin_core.colour.value import munsell_value
from caltin_core.contract.command import Command
from caltin_core.contract.shapes import Finite, LabOut, Shape, rounded
from caltin_core.errors import CaltinError
from caltin_core.reference.develop import PLAIN, Develop
from caltin_core.reference.picture import Pixels, open_picture
from caltin_core.reference.points import Place, balance, extremes, tone, zones
from caltin_core.skin.undertone import undertone


class PointShape(Shape):
    """A place to read: pixels of the upright image."""

    role: str
    x: Finite
    y: Finite
    radius: Annotated[Finite, Field(ge=0)]


class ReadRequest(Shape):
    """What `read` is asked."""

    image: str
    white: tuple[Finite, Finite] | None = None
    points: list[PointShape]
    values: Annotated[int, Field(ge=1, le=100, strict=True)] = 5


class UndertoneShape(Shape):
    """The undertone in a word, ITA° under D65 and the CIELAB hue angle under D50."""

    word: Literal["pink", "orange", "yellow", "olive", "neutral"]
    ita: float
    hue: float


class PointRead(Shape):
    """The tone of one place."""

    role: str
    lab: LabOut
    hex: str
    value: float
    undertone: UndertoneShape
    spread: float


class ZoneShape(Shape):
    """One step of value."""

    value: float
    lab: LabOut
    share: float


class PlaceShape(Shape):
    """A pixel and its tone."""

    x: int
    y: int
    lab: LabOut


class ReadAnswer(Shape):
    """What `read` answers."""

    points: list[PointRead]
    zones: list[ZoneShape]
    darkest: PlaceShape
    lightest: PlaceShape


def developed(pixels: Pixels, white: tuple[float, float] | None) -> Develop:
    """How a request's picture is developed: balanced by its white, where one is given."""
    if white is None:
        return PLAIN
    try:
        return Develop(balance(pixels, *white))
    except CaltinError as fault:
        where = {"x": "white[0]", "y": "white[1]"}.get(fault.where, fault.where)
        raise type(fault)(where, fault.what) from None


def run(request: ReadRequest) -> ReadAnswer:
    """Read the places and values of the picture."""
    pixels = open_picture(Path(request.image))
    develop = developed(pixels, request.white)
    points = []
    for index, point in enumerate(request.points):
        try:
            read = tone(pixels, point.x, point.y, point.radius, develop)
        except CaltinError as fault:
            raise fault.inside(f"points[{index}]") from None
        leans = undertone(read.lab)
        points.append(
            PointRead(
                role=point.role,
                lab=rounded(read.lab),
                hex=hex_from_lab(read.lab)[0],
                value=round(float(munsell_value(read.lab)), 4),
                undertone=UndertoneShape(word=leans.word, ita=round(leans.ita, 4), hue=round(leans.hue, 4)),
                spread=round(read.spread, 4),
            )
        )
    darkest, lightest = extremes(pixels, develop)
    return ReadAnswer(
        points=points,
        zones=[ZoneShape(value=z.value, lab=rounded(z.lab), share=z.share) for z in zones(pixels, request.values, develop)],
        darkest=_place(darkest),
        lightest=_place(lightest),
    )


def _place(place: Place) -> PlaceShape:
    return PlaceShape(x=place.x, y=place.y, lab=rounded(place.lab))


COMMANDS = {"read": Command(ReadRequest, ReadAnswer, run)}
