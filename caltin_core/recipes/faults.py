"""What an artist says is wrong with a place, and what that asks of its cure. All of it is common practice, without a source.

Some faults are of colour: the place looks otherwise than its layers should. Some are of the surface, and worked at before
anything covers them. Some are deeds that no colour undoes, which have a repair each.
"""

from collections.abc import Sequence
from types import MappingProxyType
from typing import Literal

import numpy as np

from caltin_core.colour.difference import chroma, delta_e_2000
from caltin_core.colour.tables import Floats
from caltin_core.media.cautions import WAXY
from caltin_core.media.layers import Blend, Lay, Layer, Lift, lays
from caltin_core.media.predict import Prediction
from caltin_core.media.workbench import Workbench
from caltin_core.recipes.offers import speckle

_WRONG_ONE = "laid the wrong one"
COLOURS = ("too light", "too dark", "too yellow", "too red", "too grey", "too green", "dead", "chalky", "flat")
SURFACE = ("patchy", "streaks", "grain left", "wax lifting off")
DEEDS = (_WRONG_ONE, "went over the edge", "highlight lost", "smeared")
COMPLAINTS = (*COLOURS, *SURFACE, *DEEDS)
_LOOSENED, _GRAINY, _PATCHY, _LOST = "wax lifting off", "grain left", "patchy", "highlight lost"
# Where this is said there is something that must come off.
_COMES_OFF = (*DEEDS, "chalky")
# What beginners say of a tone that only stands alone.
_ALONE = ("too dark", "flat")

# Which way a place looks off: along L*, a*, b*, and along its own chroma.
_WAYS_OFF = MappingProxyType(
    {
        "too light": (1.0, 0.0, 0.0, 0.0), "too dark": (-1.0, 0.0, 0.0, 0.0), "too yellow": (0.0, 0.0, 1.0, 0.0),
        "too red": (0.0, 1.0, 0.0, 0.0), "too grey": (0.0, 0.0, 0.0, -1.0), "too green": (0.0, -1.0, 0.0, 0.0),
        "dead": (0.0, 0.0, 0.0, -1.0), "chalky": (0.7, 0.0, 0.0, -0.7), _LOST: (-1.0, 0.0, 0.0, 0.0),
    }
)  # fmt: skip
# What is seen to be wrong beside its neighbours is so far off at least, a lost highlight farther (ΔE00); or else by so much of
# what a prediction is unsure by: a cure that is too small can be laid again.
_NOTICED, _GONE, _UNSURE = 2.5, 5.0, 0.5
# So far off that way, ΔE00, what is complained of should show.
_SHOWN = 1.0
# Specks that show at all, in L*; work on a grain that was left takes so much of it away at least.
_SPECKS, _FINER = 1.0, 0.85

Family = Literal["wax", "dust", "dye"]
_SURFACES: MappingProxyType[tuple[str, Family], str] = MappingProxyType(
    {
        ("patchy", "wax"): "Turn the sheet and even it out, sharp and light.",
        ("patchy", "dust"): "Even it out with hardly any pressure.",
        ("patchy", "dye"): "Wet all of it again in one go, so that no edge dries before the next stroke.",
        ("streaks", "wax"): "Turn the sheet and cross them, sharp and light, while they can still be worked.",
        ("streaks", "dust"): "Turn the sheet and cross them with hardly any pressure.",
        ("streaks", "dye"): "Streaks are edges that dried: lay one more coat across them, all of it wet.",
        ("grain left", "wax"): "A needle point reaches the valleys, lightly; what is still left a burnish or the blender closes.",
        ("grain left", "dust"): "Work the colour into the valleys; what is laid over it alone stays on the hills.",
        ("grain left", "dye"): "Lay it slowly, so that every fibre drinks.",
        (_LOOSENED, "wax"): "Take the loose wax off, press and pull, and lay no more wax here.",
        (_LOOSENED, "dust"): "Tip off what is loose and lay no more here: this tooth holds no more.",
        (_LOOSENED, "dye"): "Blot what is wet, let it dry, and lay no more here.",
    }
)
_REPAIRS: MappingProxyType[tuple[str, Family], str] = MappingProxyType(
    {
        ("went over the edge", "wax"): "Lay a strip of paper along the edge and lift what went over with a corner of the kneaded "
        "eraser, press and pull; then draw the neighbour up to it again, sharp.",
        ("went over the edge", "dust"): "Lay a strip of paper along the edge and take off what went over with a clean corner of "
        "the kneaded eraser; then draw the neighbour up to it again.",
        ("went over the edge", "dye"): "Push it back from outside with the palest marker or the blender, and blot; let it dry, and "
        "lay the neighbour up to the line again.",
        ("smeared", "wax"): "Rub nothing. Tip the crumb off, lift the smear with the kneaded eraser, press and pull; then go over "
        "the place once, sharp and light.",
        ("smeared", "dust"): "Rub and blow nothing. Tip the dust off, dab the smear with a clean kneaded eraser; then lay the last "
        "colour over it once, lightly.",
        ("smeared", "dye"): "Blot it, rub nothing. When it is dry push what is left back with the blender, from outside inwards.",
    }
)  # fmt: skip


def surface_of(complaint: str) -> str:
    """The fault of the surface that a complaint speaks of, or empty."""
    return next((s for s in SURFACE if s in complaint), "")


def is_undone(complaint: str) -> bool:
    """Whether something must be undone whatever the place looks like; a wrong colour need not, where it came out right."""
    return any(word in complaint for word in DEEDS if word != _WRONG_ONE)


def comes_off(complaint: str) -> bool:
    """Whether what is complained of is something that lies there and must come off."""
    return any(word in complaint for word in _COMES_OFF)


def looks_flat(complaint: str) -> bool:
    """Whether it is complained of as flat, which no place is by itself."""
    return "flat" in complaint


def is_chalky(complaint: str) -> bool:
    """Whether there is too much white in it."""
    return "chalky" in complaint


def stands_alone(complaint: str) -> bool:
    """Whether it may only look so because nothing stands beside it yet."""
    return not complaint or any(word in complaint for word in _ALONE)


def departure(now: Prediction, target: Floats, complaint: str) -> Floats:
    """How far a place looks from what its layers should show, Lab (3,), by what is said of it. Where they should show what is
    complained of they are relied on; where they should be right, or off the other way, the eye that complains is."""
    way = next((v for word, v in _WAYS_OFF.items() if word in complaint), None)
    if way is None:
        return np.zeros(3)
    strong = float(chroma(now.lab))
    hue = now.lab[1:] / strong if strong > 0 else np.zeros(2)
    along = np.array([way[0], *(np.array(way[1:3]) + way[3] * hue)])
    if not along.any():
        return np.zeros(3)
    along /= np.linalg.norm(along)
    least = max(_GONE if _LOST in complaint else _NOTICED, _UNSURE * now.uncertainty)
    step, shown = float(delta_e_2000(target, target + along)), float((now.lab - target) @ along)
    missing = 0.0 if shown * step > _SHOWN else least / step - shown
    # Nothing is greyer than grey.
    return along * (min(missing, strong / -way[3]) if way[3] else missing)


def _family(bench: Workbench, done: Sequence[Layer]) -> Family:
    """What lies on top."""
    last = next((bench.swatches[x.colour] for x in reversed(lays(done))), None)
    if last is None or last.kind == "film":
        return "dust" if last is not None and last.medium not in WAXY else "wax"
    return "dye" if last.kind == "dye" else "wax"


def repair(bench: Workbench, done: Sequence[Layer], complaint: str) -> str:
    """What to do about a deed that no colour undoes, or empty."""
    family = _family(bench, done)
    return next((words for (deed, which), words in _REPAIRS.items() if deed in complaint and which == family), "")


def surface_words(bench: Workbench, done: Sequence[Layer], surface: str) -> str:
    """How a fault of the surface is worked at."""
    return _SURFACES[surface, _family(bench, done)]


def works(bench: Workbench, done: Sequence[Layer], surface: str, layers: Sequence[Layer]) -> bool:
    """Whether acts work at a fault of the surface: gently, with the point and never by taking off what should be evened out;
    where it comes off only by taking it off, since more of it does not hold; and a grain of dust only by working it in."""
    if surface == _LOOSENED:
        return all(isinstance(x, Lift) for x in layers)
    laid, blended = lays(layers), any(isinstance(x, Blend) for x in layers)
    if surface == _GRAINY and _family(bench, done) == "dust" and not blended:
        return False
    gentle = ("light", "medium", "coat", *(("burnish",) if surface == _GRAINY else ()))
    lifted = [x for x in layers if isinstance(x, Lift)]
    dabbed = surface == _PATCHY and all(x.kind == "kneaded" for x in lifted)
    return (not lifted or dabbed) and all(x.stroke.pressure in gentle and x.stroke.point == "sharp" for x in laid)


def finer(surface: str, before: Prediction, after: Prediction) -> bool:
    """Whether a grain that was left is less after a cure; of other faults, and where no grain should show at all, yes."""
    specks = speckle(before.grain_lab)
    return surface != _GRAINY or specks < _SPECKS or speckle(after.grain_lab) < _FINER * specks


def evenly(layers: Sequence[Layer]) -> bool:
    """Whether acts even a surface out: a blend, or strokes across those that lie there."""
    return any(isinstance(x, Blend) or (isinstance(x, Lay) and (x.stroke.turned or x.stroke.wet)) for x in layers)
