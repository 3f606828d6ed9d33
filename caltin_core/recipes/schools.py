"""Schools: in which order the families of colours come, where and how hard each may be laid. All common practice.

A school is a row of stages. A recipe follows it when its layers can be given stages that never go back; stages may be left
out, so that a highlight needs no dark accent. But some stages are what a school is chosen for: where one of them is wanted, a
recipe without it must miss by less. `school_list.py` holds those that come with Caltin.
"""

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Literal

import numpy as np

from caltin_core.colour.difference import chroma, hue_angle
from caltin_core.colour.tables import Bools, Floats, Ints
from caltin_core.errors import BadRequest
from caltin_core.media.colourants import BLACK_CHROMA, BLACK_LIGHTNESS
from caltin_core.media.hand import PRESSURES
from caltin_core.media.layers import STROKES, Lay
from caltin_core.media.workbench import Workbench
from caltin_core.recipes.padded import NO_COLOUR
from caltin_core.recipes.words import listed

Zone = Literal["light", "middle", "shade"]
ZONES: tuple[Zone, ...] = ("light", "middle", "shade")
FAMILIES = (
    "black", "dark", "middle dark", "middle", "light", "pale", "white", "grey", "rosy", "red", "yellow", "vivid", "bright", "brown",
    "red brown", "green", "blue", "violet", "skin", "tan", "pale tint",
)  # fmt: skip
_MOST_PASSES = 6
# A paper below this L* is toned.
TONED = 75.0
# The lights lie above this share of a study's range of L*, the shades below that one.
_LIGHT_FROM, _SHADE_TO = 0.62, 0.38


@dataclass(frozen=True)
class Stage:
    """What may be laid at one stage: families of colours, pressures, passes at most, and in which zones of the study.

    `wanted`: in which of them skin is laid so as a rule, this being what the school is chosen for. Pressures say nothing of what is
    laid in coats.
    """

    families: tuple[str, ...]
    pressures: tuple[str, ...] = PRESSURES
    most: int = _MOST_PASSES
    zones: tuple[Zone, ...] = ZONES
    wanted: tuple[Zone, ...] = ()

    def named(self) -> str:
        """Its families, such as “white or pale”."""
        *most, last = self.families
        return f"{', '.join(most)} or {last}" if most else last

    def words(self) -> str:
        """The stage as one would say it, such as “white or pale, in the light and middle”."""
        how = "" if len(self.pressures) >= len(PRESSURES) - 1 else f", {' or '.join(self.pressures)}"
        where = "" if len(self.zones) == len(ZONES) else f", in the {listed(self.zones)}"
        often = "" if self.most == _MOST_PASSES else f", {'once' if self.most == 1 else f'{self.most} times at most'}"
        rule = f", as a rule in the {listed(self.wanted)}" if self.wanted else ""
        if self.wanted and set(self.wanted) == set(self.zones):
            rule = ", as a rule"
        return self.named() + how + where + often + rule


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
        if stray := next((z for z in stage.wanted if z not in stage.zones), None):
            raise BadRequest(f"{where}.wanted", f"“{stray}” is none of the zones of this stage, {', '.join(stage.zones)}")
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
    if strength < 10:
        found.add("white" if lightness >= 90 else "grey")
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


def stage_table(school: School, bench: Workbench, zone: Zone | None = None) -> Ints:
    """The earliest stage (S + 1, N, strokes) at or after each stage that takes a colour of the bench with a stroke; S where none
    does. `zone`: where it is laid, if that is known."""
    many = len(school.stages)
    table = np.full((many + 1, len(bench.swatches), len(STROKES)), many, dtype=np.intp)
    families = [families_of(lab) for lab in bench.solids]
    coats = np.array([s.kind != "film" for s in bench.swatches], dtype=bool)
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


def wanted_in(school: School, zone: Zone | None) -> tuple[int, ...]:
    """The stages that skin has as a rule where it lies in this zone; none where that is not known."""
    return tuple(at for at, stage in enumerate(school.stages) if zone in stage.wanted)


def left_out(bench: Workbench, layers: Sequence[Lay], school: School, zone: Zone | None) -> list[Stage]:
    """What the school wants in this zone and a recipe for skin leaves out."""
    table = stage_table(school, bench, zone)
    colour, stroke = np.array([[x.colour for x in layers]]), np.array([[x.stroke.index for x in layers]])
    return [school.stages[at] for at in wanted_in(school, zone) if leaves_out(colour, stroke, table, at)[0]]


def leaves_out(colour: Ints, stroke: Ints, table: Ints, stage: int) -> Bools:
    """Which stacks (B, L), padded with -1, have no layer at this stage of a school's `table`, however the others lie."""
    none = table.shape[0] - 1
    # The earliest stage each stack may have come to, before it had a layer at this one and since.
    before, since = np.zeros(len(colour), dtype=np.intp), np.full(len(colour), none, dtype=np.intp)
    for at in range(colour.shape[1]):
        c, s = colour[:, at], stroke[:, at]
        here = (before <= stage) & (table[stage, c, s] == stage)
        on = np.minimum(table[since, c, s], np.where(here, stage, none))
        since, before = (np.where(c != NO_COLOUR, new, old) for new, old in ((on, since), (table[before, c, s], before)))
    out: Bools = since == none
    return out
