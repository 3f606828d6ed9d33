"""Small programs for those who work on Caltin."""
