"""Ink line: a fine permanent line; it does not bleed once dry. Common practice."""

from caltin_core.media.medium import Medium

INK_LINE = Medium("ink_line", "ink line", "dye", loose=0.0, uptake=2.0, washes_wet=0.1, washes_dry=0.0, lasts=600.0)
