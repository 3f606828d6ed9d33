"""Media: what pencils do on paper."""
