"""Layers as an artist says them: a colour with its stroke, a blend, a lift."""

from collections.abc import Iterator, Sequence
from dataclasses import dataclass

from caltin_core.media.hand import POINTS, PRESSURES

MAX_PASSES = 6
MAX_EXPANDED = 200
BLENDS = ("stump", "finger", "blender", "solvent")
LIFTS = ("kneaded", "stick", "knife")


@dataclass(frozen=True)
class Stroke:
    """How a colour is laid: pressure, passes, point, and whether at an angle to the layer below."""

    pressure: str
    passes: int
    point: str = "sharp"
    turned: bool = False

    def words(self) -> str:
        """Such as “two light passes, turned”."""
        count = ("one", "two", "three", "four", "five", "six")[self.passes - 1]
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
STROKE_INDEX = {stroke: index for index, stroke in enumerate(STROKES)}


@dataclass(frozen=True)
class Lay:
    """One coloured layer: the colour's place in the kit and its stroke."""

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


def kinds(layers: Sequence[Layer]) -> Iterator[str]:
    """The kind of each layer, for grouping stacks that can be computed together."""
    for layer in layers:
        yield "lay" if isinstance(layer, Lay) else layer.kind
