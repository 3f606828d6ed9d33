"""Kits, papers and hands, each with versions that never change."""
