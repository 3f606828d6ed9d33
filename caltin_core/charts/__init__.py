"""Swatch charts: printed sheets laid out, and charts read back from a photograph."""
