"""Charcoal: a loose black dust that mixes into all that is laid over it and wipes back almost to the sheet. Common practice."""

from caltin_core.media.medium import Medium

CHARCOAL = Medium(
    "charcoal", "charcoal", "film", deposit=1.1, drag=0.2, merge=0.5, even=0.5, scatter_dark=0.06, scatter_light=0.3,
    grip_after=0.8, grip_again=0.8, slick=False, loose=2.0, specks=0.15, lasts=1500.0,
)  # fmt: skip
