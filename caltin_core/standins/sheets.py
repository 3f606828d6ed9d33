"""A virtual sheet of any of the kinds there are."""

from caltin_core.colour.tables import Floats
from caltin_core.standins.crowded import Crowded, CrowdedSheet
from caltin_core.standins.paper import Nature, Sheet
from caltin_core.standins.pressed import Pressed, PressedSheet
from caltin_core.standins.rubbed import Rubbed, RubbedSheet


def sheet_of(paper: Floats, tooth: str, nature: Nature, seed: int) -> Sheet:
    """A sheet of this nature, of whichever kind it is."""
    if isinstance(nature, Pressed):
        return PressedSheet(paper, tooth, nature, seed)
    if isinstance(nature, Crowded):
        return CrowdedSheet(paper, tooth, nature, seed)
    return RubbedSheet(paper, tooth, nature, seed) if isinstance(nature, Rubbed) else Sheet(paper, tooth, nature, seed)
