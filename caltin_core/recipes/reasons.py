"""Why layers lie in this order, as one would say it at the table. All of it is common practice."""

from collections.abc import Sequence
from itertools import pairwise

from caltin_core.colour.difference import chroma, hue_apart
from caltin_core.colour.spectra import lab_from_reflectance
from caltin_core.colour.tables import Floats
from caltin_core.media.kinds import MEDIA
from caltin_core.media.layers import Lay
from caltin_core.media.workbench import Workbench
from caltin_core.recipes.schools import TONED, families_of

_COOL = frozenset({"blue", "violet", "green"})
_REDS = frozenset({"red", "rosy", "vivid"})
_DEEP = frozenset({"dark", "middle dark"})
# A colour calms another when its hue lies so far round, in degrees; and is a whisper up to so many light passes.
_OPPOSITE, _WHISPER = 120.0, 2
# A shadow is at most so light (L*), one with brown over it deeper still; and skin in it no stronger than this C*.
_SHADOW, _DEEP_SHADOW, _SKIN_CHROMA = 72.0, 55.0, 32.0


def reason(bench: Workbench, layers: Sequence[Lay], seen: Floats, *, of_skin: bool = True) -> str:
    """The reason that counts most for a recipe's order, as a sentence; empty where nothing special is to be said. `seen` is the
    Lab (3,) it ends in: of a shadow or of skin is spoken only where one is seen."""
    return reason_at(bench, layers, seen, of_skin=of_skin)[0]


def reason_at(bench: Workbench, layers: Sequence[Lay], seen: Floats, *, of_skin: bool = True) -> tuple[str, int]:
    """The same, and the number of the layer it speaks of first; of what is no skin, however it looks, `of_skin` is false."""
    skin, lightness = of_skin and "skin" in families_of(seen), float(seen[0])
    cooled = skin and lightness < _SHADOW and chroma(seen) < _SKIN_CHROMA
    names = [bench.swatches[x.colour].called for x in layers]
    families = [families_of(bench.swatches[x.colour].lab) for x in layers]
    for i, (below, above) in enumerate(pairwise(families)):
        if "black" in below and "brown" in above:
            return f"{names[i]} lies early, so that {names[i + 1]} keeps it alive.", i
        if below & _COOL and below & _DEEP and "brown" in above and lightness < _DEEP_SHADOW:
            alive = "; the shadow stays alive" if of_skin else ""
            return f"{names[i]} first, so that {names[i + 1]} does not go hot{alive}.", i
    for i, (below, above) in enumerate(pairwise(families)):
        if "yellow" in below and above & _REDS and skin:
            return f"{names[i + 1]} over {names[i]} reads as a natural skin.", i
        if below & _REDS and "green" in above and _lightly(layers[i + 1]):
            return f"{names[i + 1]} in a whisper calms {names[i]}.", i
        if cooled and below & _COOL and above & {"skin", "tan", "pale"} and not _hides(bench, layers[i + 1]):
            return f"{names[i]} beneath keeps the shadow cool, and it still belongs to the skin.", i
        if "vivid" in below and "brown" in above and skin and layers[i].stroke.pressure == "light":
            return f"{names[i]} beneath, barely touched on, glows through {names[i + 1]}.", i
        if "white" in below and not above & {"pale", "white"} and _glazed(bench, layers[i]):
            return f"{names[i]} first on the toned paper makes {names[i + 1]} glow.", i
        if below & _REDS and above & {"pale", "white"}:
            return f"{names[i + 1]} over {names[i]} lightens and calms it.", i
    for i, (one, other) in enumerate(pairwise(layers)):
        solids = bench.solids[[one.colour, other.colour]]
        if hue_apart(solids[0], solids[1]) > _OPPOSITE and float(chroma(solids).min()) > 12:
            return f"{names[i]} and {names[i + 1]} meet in a calm, broken tone.", i
    if len(layers) > 1 and families[-1] & {"pale", "white"} and layers[-1].stroke.pressure == "burnish":
        return f"{names[-1]} last draws the layers together.", len(layers) - 1
    return "", 0


def _hides(bench: Workbench, layer: Lay) -> bool:
    return MEDIA[bench.swatches[layer.colour].medium].covers and layer.stroke.pressure in ("firm", "burnish")


def _glazed(bench: Workbench, layer: Lay) -> bool:
    return MEDIA[bench.swatches[layer.colour].medium].covers and float(lab_from_reflectance(bench.ground.reflectance)[0]) < TONED


def _lightly(layer: Lay) -> bool:
    return layer.stroke.pressure in ("light", "coat") and layer.stroke.passes <= _WHISPER
