"""Layers as an artist says them: a colour with its stroke, a blend, a lift."""

from collections.abc import Iterable
from dataclasses import dataclass
from functools import cached_property

from caltin_core.media.hand import POINTS, PRESSURES

MAX_PASSES = 6
MAX_EXPANDED = 200
BLENDS = ("stump", "finger", "blender", "solvent")
LIFTS = ("kneaded", "stick", "knife")
# What a marker, a line or a white pen lays instead of passes at some pressure.
COAT = "coat"
_COUNT = ("one", "two", "three", "four", "five", "six")


@dataclass(frozen=True)
class Stroke:
    """How a colour is laid: pressure, passes, point, and whether at an angle to the layer below; or coats, wet or dry.

    Coats have the pressure `COAT`; `wet` says that the dye below is still wet at every one of them.
    """

    pressure: str
    passes: int
    point: str = "sharp"
    turned: bool = False
    wet: bool = False

    @cached_property
    def index(self) -> int:
        """Its place in `STROKES`."""
        return STROKE_INDEX[self]

    def words(self) -> str:
        """Such as “two light passes, turned” or “two coats, wet”."""
        count = _COUNT[self.passes - 1]
        if self.pressure == COAT:
            return f"{count} coat" + ("s" if self.passes > 1 else "") + (", wet" if self.wet else "")
        how = {"burnish": "burnishing"}.get(self.pressure, self.pressure)
        said = f"{count} {how} pass" + ("es" if self.passes > 1 else "")
        return said + (" with the side" if self.point == "side" else "") + (", turned" if self.turned else "")


STROKES = tuple(
    Stroke(pressure, passes, point, turned)
    for point in POINTS
    for turned in (False, True)
    for pressure in PRESSURES
    for passes in range(1, MAX_PASSES + 1)
)
# Strokes at some pressure come first; a search moves among these and turns them into coats where a colour needs it.
PRESSED = len(STROKES)
STROKES += tuple(Stroke(COAT, passes, wet=wet) for wet in (False, True) for passes in range(1, MAX_PASSES + 1))
STROKE_INDEX = {stroke: index for index, stroke in enumerate(STROKES)}


def as_coat(stroke: Stroke) -> Stroke:
    """The coats that stand for a stroke where a colour is laid in coats: as many, wet where it was turned."""
    return stroke if stroke.pressure == COAT else Stroke(COAT, stroke.passes, wet=stroke.turned)


# How hard each stroke presses, as a place in PRESSURES; a coat asks as much as a medium pass.
HARDNESS = tuple(PRESSURES.index(s.pressure if s.pressure != COAT else "medium") for s in STROKES)


@dataclass(frozen=True)
class Lay:
    """One coloured layer: the colour's place in the kit and its stroke; coats for markers, lines and the white pen."""

    colour: int
    stroke: Stroke


@dataclass(frozen=True)
class Blend:
    """What lies there is worked into itself; nothing is added."""

    kind: str


@dataclass(frozen=True)
class Lift:
    """Some of what lies there is taken off."""

    kind: str


Layer = Lay | Blend | Lift


def lays(layers: Iterable[Layer]) -> list[Lay]:
    """Only what is laid, in its order."""
    return [x for x in layers if isinstance(x, Lay)]
