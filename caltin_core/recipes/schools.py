"""Schools: in which order the families of colours come, and how hard each may be laid. All common practice.

A school is a row of stages. A recipe follows it when its layers can be given stages that never go back; stages
may be left out, so that a highlight needs no dark accent.
"""

from dataclasses import dataclass
from types import MappingProxyType

import numpy as np

from caltin_core.colour.difference import chroma, hue_angle
from caltin_core.colour.tables import Floats
from caltin_core.media.colourants import BLACK_CHROMA, BLACK_LIGHTNESS
from caltin_core.media.hand import PRESSURES
from caltin_core.media.layers import STROKES
from caltin_core.recipes.rules import NO_COLOUR, Bools, Ints

_SOFT = ("light", "medium", "firm")


@dataclass(frozen=True)
class Stage:
    """What may be laid at one stage: families of colours, and pressures."""

    families: tuple[str, ...]
    pressures: tuple[str, ...] = PRESSURES


@dataclass(frozen=True)
class School:
    """An order of families, with what it is good for and its danger."""

    slug: str
    name: str
    good_for: str
    danger: str
    stages: tuple[Stage, ...]


_BURNISHED_PALE = Stage(("pale", "white"))

SCHOOLS = MappingProxyType(
    {
        school.slug: school
        for school in (
            School(
                "dark_first", "Dark first", "strong modelling from the start; nothing stays too light",
                "a dark laid too wide cannot be taken back",
                (
                    Stage(("black", "dark"), _SOFT), Stage(("dark", "middle dark"), _SOFT), Stage(("middle dark", "middle"), _SOFT),
                    Stage(("middle", "light"), _SOFT), _BURNISHED_PALE,
                ),
            ),
            School(
                "map_in_light", "Map in light", "careful shapes that can still be moved",
                "the darks come late and may stop too early",
                (
                    Stage(("pale", "light"), ("light",)), Stage(("dark", "middle dark", "middle", "light", "pale"), _SOFT),
                    Stage(("rosy", "red"), _SOFT), Stage(("black", "dark"), _SOFT), _BURNISHED_PALE,
                ),
            ),
            School(
                "white_guard", "White guard", "lights that stay clean", "much wax early; few layers take hold after it",
                (
                    Stage(("white",)), Stage(("yellow", "pale", "light", "grey", "red", "rosy")), Stage(("white",)),
                    Stage(("dark", "middle dark", "middle", "light", "pale")), Stage(("black",)),
                ),
            ),
            School(
                "cool_under", "Cool under-layer", "shadows that stay cool and alive beneath warm skin",
                "too much blue shows through as grey",
                (
                    Stage(("blue", "grey", "yellow"), _SOFT), Stage(("pale", "light"), _SOFT), Stage(("violet", "rosy"), _SOFT),
                    Stage(("red", "brown", "dark", "black", "middle"), _SOFT), _BURNISHED_PALE,
                    Stage(("red", "brown", "dark", "black"), _SOFT),
                ),
            ),
            School(
                "deep_hard_leads", "Deep, in hard leads", "deep complexions in many fine layers",
                "hard leads stop short of the darkest dark; black has to help",
                (
                    Stage(("brown", "dark", "middle dark"), ("light", "medium")), Stage(("green", "blue"), ("light",)),
                    Stage(("black",), _SOFT),
                ),
            ),
            School(
                "vivid_base", "Vivid base", "warmth that glows through brown", "pressed too hard, the base shows as orange",
                (Stage(("vivid", "red"), ("light",)), Stage(("red brown", "red"), _SOFT), Stage(("brown", "dark"), _SOFT)),
            ),
            School(
                "few_colours", "Few colours", "a small box, and a unity that many colours lose",
                "half-tones are made by pressure alone",
                (Stage(("yellow",), _SOFT), Stage(("red", "rosy"), _SOFT), Stage(("brown",)), Stage(("black",))),
            ),
        )
    }
)  # fmt: skip


def families_of(lab: Floats) -> frozenset[str]:
    """The families a solid's D50 CIELAB (3,) belongs to; a colour may belong to several."""
    lightness, strength, hue = float(lab[0]), float(chroma(lab)), float(hue_angle(lab))
    reddish = hue < 48 or hue > 335
    found = {
        next(
            name
            for bound, name in ((38, "dark"), (55, "middle dark"), (68, "middle"), (82, "light"), (101, "pale"))
            if lightness < bound
        )
    }
    if lightness < BLACK_LIGHTNESS and strength < BLACK_CHROMA:
        return frozenset({"black"})
    if lightness >= 90 and strength < 10:
        found.add("white")
    if strength < 10:
        found.add("grey")
    elif reddish and strength >= 28:
        found.add("rosy" if lightness >= 55 else "red")
    if 68 <= hue < 112 and strength >= 24:
        found.add("yellow")
    if 25 <= hue < 68 and strength >= 50 and lightness >= 40:
        found.add("vivid")
    if 20 <= hue < 80 and lightness < 62 and 8 <= strength < 60:
        found.add("brown")
        if hue < 52:
            found.add("red brown")
    if strength >= 8:
        found |= {name for low, high, name in ((112, 200, "green"), (200, 295, "blue"), (295, 335, "violet")) if low <= hue < high}
    return frozenset(found)


def stage_table(school: School, solids: Floats) -> Ints:
    """The earliest stage (S + 1, N, strokes) at or after each stage that takes a colour with a stroke; S where none does.

    `solids` (N, 3) are the kit's D50 CIELAB.
    """
    many = len(school.stages)
    table = np.full((many + 1, len(solids), len(STROKES)), many, dtype=np.intp)
    for at in range(many - 1, -1, -1):
        stage = school.stages[at]
        pressed = np.array([s.pressure in stage.pressures for s in STROKES])
        mine = np.array([bool(families_of(lab) & set(stage.families)) for lab in solids], dtype=bool)
        table[at] = np.where(mine[:, None] & pressed, at, table[at + 1])
    return table


def follows(colour: Ints, stroke: Ints, table: Ints) -> Bools:
    """Which stacks (B, L), padded with -1, keep to the order of a school's `table`."""
    none = table.shape[0] - 1
    stage = np.zeros(len(colour), dtype=np.intp)
    for at in range(colour.shape[1]):
        laid = colour[:, at] != NO_COLOUR
        stage = np.where(laid, table[stage, colour[:, at], stroke[:, at]], stage)
    out: Bools = stage < none
    return out
