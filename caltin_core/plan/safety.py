"""The usual cautions for what a plan uses, one line each. The product's label, its safety sheet and local rules come first."""

from collections.abc import Sequence

from caltin_core.media.kinds import MEDIA
from caltin_core.media.layers import Blend, Layer, Lift

FIRST = "The product’s label and local rules come first."
_PENCIL = "Pencil dust: tap it off, do not blow; keep it from small children and food."
_DUST = "Dust: never blow; tap it off and wipe damp, and wear a mask for long sittings."
_ALCOHOL = "Alcohol: fresh air, no flame, lids on."
_SOLVENT = "Solvent: fresh air, no flame, gloves, and the lid on at once."
_KNIFE = "Knife: a fresh blade, cut away from the hand."


def safety(media: Sequence[str], layers: Sequence[Layer]) -> list[str]:
    """The lines for media in use and for what is done with them; none where nothing can hurt."""
    out = []
    if any(MEDIA[m].covers for m in media):
        out.append(_DUST)
    if "alcohol_marker" in media:
        out.append(_ALCOHOL)
    if any(isinstance(x, Blend) and x.kind == "solvent" for x in layers):
        out.append(_SOLVENT)
    if any(isinstance(x, Lift) and x.kind == "knife" for x in layers):
        out.append(_KNIFE)
    return [*out, FIRST] if out else []


def on_paper(cautions: Sequence[str]) -> list[str]:
    """A plan's cautions as a printed sheet tells them: what pencils want is said where nothing else can hurt."""
    return [*cautions] if FIRST in cautions else [*cautions, _PENCIL, FIRST]
