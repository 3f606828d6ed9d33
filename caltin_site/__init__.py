"""Caltin's site: Django around the core, one app a noun."""
