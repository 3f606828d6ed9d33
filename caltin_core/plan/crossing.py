"""Where two recipes meet: which layer crosses the edge, with what stroke, and how far. All common practice."""

from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np

from caltin_core.colour.tables import Floats
from caltin_core.media.kinds import MEDIA
from caltin_core.media.layers import Lay
from caltin_core.media.predict import predict
from caltin_core.media.workbench import Workbench
from caltin_core.recipes.words import listed
from caltin_core.reference.edges import EdgeKind
from caltin_core.reference.roles import Meets

# An edge whose width was not read is taken to be this wide on the paper; a lost one is crossed this far, in millimetres.
USUAL_MM = {"hard": 0.0, "soft": 6.0, "lost": 12.0}
# A layer stops so far from a hard edge of wet dye, which creeps.
_CREEPS_MM = 0.5
# Hair is drawn out over what goes on under it by so much at least, in millimetres.
_SHORTEST_STRAND = 2.0


@dataclass(frozen=True)
class Crossing:
    """How an edge is drawn.

    `side` (0 or 1) and `layer` say whose layer crosses, `both` that it lies in both recipes and is drawn through; without a
    side nothing crosses. `stroke` is the movement; `far_mm` how far past the line; `colour` what is carried, `off` the name of the
    place it comes from, or of that which is drawn at the line where nothing crosses, `onto` that of the other; `strands` whether
    it is carried as hair is.
    """

    kind: EdgeKind
    side: int | None
    layer: int | None
    both: bool
    stroke: str
    far_mm: float
    colour: str
    off: str
    onto: str
    strands: bool = False

    @property
    def words(self) -> str:
        """How it is drawn, in a sentence or two."""
        return told([self])[0]


def told(every: Sequence[Crossing]) -> tuple[str, ...]:
    """How edges are drawn, those alike but for the place beyond in one; where nothing crosses, also those alike but for the darker
    place."""
    alike: dict[Crossing, list[Crossing]] = {}
    for c in every:
        alike.setdefault(replace(c, side=None if c.side is None else 0, layer=0, onto="", far_mm=0.0), []).append(c)
    groups: dict[Crossing, list[Crossing]] = {}
    for group in alike.values():
        one = group[0]
        groups.setdefault(replace(one, off="") if one.side is None and len(group) == 1 else one, []).extend(group)
    return tuple(_words(group) for group in groups.values())


def _words(alike: Sequence[Crossing]) -> str:
    one, onto, many = alike[0], listed([c.onto for c in alike]), len(alike) > 1
    if one.side is None:
        off = [c.off for c in alike]
        stops, are = ("stop" if onto != one.onto else "stops"), ("are" if len(set(off)) > 1 else "is")
        return f"Nothing crosses: {onto} {stops} at the line, and {listed(off)} {are} drawn {one.stroke}"
    near, far = f"{min(c.far_mm for c in alike):.0f}", f"{max(c.far_mm for c in alike):.0f}"
    about = f"about {near} mm" if near == far else f"{near} to {far} mm"
    if one.strands:
        words = (
            f"lay {onto} a little way in under {one.off} first; then draw {one.colour} out over {'them' if many else 'it'} {about}"
        )
    elif one.both:
        words = f"{one.colour} belongs to {'all' if many else 'both'}: carry it through from {one.off} into {onto}"
    else:
        words = f"carry {one.colour} from {one.off} {about} into {onto}"
    words = f"{words[0].upper()}{words[1:]}, {one.stroke}."
    return f"{words} Mark no line: the eye closes the shape by itself." if one.kind == "lost" else words


def crossing(
    bench: Workbench,
    sides: tuple[Sequence[Lay], Sequence[Lay]],
    called: tuple[str, str],
    kind: EdgeKind,
    width_mm: float | None = None,
    labs: Sequence[Floats] | None = None,
    meets: tuple[Meets, Meets] = ("tones", "tones"),
) -> Crossing:
    """How the edge between two places, with their layers and names, is drawn.

    `width_mm` is as read from the picture; `labs` what both sides look like, D50 Lab (3,), where that is known already; `meets`
    how each side meets what lies beside it (its outline asks for `as_drawn` first).
    """
    width = USUAL_MM[kind] if width_mm is None or kind == "lost" else width_mm
    labs = labs or [seen.lab for seen in predict(bench, sides)]
    dark = int(labs[1][0] < labs[0][0])
    if kind == "hard" or not (sides[0] and sides[1]):
        drawn = meets.index("strands") if meets.count("strands") == 1 else dark
        return _hard(bench, sides[drawn], called[drawn], called[1 - drawn], meets[drawn])
    if kind == "soft" and meets.count("strands") == 1:
        return _strands(bench, sides, called, meets.index("strands"), width)
    side, layer, both = _carrier(bench, sides, (labs[0] + labs[1]) / 2, kind)
    swatch = bench.swatches[sides[side][layer].colour]
    far = max(width / 2, 1.0) if kind == "soft" else width
    stroke = _stroke(swatch.medium, kind, side == dark)
    return Crossing(kind, side, layer, both, stroke, far, swatch.called, called[side], called[1 - side])


def as_drawn(kind: EdgeKind, meets: tuple[Meets, Meets]) -> EdgeKind:
    """How an edge that was read so is drawn: what has an outline keeps it where it is seen, though the picture shows it soft."""
    return "hard" if kind == "soft" and "outline" in meets else kind


def _strands(
    bench: Workbench, sides: tuple[Sequence[Lay], Sequence[Lay]], called: tuple[str, str], side: int, width: float
) -> Crossing:  # fmt: skip
    """What goes on under strands is laid a little way under them, and their last layer that holds a line is drawn out over it."""
    layer = max((i for at, i, _ in _free(bench, sides) if at == side), default=len(sides[side]) - 1)
    swatch = bench.swatches[sides[side][layer].colour]
    far = max(width / 2, _SHORTEST_STRAND)
    stroke = _strand_stroke(swatch.medium)
    return Crossing("soft", side, layer, False, stroke, far, swatch.called, called[side], called[1 - side], strands=True)


def _strand_stroke(medium: str) -> str:
    if MEDIA[medium].kind == "dye":
        return "hair by hair with the tip along the growth, once what lies there is dry"
    if MEDIA[medium].covers:
        return "hair by hair along the growth, with an edge of the stick or a pencil"
    return "hair by hair along the growth, with a fresh point lifted off at the end"


def _hard(bench: Workbench, dark: Sequence[Lay], name: str, other: str, meets: Meets) -> Crossing:
    media = [MEDIA[bench.swatches[x.colour].medium] for x in dark]
    wet = any(m.kind == "dye" for m in media)
    tool = "the tip" if wet else "an edge of the stick or a pencil" if any(m.covers for m in media) else "a fresh point"
    how = "hair by hair along the growth and not outlined" if meets == "strands" else "along the line, not across it"
    stroke = f"{how}, with {tool}."
    if wet:
        stroke += f" Let the first side dry, and stop the second {_CREEPS_MM} mm short: wet dye creeps."
    return Crossing("hard", None, None, False, stroke, 0.0, "", name, other)


def _carrier(bench: Workbench, sides: tuple[Sequence[Lay], Sequence[Lay]], middle: Floats, kind: EdgeKind) -> tuple[int, int, bool]:
    """The layer that crosses: one that both have, the last laid first; else the solid nearest to the tone between.

    Where an edge is lost the palest layer closes it; a burnish, which seals the tooth, and a cover go across nothing else.
    """
    shared = {x.colour for x in sides[0]} & {x.colour for x in sides[1]}
    free = _free(bench, sides)
    in_both = [t for t in free if t[2].colour in shared]
    if in_both:
        side, layer, _ = max(in_both, key=lambda t: (t[1], -t[0]))
        return side, layer, True
    if kind == "lost":
        side, layer, _ = max(free, key=lambda t: (float(bench.solids[t[2].colour, 0]), t[1]))
    else:
        side, layer, _ = min(free, key=lambda t: float(np.linalg.norm(bench.solids[t[2].colour] - middle)))
    return side, layer, False


def _free(bench: Workbench, sides: tuple[Sequence[Lay], Sequence[Lay]]) -> list[tuple[int, int, Lay]]:
    """The layers that can be carried over an edge, each with its side and number: none that seals or hides, if there is another."""
    every = [(side, i, x) for side in (0, 1) for i, x in enumerate(sides[side])]
    return [t for t in every if t[2].stroke.pressure != "burnish" and bench.swatches[t[2].colour].kind != "cover"] or every


def _stroke(medium: str, kind: EdgeKind, from_dark: bool) -> str:
    here = MEDIA[medium]
    if here.kind == "dye":
        if kind == "lost":
            return "wet over both sides in one coat"
        return (
            "flicked from the dark into the light while both are wet" if from_dark else "tip to tip, wet into wet, criss-crossing"
        )
    if here.covers:
        return (
            "drawn over both and merged with a clean finger or a stump"
            if kind == "lost"
            else "drawn past the line, its edge merged"
        )
    if kind == "lost":
        return "in small circles over both sides at one pressure"
    return "in short turned strokes whose pressure fades out"
