"""Cards and data to take along, and to read back."""
