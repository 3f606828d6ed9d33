"""Alcohol marker: a dye in the paper. Coats multiply, each changes less than the last until the paper is full; wet
over wet runs and pushes dye away, dry over dry displaces little. Common practice."""

from caltin_core.media.medium import Medium

ALCOHOL_MARKER = Medium(
    "alcohol_marker",
    "alcohol marker",
    "dye",
    loose=0.0,
    uptake=3.0,
    washes_wet=0.3,
    washes_dry=0.05,
    sinks=0.1,
    crowds_wet=0.15,
    crowds_dry=0.05,
    soak=0.2,
    lasts=2500.0,
)
