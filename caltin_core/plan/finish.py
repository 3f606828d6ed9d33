"""The finish wanted on an area, and the drawing beneath it all. Common practice, without a source."""

from collections.abc import Sequence
from types import MappingProxyType
from typing import Literal

from caltin_core.media.cautions import closing
from caltin_core.media.layers import Blend, Lay, Layer, lays
from caltin_core.media.workbench import Workbench

# On the band from grainy (0) to smooth (1): from here on the grain is closed, up to here it is kept.
SMOOTH, GRAINY = 0.75, 0.25
UnderDrawing = Literal["none", "graphite", "pale_pencil", "fine_line", "charcoal", "pastel_pencil"]
# Why the drawing is taken back before colour comes over it.
LIFTED = MappingProxyType(
    {
        "graphite": "Lift the graphite to a ghost with the kneaded eraser, press and pull: it greys pale colours.",
        "charcoal": "Wipe the charcoal back until it only just shows: it would dull every colour laid over it.",
    }
)
_SUITS: dict[str, tuple[str, ...]] = {
    "pencil": ("graphite", "pale_pencil"), "marker": ("fine_line", "pale_pencil"), "pastel": ("charcoal", "pastel_pencil"),
}  # fmt: skip
_NAMES = {"pale_pencil": "a pale pencil", "fine_line": "a line that does not bleed", "pastel_pencil": "a pastel pencil"}


def suits(medium: str, drawing: UnderDrawing) -> str:
    """What to draw with instead where this under-drawing would spoil colours of a medium (pencil, marker or pastel), or empty."""
    if drawing == "none" or drawing in _SUITS[medium]:
        return ""
    return " or ".join(_NAMES.get(name, name) for name in _SUITS[medium])


def finished(bench: Workbench, layers: Sequence[Layer], finish: float | None) -> tuple[Layer, ...]:
    """The layers with what closes the grain at their end, where a smooth finish is wanted and nothing has closed it yet."""
    laid = lays(layers)
    blend = closing(bench.swatches[laid[-1].colour].medium) if laid else None
    if finish is None or finish < SMOOTH or blend is None:
        return tuple(layers)
    last = layers[-1]
    if isinstance(last, Blend) or (isinstance(last, Lay) and last.stroke.pressure == "burnish"):
        return tuple(layers)
    return (*layers, blend)


def closed(layers: Sequence[Layer]) -> bool:
    """Whether these layers close the grain."""
    return any(isinstance(x, Blend) for x in layers) or any(x.stroke.pressure == "burnish" for x in lays(layers))
