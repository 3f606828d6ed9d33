"""The usual cautions for what a plan uses, one line each. The product's label, its safety sheet and local rules come first."""

from collections.abc import Mapping, Sequence

from caltin_core.media.kinds import MEDIA
from caltin_core.media.layers import Blend, Layer, Lift
from caltin_core.recipes.words import listed

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


def with_labels(cautions: Sequence[str], harmful: Mapping[str, str], fading: Sequence[str]) -> list[str]:
    """A plan's cautions with what the labels of its colours say: by their names what some contain, and which fade in light."""
    alike: dict[str, list[str]] = {}
    for name, what in harmful.items():
        alike.setdefault(what, []).append(name)
    said = [
        f"{listed(names)} contain{_s(names)} {what}: make no dust, keep it from the mouth, wash your hands."
        for what, names in alike.items()
    ]
    if fading:
        said.append(f"{listed(fading)} fade{_s(fading)} in light: keep the drawing out of the sun.")
    first = [FIRST] if harmful or FIRST in cautions else []
    return [*(c for c in cautions if c != FIRST), *said, *first]


def _s(names: Sequence[str]) -> str:
    """What a verb ends in after these."""
    return "s" if len(set(names)) == 1 else ""


def on_paper(cautions: Sequence[str]) -> list[str]:
    """A plan's cautions as a printed sheet tells them: what pencils want is said where nothing else can hurt."""
    return [*cautions] if FIRST in cautions else [*cautions, _PENCIL, FIRST]
