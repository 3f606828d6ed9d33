"""Schools: in which order the families of colours come, where and how hard each may be laid. All common practice.

A school is a row of stages. A recipe follows it when its layers can be given stages that never go back; stages may be left
out, so that a highlight needs no dark accent. `school_list.py` holds those that come with Caltin.
"""

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Literal

import numpy as np

from caltin_core.colour.difference import chroma, hue_angle
from caltin_core.colour.tables import Floats
from caltin_core.errors import BadRequest
from caltin_core.media.colourants import BLACK_CHROMA, BLACK_LIGHTNESS
from caltin_core.media.hand import PRESSURES
from caltin_core.media.layers import STROKES
from caltin_core.recipes.rules import NO_COLOUR, Bools, Ints
from caltin_core.recipes.words import listed

Zone = Literal["light", "middle", "shade"]
ZONES: tuple[Zone, ...] = ("light", "middle", "shade")
FAMILIES = (
    "black", "dark", "middle dark", "middle", "light", "pale", "white", "grey", "rosy", "red", "yellow", "vivid", "bright", "brown",
    "red brown", "green", "blue", "violet", "skin", "tan", "pale tint",
)  # fmt: skip
_MOST_PASSES = 6
# The lights lie above this share of a study's range of L*, the shades below that one.
_LIGHT_FROM, _SHADE_TO = 0.62, 0.38


@dataclass(frozen=True)
class Stage:
    """What may be laid at one stage: families of colours, pressures, passes at most, and in which zones of the study.

    Pressures say nothing of what is laid in coats.
    """

    families: tuple[str, ...]
    pressures: tuple[str, ...] = PRESSURES
    most: int = _MOST_PASSES
    zones: tuple[Zone, ...] = ZONES

    def words(self) -> str:
        """The stage as one would say it, such as “white or pale, in the light and middle”."""
        *most, last = self.families
        said = f"{', '.join(most)} or {last}" if most else last
        how = "" if len(self.pressures) >= len(PRESSURES) - 1 else f", {' or '.join(self.pressures)}"
        where = "" if len(self.zones) == len(ZONES) else f", in the {listed(self.zones)}"
        often = "" if self.most == _MOST_PASSES else f", {'once' if self.most == 1 else f'{self.most} times at most'}"
        return said + how + where + often


@dataclass(frozen=True)
class School:
    """An order of families, with what it is good for and its danger; `medium` is pencil, marker or pastel."""

    slug: str
    name: str
    medium: str
    good_for: str
    danger: str
    stages: tuple[Stage, ...]


def checked(school: School) -> School:
    """The school, if it can be followed. Raises BadRequest at the stage that cannot."""
    if not school.stages:
        raise BadRequest("stages", "a school needs one stage at least")
    for index, stage in enumerate(school.stages):
        where = f"stages[{index}]"
        for field, known in (("families", FAMILIES), ("pressures", PRESSURES), ("zones", ZONES)):
            given: Sequence[str] = getattr(stage, field)
            if not given:
                raise BadRequest(f"{where}.{field}", "say one at least")
            if stray := next((g for g in given if g not in known), None):
                raise BadRequest(f"{where}.{field}", f"“{stray}” is none of {', '.join(known)}")
        if not 1 <= stage.most <= _MOST_PASSES:
            raise BadRequest(f"{where}.most", f"passes are 1 to {_MOST_PASSES}")
    return school


def zones_of(lightness: Floats) -> list[Zone | None]:
    """Where each target of a study, of L* (n,), lies: in its lights, middle or shades; None where too few tell."""
    if len(lightness) < len(ZONES) or np.ptp(lightness) < 1:
        return [None] * len(lightness)
    share = (lightness - lightness.min()) / np.ptp(lightness)
    return ["light" if s > _LIGHT_FROM else "shade" if s < _SHADE_TO else "middle" for s in share]


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
    if strength >= 35:
        found.add("bright")
    if 15 <= hue < 85 and 6 <= strength < 45 and lightness >= 35:
        found.add("skin")
    if 35 <= hue < 85 and 12 <= strength < 50 and 45 <= lightness < 80:
        found.add("tan")
    if lightness >= 75 and 4 <= strength < 45 and 68 <= hue < 295:
        found.add("pale tint")
    if 20 <= hue < 80 and lightness < 62 and 8 <= strength < 60:
        found.add("brown")
        if hue < 52:
            found.add("red brown")
    if strength >= 8:
        found |= {name for low, high, name in ((112, 200, "green"), (200, 295, "blue"), (295, 335, "violet")) if low <= hue < high}
    return frozenset(found)


def stage_table(school: School, solids: Floats, coats: Bools, zone: Zone | None = None) -> Ints:
    """The earliest stage (S + 1, N, strokes) at or after each stage that takes a colour with a stroke; S where none does.

    `solids` (N, 3) are the kit's D50 CIELAB; `coats` (N,) tells what is laid in coats; `zone` where it is laid, if that is known.
    """
    many = len(school.stages)
    table = np.full((many + 1, len(solids), len(STROKES)), many, dtype=np.intp)
    families = [families_of(lab) for lab in solids]
    passes = np.array([s.passes for s in STROKES])
    for at in range(many - 1, -1, -1):
        stage = school.stages[at]
        table[at] = table[at + 1]
        if zone is not None and zone not in stage.zones:
            continue
        pressed = np.array([s.pressure in stage.pressures for s in STROKES])
        mine = np.array([bool(f & set(stage.families)) for f in families], dtype=bool)
        fine = mine[:, None] & (pressed | coats[:, None]) & (passes <= stage.most)
        table[at] = np.where(fine, at, table[at])
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
