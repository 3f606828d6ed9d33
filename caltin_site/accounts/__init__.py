"""Who is drawing."""
