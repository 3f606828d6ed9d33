"""Hard pastel: a firm stick for drawing and details; covers less than a soft one. Common practice."""

from caltin_core.media.medium import Medium

HARD_PASTEL = Medium(
    "hard_pastel", "hard pastel", "film", deposit=0.9, drag=0.1, merge=0.4, even=0.35, scatter_dark=0.35, scatter_light=0.9,
    grip_after=0.7, grip_again=0.75, slick=False, loose=1.5, specks=0.15, lasts=6000.0,
)  # fmt: skip
