"""Sheets that are mostly drawn on, to begin from where one's own was not measured."""

from types import MappingProxyType

# D50 CIELAB by the tone's plain name, as such sheets usually are: common practice.
USUAL_SHEETS = MappingProxyType(
    {
        "white": (95.0, 0.0, 2.0),
        "cream": (91.0, 1.0, 10.0),
        "light grey": (78.0, 0.0, 2.0),
        "mid grey": (58.0, 0.0, 1.0),
        "sand": (70.0, 5.0, 20.0),
        "brown": (45.0, 9.0, 16.0),
        "blue grey": (50.0, -3.0, -9.0),
        "dark grey": (32.0, 0.0, 0.0),
        "black": (20.0, 0.0, 0.0),
    }
)
