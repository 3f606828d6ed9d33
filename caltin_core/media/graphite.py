"""Graphite: thin, grey, turns shiny when pressed; rubs and lifts easily. Common practice."""

from caltin_core.media.medium import Medium

GRAPHITE = Medium(
    "graphite", "graphite", "film", deposit=0.7, drag=0.05, merge=0.5, even=0.4, scatter_dark=0.05, scatter_light=0.1,
    grip_after=0.4, grip_again=0.6, loose=1.6, lasts=8000.0,
)  # fmt: skip
