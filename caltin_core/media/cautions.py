"""What an artist is warned of before laying layers in this order. All common practice."""

from collections.abc import Sequence

from caltin_core.colour.difference import chroma
from caltin_core.media.colourants import Swatch
from caltin_core.media.kinds import MEDIA
from caltin_core.media.layers import Lay, Layer
from caltin_core.media.predict import Workbench

# A marker grey: so little chroma; cool or neutral below this much b* and a* together; light skin from this L* up.
_GREY, _WARM, _LIGHT_SKIN, _SKIN_CHROMA = 12.0, 3.0, 62.0, 8.0
_WAXY = ("wax_pencil", "oil_pencil", "oil_pastel")


def cautions(bench: Workbench, layers: Sequence[Layer]) -> list[str]:
    """Warnings about a stack on this bench, each a sentence, none twice."""
    laid = [bench.swatches[x.colour] for x in layers if isinstance(x, Lay)]
    out: list[str] = []
    for index, swatch in enumerate(laid):
        below = laid[:index]
        waxy = next((s for s in below if s.medium in _WAXY), None)
        if swatch.kind == "dye" and waxy is not None:
            out.append(f"{swatch.called} over {waxy.called}: wax keeps the dye out and may spoil the nib; lay the marker first.")
        if swatch.medium == "alcohol_marker" and _dead(swatch, below):
            out.append(
                f"{swatch.called} is a cool or neutral grey: over light skin it looks dead; a warm grey or a dull violet lives."
            )
        if swatch.kind == "cover" and index < len(laid) - 1:
            out.append(f"{swatch.called} comes last: little holds on it.")
    return list(dict.fromkeys(out))


def _dead(grey: Swatch, below: Sequence[Swatch]) -> bool:
    """Whether this is a grey that deadens the light skin coats below it."""
    lightness, a, b = (float(v) for v in grey.lab)
    skin = [s for s in below if MEDIA[s.medium].kind == "dye" and _skin(s)]
    return bool(skin) and lightness < 90 and float(chroma(grey.lab)) < _GREY and a + b < _WARM


def _skin(swatch: Swatch) -> bool:
    lightness, a, b = (float(v) for v in swatch.lab)
    return lightness >= _LIGHT_SKIN and a > 0 and b > 0 and float(chroma(swatch.lab)) >= _SKIN_CHROMA
