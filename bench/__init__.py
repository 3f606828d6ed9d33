"""Measurements: one table, medians, all in one run. Never a timed test."""
