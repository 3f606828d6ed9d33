"""Skin: found in a picture, its pigments, its light, its measures."""
