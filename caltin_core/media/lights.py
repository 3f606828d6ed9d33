"""A recipe in another light than it was matched in. Only measured spectra say what two lights do differently."""

from collections.abc import Sequence
from dataclasses import dataclass
from types import MappingProxyType

from caltin_core.colour.difference import delta_e_2000
from caltin_core.colour.spectra import lab_from_reflectance
from caltin_core.colour.tables import Floats
from caltin_core.colour.words import difference
from caltin_core.media.layers import Lay, Layer
from caltin_core.media.predict import Prediction, whole_stack
from caltin_core.media.workbench import Start, Workbench

# The lights a drawing is looked at in, by the CIE's names for them.
LIGHTS = MappingProxyType({"D50": "daylight", "D65": "overcast sky", "A": "lamp", "FL2": "fluorescent tube", "LED-B3": "LED"})
HOME = "D50"
# Those a drawing mostly hangs in, to choose from.
USUAL = ("D50", "D65", "A", "LED-B3")
NOT_KNOWN = "not known"


@dataclass(frozen=True)
class Drift:
    """A recipe in one light: its colour (3,) and the target's where that is known, both against the light's own white.

    `words` tell how they differ there; without a target's spectrum, how the recipe differs from itself in daylight.
    `lab` is None where a spectrum was made up, since two such may differ in any way.
    """

    illuminant: str
    lab: Floats | None
    target: Floats | None
    de00: float | None
    words: str


def measured(bench: Workbench, layers: Sequence[Layer]) -> bool:
    """Whether the spectrum of every colour in these layers was measured."""
    return all(bench.swatches[x.colour].measured for x in layers if isinstance(x, Lay))


def drift(
    bench: Workbench, layers: Sequence[Layer], seen: Prediction, illuminant: str, target: Floats | None = None,
    start: Start | None = None,
) -> Drift:  # fmt: skip
    """How a predicted recipe, laid on `start` if not on the bare sheet, looks in another light, beside a target's measured
    reflectance (31,) where there is one."""
    if (start is not None and start.made_up) or not measured(bench, whole_stack(start, layers)):
        return Drift(illuminant, None, None, None, NOT_KNOWN)
    lab = lab_from_reflectance(seen.reflectance, illuminant)
    other = lab_from_reflectance(target, illuminant) if target is not None else lab_from_reflectance(seen.reflectance, HOME)
    apart = difference(lab, other)
    return Drift(illuminant, lab, other if target is not None else None, float(delta_e_2000(other, lab)), apart.words)
