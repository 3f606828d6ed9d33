"""The made-up scenario: a harbour museum's portraits of the crew of a small night ferry, named by post."""
