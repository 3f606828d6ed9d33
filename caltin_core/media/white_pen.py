"""Opaque white pen: a cover on top of all, at the very end. Common practice."""

from caltin_core.media.medium import Medium

WHITE_PEN = Medium("white_pen", "white pen", "cover", loose=0.0, scatter_dark=0.8, scatter_light=2.5, lasts=300.0)
