"""What was drawn: an append-only log outside undo."""
