"""Recipes and families kept with their conditions, found again, carried elsewhere."""
