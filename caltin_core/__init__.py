"""Caltin's core: the computation behind a skin recipe. No interface code; see ``docs/architecture.md``."""
