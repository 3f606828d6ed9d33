"""Whether a target is in reach of this kit on this paper; if not, why, and what would open it."""

from dataclasses import dataclass
from typing import TYPE_CHECKING

import numpy as np

from caltin_core.colour.difference import chroma, parts
from caltin_core.colour.spectra import lab_from_reflectance
from caltin_core.colour.tables import Bools, Floats
from caltin_core.colour.words import hue_word, tone_words
from caltin_core.media.kinds import MEDIA
from caltin_core.media.workbench import Workbench
from caltin_core.recipes.candidates import misses
from caltin_core.recipes.rules import Rules, usable

if TYPE_CHECKING:
    from caltin_core.recipes.search import Search

# A miss up to here reads as the same place on the drawing; ΔE00 for colour, L* for value.
IN_REACH = {"colour": 2.0, "value": 1.0}
# In neither may it miss the value by more, in L*: values are read first (common practice).
_VALUE = 2.0
_OVERSHOOT = 0.6
# A solid is told to be too light for a target where it is by more than this, in L*.
_TOO_LIGHT = 1.0


@dataclass(frozen=True)
class Reach:
    """In reach or not; if not: why, the nearest colour there is (3,) and what kind of colour would help."""

    ok: bool
    why: str = ""
    nearest: Floats | None = None
    would_help: str = ""


def reach_of_kit(bench: Workbench) -> tuple[float, float]:
    """The darkest and the lightest L* this kit shows on this paper: its darkest solid, and the bare sheet or a lighter solid."""
    paper = float(lab_from_reflectance(bench.ground.reflectance)[0])
    if not bench.swatches:
        return paper, paper
    return float(bench.solids[:, 0].min()), max(paper, float(bench.solids[:, 0].max()))


def in_reach(nearest: Floats, target: Floats, rules: Rules) -> bool:
    """Whether a colour (3,) reads as the target's (3,) on the drawing."""
    return bool(all_in_reach(nearest[None], target, rules)[0])


def all_in_reach(labs: Floats, target: Floats, rules: Rules) -> Bools:
    """Which colours (B, 3) read as the target's (3,) on the drawing (B,)."""
    out: Bools = (misses(labs, target, rules) <= IN_REACH[rules.goal]) & (np.abs(labs[:, 0] - target[0]) <= _VALUE)
    return out


def reach(bench: Workbench, search: "Search", role: str, target: Floats, nearest: Floats | None, rules: Rules) -> Reach:
    """Judge the best recipe's colour `nearest` (3,), or None when the rules leave no recipe at all."""
    if nearest is None:
        paper = lab_from_reflectance(bench.ground.reflectance)
        if len(usable(bench, rules)) and not len(search.colours):
            return Reach(False, "nothing in use here holds on what lies there", paper, "a colour of a medium that holds there")
        return Reach(False, "the rules leave no colour to draw with", paper, "one colour that the rules allow")
    if in_reach(nearest, target, rules):
        return Reach(True)
    dl, dc, dh = (float(v) for v in parts(nearest, target))
    return Reach(False, _why(bench, search, role, target, nearest, rules, (dl, dc, dh)), nearest, _help(target, nearest))


def _why(
    bench: Workbench, search: "Search", role: str, target: Floats, nearest: Floats, rules: Rules, apart: tuple[float, float, float]
) -> str:
    dl, dc, dh = apart
    lightness, usables = float(target[0]), usable(bench, rules)
    darkest = bench.swatches[min(usables, key=lambda i: bench.solids[i, 0])]
    lowest = float(darkest.lab[0])
    # Coats go on below the solid, a film's burnished solid is as dark as it gets.
    if dl > 0 and abs(dl) >= max(abs(dc), abs(dh)) * 0.7 and lightness < lowest - _TOO_LIGHT and darkest.kind == "film":
        what = "pencil" if "pencil" in darkest.medium else MEDIA[darkest.medium].name
        return f"the darkest {what} in use here comes to L* {lowest:.0f} when burnished; {role} asks for L* {lightness:.0f}"
    paper = float(lab_from_reflectance(bench.ground.reflectance)[0])
    if dl < 0 and abs(dl) >= max(abs(dc), abs(dh)) * 0.7:
        media = {bench.swatches[i].medium for i in usables}
        what = "pencil" if all("pencil" in m for m in media) else "what is in use here"
        return f"the bare paper is L* {paper:.0f} and {what} does not lighten it enough; {role} asks for L* {lightness:.0f}"
    if dl > 0 and abs(dl) >= max(abs(dc), abs(dh)):
        near = f"the nearest is L* {nearest[0]:.0f}"
        return f"no layers within these rules get as dark as {role} asks, L* {lightness:.0f}, in its hue; {near}"
    if dc < 0 and abs(dc) >= abs(dh):
        return (
            f"nothing here is {hue_word(target)} and strong enough at this lightness: {role} has chroma "
            f"{float(chroma(target)):.0f}, the nearest {float(chroma(nearest)):.0f}"
        )
    if dc > 0 and abs(dc) >= abs(dh):
        near = f"the nearest {float(chroma(nearest)):.0f}"
        return f"no grey enough layers within these rules: {role} has chroma {float(chroma(target)):.0f}, {near}"
    return f"no colours here meet in this {hue_word(target)} at L* {lightness:.0f}; the nearest turns {hue_word(nearest)}"


def _help(target: Floats, nearest: Floats) -> str:
    wanted = target + _OVERSHOOT * (target - nearest)
    wanted = np.array([np.clip(wanted[0], 4, 98), wanted[1], wanted[2]])
    return f"a {tone_words(wanted)}, near L* {wanted[0]:.0f} and chroma {float(chroma(wanted)):.0f}"
