"""Oil pencil: crisper than wax, lays less in one pass and needs more of them, merges less. Common practice."""

from caltin_core.media.medium import Medium

OIL_PENCIL = Medium(
    "oil_pencil",
    "oil pencil",
    "film",
    deposit=0.8,
    merge=0.4,
    even=0.25,
    scatter_dark=0.035,
    scatter_light=0.14,
    grip_after=0.42,
    lasts=5000.0,
)
