"""Pastel pencil: pastel in a lead, for outlines and details; lays little. Common practice."""

from caltin_core.media.medium import Medium

PASTEL_PENCIL = Medium(
    "pastel_pencil", "pastel pencil", "film", deposit=0.7, drag=0.08, merge=0.4, even=0.35, scatter_dark=0.3, scatter_light=0.8,
    grip_after=0.7, grip_again=0.75, slick=False, loose=1.4, specks=0.15, lasts=2500.0,
)  # fmt: skip
