"""Recipes: which colours in which order hit a target, within the artist's rules."""
