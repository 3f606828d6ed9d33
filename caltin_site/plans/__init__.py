"""The ordered list of presses of a study."""
