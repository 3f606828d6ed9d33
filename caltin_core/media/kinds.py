"""All media by their slug."""

from types import MappingProxyType

from caltin_core.media.alcohol_marker import ALCOHOL_MARKER
from caltin_core.media.charcoal import CHARCOAL
from caltin_core.media.graphite import GRAPHITE
from caltin_core.media.hard_pastel import HARD_PASTEL
from caltin_core.media.ink_line import INK_LINE
from caltin_core.media.medium import Medium
from caltin_core.media.oil_pastel import OIL_PASTEL
from caltin_core.media.oil_pencil import OIL_PENCIL
from caltin_core.media.pastel_pencil import PASTEL_PENCIL
from caltin_core.media.soft_pastel import SOFT_PASTEL
from caltin_core.media.wax_pencil import WAX_PENCIL
from caltin_core.media.white_pen import WHITE_PEN

MEDIA: MappingProxyType[str, Medium] = MappingProxyType(
    {
        m.slug: m
        for m in (
            WAX_PENCIL, OIL_PENCIL, GRAPHITE, CHARCOAL, INK_LINE, ALCOHOL_MARKER, HARD_PASTEL, SOFT_PASTEL, PASTEL_PENCIL,
            OIL_PASTEL, WHITE_PEN,
        )
    }
)  # fmt: skip
