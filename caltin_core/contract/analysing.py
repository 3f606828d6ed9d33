"""The command `analyse`."""

from pathlib import Path
from typing import Annotated, Literal

import numpy as np
from pydantic import Field

from caltin_core.colour.value import munsell_value
from caltin_core.contract.command import Command
from caltin_core.contract.reading import developed
from caltin_core.contract.shapes import SHARE_DECIMALS, Finite, LabOut, Shape, rounded
from caltin_core.errors import BadRequest
from caltin_core.reference import areas
from caltin_core.reference.cast import guess
from caltin_core.reference.picture import Pixels, open_picture
from caltin_core.reference.points import proxy
from caltin_core.skin.complexion import Complexion, measure
from caltin_core.skin.light import lights

UndertoneWord = Literal["pink", "orange", "yellow", "olive", "neutral"]
Share = Annotated[float, Field(ge=0, le=1)]


class AnalyseRequest(Shape):
    """What `analyse` is asked: a picture, a white to balance by, and the part to look at."""

    image: str
    white: tuple[Finite, Finite] | None = None
    box: tuple[Finite, Finite, Finite, Finite] | None = None


class CastShape(Shape):
    """What a white object looks like in the picture, and how far that is from neutral."""

    de00: float
    lab: LabOut
    confidence: Share


class BaseShape(Shape):
    """The colour that carries most of the skin."""

    lab: LabOut
    value: float


class LeansShape(Shape):
    """The base's undertone: word, ITA° under D65 with its class, CIELAB hue angle and chroma under D50."""

    word: UndertoneWord
    ita: float
    ita_class: Literal["very light", "light", "intermediate", "tan", "brown", "dark"]
    hue: float
    chroma: float


class FlushShape(Shape):
    """A place with more blood than the skin about it."""

    x: int
    y: int
    strength: float


class LightShape(Shape):
    """Where the key light comes from in the picture plane: degrees anticlockwise from the right."""

    direction: Annotated[float, Field(ge=0, le=360)]
    confidence: Share


class TemperatureShape(Shape):
    """Whether the shadow is warmer or cooler than the light, by how many degrees of hue."""

    word: Literal["warmer", "cooler", "equal"]
    degrees: float


class SkinZone(Shape):
    """One proposed zone."""

    role: str
    lab: LabOut
    value: float
    share: Share
    x: int
    y: int
    flagged: str | None = None


class AnalyseAnswer(Shape):
    """What `analyse` answers; without any skin the middle of the picture stands for it and `skin_share` is 0."""

    cast: CastShape
    skin_share: Share
    base: BaseShape
    undertone: LeansShape
    melanin: float
    blood: float
    flush: list[FlushShape]
    light: LightShape
    shadow_temperature: TemperatureShape
    zones: list[SkinZone]


def _boxed(pixels: Pixels, box: tuple[float, float, float, float] | None) -> tuple[Pixels, int, int]:
    if box is None:
        return pixels, 0, 0
    height, width = pixels.shape[:2]
    x, y, w, h = (round(v) for v in box)
    if w < 8 or h < 8:
        raise BadRequest("box", "the box must be at least 8 pixels wide and high")
    if x < 0 or y < 0 or x + w > width or y + h > height:
        raise BadRequest("box", f"the box lies outside the picture of {width} × {height} pixels")
    return pixels[y : y + h, x : x + w], x, y


def _flush(at: tuple[int, int], strength: float) -> FlushShape:
    return FlushShape(x=at[0], y=at[1], strength=round(strength, 4))


def run(request: AnalyseRequest) -> AnalyseAnswer:
    """Read cast, skin, undertone, pigments, flush, light and zones of the picture."""
    whole = open_picture(Path(request.image))
    develop = developed(whole, request.white)
    pixels, left, top = _boxed(whole, request.box)
    if min(pixels.shape[:2]) < 8:
        raise BadRequest("image", "the picture is smaller than 8 pixels across")
    cast = guess(pixels)
    small = proxy(pixels, areas.LONGEST)
    lab = develop.of_pixels(small)
    scale = pixels.shape[1] / small.shape[1]

    def at(x: int, y: int) -> tuple[int, int]:
        return left + int((x + 0.5) * scale), top + int((y + 0.5) * scale)

    skin = areas.skin_of(lab)
    found: Complexion | None = measure(lab, skin.mask)
    about = found or measure(lab, np.ones(lab.shape[:2], dtype=bool))
    if about is None:
        raise BadRequest("image", "the picture is too small to be read")
    key = next(iter(lights(lab, skin)), None)
    proposal = areas.propose(lab, skin=skin)
    read = {m.label: m for m in areas.measure(proposal.labels, lab)}
    zones = []
    for area in proposal.areas:
        mine = read[area.label]
        x, y = at(mine.x, mine.y)
        zones.append(
            SkinZone(
                role=area.role, lab=rounded(mine.lab), value=round(float(munsell_value(mine.lab)), 4),
                share=round(mine.share, SHARE_DECIMALS),
                x=x, y=y, flagged=area.flagged or None,
            )
        )  # fmt: skip
    leans = about.undertone
    return AnalyseAnswer(
        cast=CastShape(de00=round(cast.de00, 4), lab=rounded(cast.lab), confidence=round(cast.confidence, 4)),
        skin_share=round(float(skin.mask.mean()), SHARE_DECIMALS),
        base=BaseShape(lab=rounded(about.base), value=round(float(munsell_value(about.base)), 4)),
        undertone=LeansShape(
            word=leans.word, ita=round(leans.ita, 4), ita_class=about.ita_class, hue=round(leans.hue, 4),
            chroma=round(about.chroma, 4),
        ),
        melanin=round(about.melanin, 4),
        blood=round(about.blood, 4),
        flush=[_flush(at(f.x, f.y), f.strength) for f in (found.flush if found else ())],
        light=LightShape(direction=round(key.direction, 2) if key else 0.0, confidence=round(key.confidence, 4) if key else 0.0),
        shadow_temperature=TemperatureShape(word=about.shadow_word, degrees=round(about.degrees, 3)),
        zones=zones,
    )  # fmt: skip


COMMANDS = {"analyse": Command(AnalyseRequest, AnalyseAnswer, run)}
