"""Why layers lie in this order, as one would say it at the table. All of it is common practice."""

from collections.abc import Sequence
from itertools import pairwise

from caltin_core.colour.difference import chroma, hue_apart
from caltin_core.media.layers import Lay
from caltin_core.media.predict import Workbench
from caltin_core.recipes.schools import families_of

_COOL = frozenset({"blue", "violet", "green"})
_REDS = frozenset({"red", "rosy", "vivid"})
_DEEP = frozenset({"dark", "middle dark"})
# A colour calms another when its hue lies so far round, in degrees; and is a whisper up to so many light passes.
_OPPOSITE, _WHISPER = 120.0, 2


def reason(bench: Workbench, layers: Sequence[Lay]) -> str:
    """The reason that counts most for a recipe's order, as a sentence; empty where nothing special is to be said."""
    names = [bench.swatches[x.colour].called for x in layers]
    families = [families_of(bench.swatches[x.colour].lab) for x in layers]
    for i, (below, above) in enumerate(pairwise(families)):
        if "black" in below and "brown" in above:
            return f"{names[i]} lies early, so that {names[i + 1]} keeps it alive."
        if below & _COOL and below & _DEEP and "brown" in above:
            return f"{names[i]} first, so that {names[i + 1]} does not go hot; the shadow stays alive."
    for i, (below, above) in enumerate(pairwise(families)):
        if "yellow" in below and above & _REDS:
            return f"{names[i + 1]} over {names[i]} reads as a natural skin."
        if below & _REDS and "green" in above and _lightly(layers[i + 1]):
            return f"{names[i + 1]} in a whisper calms {names[i]}."
        if below & _COOL and above & {"skin", "tan", "pale"}:
            return f"{names[i]} beneath keeps the shadow cool, and it still belongs to the skin."
        if below & _REDS and above & {"pale", "white"}:
            return f"{names[i + 1]} over {names[i]} lightens and calms it."
    for i, (one, other) in enumerate(pairwise(layers)):
        solids = bench.solids[[one.colour, other.colour]]
        if hue_apart(solids[0], solids[1]) > _OPPOSITE and float(chroma(solids).min()) > 12:
            return f"{names[i]} and {names[i + 1]} meet in a calm, broken tone."
    if len(layers) > 1 and families[-1] & {"pale", "white"} and layers[-1].stroke.pressure == "burnish":
        return f"{names[-1]} last draws the layers together."
    return ""


def _lightly(layer: Lay) -> bool:
    return layer.stroke.pressure in ("light", "coat") and layer.stroke.passes <= _WHISPER
