"""Studies: a linear history of changes, and predictions beside it."""
