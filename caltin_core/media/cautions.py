"""What an artist is warned of before laying layers in this order. All common practice."""

from collections.abc import Sequence

import numpy as np

from caltin_core.colour.difference import chroma, hue_angle, hue_apart
from caltin_core.colour.tables import Bools, Ints
from caltin_core.media.colourants import Swatch
from caltin_core.media.kinds import MEDIA
from caltin_core.media.layers import STROKES, Blend, Lay, Layer, lays
from caltin_core.media.workbench import Workbench

# A marker grey: so little chroma; cool or neutral below this much b* and a* together; light skin from this L* up.
_GREY, _WARM, _LIGHT_SKIN, _SKIN_CHROMA = 12.0, 3.0, 62.0, 8.0
# A raw yellow brown by its hue and C*; a layer that covers the whole by its pressure and passes.
_RAW, _RAW_CHROMA = (70.0, 92.0), 35.0
_WHOLE, _OFTEN = ("medium", "firm", "burnish", "coat"), 2
# Wet colours blend up to this far in L*, and in hue where both are stronger than this C*.
_BLENDS_LIGHT, _BLENDS_TURN, _BLENDS_CHROMA = 45.0, 100.0, 20.0
# A marker's paper is full after two or three coats, a pencil's tooth after as many burnished passes; so many in one place are more
# than blending needs, or than wax holds on to.
_MANY_COATS, _MANY_BURNISHES = 6, 3
_BURNISHED = ("wax_pencil", "oil_pencil")
WAXY = ("wax_pencil", "oil_pencil", "oil_pastel")


def holds(below: str, above: str) -> bool:
    """Whether one medium can be laid where another lies: dye is kept out by wax, and little holds on a cover."""
    kind, over = MEDIA[below].kind, MEDIA[above].kind
    return not (over == "dye" and below in WAXY) and not (kind == "cover" and over != "cover")


def closing(medium: str) -> Blend | None:
    """What closes the grain of a medium: wax is worked with the colourless blender, chalk with a stump; dye has none to close."""
    return Blend("blender" if medium in WAXY else "stump") if MEDIA[medium].kind == "film" else None


def shuts(bench: Workbench, lay: Lay) -> bool:
    """Whether a layer closes the tooth and leaves a surface on which others take hold only weakly."""
    swatch = bench.swatches[lay.colour]
    return lay.stroke.pressure == "burnish" and MEDIA[swatch.medium].slick and swatch.kind == "film"


def shut_early(bench: Workbench, layers: Sequence[Layer]) -> bool:
    """Whether anything comes over a layer that shuts the tooth."""
    return any(shuts(bench, x) for x in lays(layers)[:-1])


def cautions(bench: Workbench, layers: Sequence[Layer], *, of_skin: bool = True) -> list[str]:
    """Warnings about a stack on this bench, each a sentence, none twice; where it is not `of_skin` no grey or black deadens it and
    no yellow makes it sickly."""
    coloured = lays(layers)
    if not coloured:
        return []
    laid = [bench.swatches[x.colour] for x in coloured]
    out: list[str] = []
    for index, swatch in enumerate(laid):
        if swatch.kind == "film":
            continue
        below = laid[:index]
        waxy = next((s for s in below if s.kind == "film" and not holds(s.medium, swatch.medium)), None)
        if waxy is not None:
            out.append(f"{swatch.called} over {waxy.called}: wax keeps the dye out and may spoil the nib; lay the marker first.")
        if swatch.kind == "cover" and index < len(laid) - 1:
            out.append(f"{swatch.called} comes last: little holds on it.")
    greys = dict.fromkeys(s.called for i, s in enumerate(laid) if of_skin and _dead(s) and any(_skin(b) for b in laid[:i]))
    return list(dict.fromkeys([*out, *_greys(list(greys)), *_heavy(coloured, laid), *_order(coloured, laid, of_skin)]))


def overfull(swatches: Sequence[Swatch], colour: Ints, stroke: Ints) -> Ints:
    """How many coats and burnished passes of stacks (B, L), padded with colour -1, are more than is well in one place (B,)."""
    there = colour >= 0
    coats = np.array([s.medium == "alcohol_marker" for s in swatches], dtype=bool)[colour] & there
    pressed = np.array([s.medium in _BURNISHED for s in swatches], dtype=bool)[colour] & there & _PRESSED[stroke]
    counts = ((_PASSES[stroke] * laid).sum(axis=1) - many for laid, many in ((coats, _MANY_COATS), (pressed, _MANY_BURNISHES)))
    out: Ints = sum((np.maximum(count, 0) for count in counts), np.zeros(len(colour), dtype=np.intp))
    return out


class Deadened:
    """Which stacks of a kit have a marker's grey over light skin coats, as `cautions` tells."""

    def __init__(self, swatches: Sequence[Swatch], *, of_skin: bool = True) -> None:
        self._skin, self._grey = (np.array([is_(s) for s in swatches], dtype=bool) for is_ in (_skin, _dead))
        self.ever = bool(of_skin and self._grey.any() and self._skin.any())

    def __call__(self, colour: Ints) -> Bools:
        """Of stacks (B, L), padded with colour -1, (B,)."""
        if not self.ever:
            return np.zeros(len(colour), dtype=bool)
        skin, grey = (which[colour] & (colour >= 0) for which in (self._skin, self._grey))
        over: Bools = grey[:, 1:] & np.logical_or.accumulate(skin, axis=1)[:, :-1]
        return np.asarray(over.any(axis=1))


_PASSES = np.array([s.passes for s in STROKES])
_PRESSED = np.array([s.pressure == "burnish" for s in STROKES])


def fresh_cautions(bench: Workbench, before: Sequence[Layer], layers: Sequence[Layer], *, of_skin: bool = True) -> list[str]:
    """The warnings that layers bring where others were laid `before`."""
    known = cautions(bench, before, of_skin=of_skin) if before else []
    return [said for said in cautions(bench, (*before, *layers), of_skin=of_skin) if said not in known]


def _greys(names: Sequence[str]) -> list[str]:
    """What is said of cool or neutral greys over light skin, all in one."""
    if not names:
        return []
    these, them = ("is a cool or neutral grey", "it") if len(names) == 1 else ("are cool or neutral greys", "them")
    return [f"{' and '.join(names)} {these}: light skin under {them} looks dead; a warm grey or a dull violet lives."]


def _heavy(laid: Sequence[Lay], swatches: Sequence[Swatch]) -> list[str]:
    """What is too much in one place."""
    coats = pressed = 0
    for lay, swatch in zip(laid, swatches, strict=True):
        if swatch.medium == "alcohol_marker":
            coats += lay.stroke.passes
        elif lay.stroke.pressure == "burnish" and swatch.medium in _BURNISHED:
            pressed += lay.stroke.passes
    out = []
    if coats > _MANY_COATS:
        out.append(f"{coats} coats in one place: paper is full after two or three; more push the dye about and may bleed through.")
    if pressed > _MANY_BURNISHES:
        out.append(f"{pressed} burnished passes in one place: so much of it may lift off again; three fill the tooth.")
    return out


def _order(laid: Sequence[Lay], swatches: Sequence[Swatch], of_skin: bool) -> list[str]:
    """What is known to fail by the order or the weight of layers, each of its swatch."""
    out = []
    early = next((i for i, x in enumerate(laid[:-2]) if x.stroke.pressure == "burnish" and swatches[i].medium in WAXY), None)
    if early is not None and swatches[early].kind == "film":
        out.append(f"{swatches[early].called} is burnished early: what comes after takes hold only weakly; burnish last.")
    for lay, below, swatch in zip(laid[1:], swatches, swatches[1:], strict=False):
        if lay.stroke.wet and _too_far(below, swatch):
            out.append(f"{below.called} and {swatch.called} lie too far apart to blend wet: put a transition between.")
    last, top = laid[-1].stroke, swatches[-1]
    if of_skin and last.pressure in _WHOLE and last.passes >= _OFTEN:
        if top.is_black and len(laid) > 1:
            out.append(f"{top.called} over all deadens what lies below: only a touch, or lay it early beneath a brown.")
        if _raw_yellow(top):
            out.append(f"{top.called} is a raw yellow brown: over a whole face it looks sickly; let it accent.")
    return out


def _raw_yellow(swatch: Swatch) -> bool:
    if not 40 < float(swatch.lab[0]) < 75:
        return False
    return _RAW[0] <= float(hue_angle(swatch.lab)) <= _RAW[1] and float(chroma(swatch.lab)) > _RAW_CHROMA


def _too_far(one: Swatch, other: Swatch) -> bool:
    strong = min(float(chroma(one.lab)), float(chroma(other.lab))) > _BLENDS_CHROMA
    return abs(float(one.lab[0] - other.lab[0])) > _BLENDS_LIGHT or (strong and hue_apart(one.lab, other.lab) > _BLENDS_TURN)


def _dead(swatch: Swatch) -> bool:
    """Whether this is a marker's grey that deadens light skin coats below it."""
    if swatch.medium != "alcohol_marker":
        return False
    lightness, a, b = (float(v) for v in swatch.lab)
    return lightness < 90 and float(chroma(swatch.lab)) < _GREY and a + b < _WARM


def _skin(swatch: Swatch) -> bool:
    """Whether this is the dye of a light skin coat."""
    lightness, a, b = (float(v) for v in swatch.lab)
    warm = a > 0 and b > 0 and float(chroma(swatch.lab)) >= _SKIN_CHROMA
    return swatch.kind == "dye" and lightness >= _LIGHT_SKIN and warm
