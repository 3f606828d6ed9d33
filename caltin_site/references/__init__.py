"""Reference pictures."""
