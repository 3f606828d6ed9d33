"""Ink line: a fine permanent line; it takes on paper full of marker as on bare paper, and once dry nothing dissolves it. Common
practice."""

from caltin_core.media.medium import Medium

INK_LINE = Medium("ink_line", "ink line", "dye", loose=0.0, uptake=2.0, permanent=True, lasts=600.0)
