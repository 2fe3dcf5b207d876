"""Machine and hand time."""
