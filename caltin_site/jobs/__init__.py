"""Long work, done by the worker process."""
