"""Plan: recipes over the whole face as one ordered list of presses."""
