"""Colour: spectra, CIELAB under D50, differences and the words for them."""
