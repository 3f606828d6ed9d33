"""Soft pastel: opaque dust; light goes over dark, and what lies below is dragged along. Common practice."""

from caltin_core.media.medium import Medium

SOFT_PASTEL = Medium(
    "soft_pastel", "soft pastel", "film", deposit=1.3, drag=0.15, merge=0.45, even=0.45, scatter_dark=0.5, scatter_light=1.3,
    grip_after=0.7, grip_again=0.75, slick=False, loose=1.6, specks=0.15,
)  # fmt: skip
