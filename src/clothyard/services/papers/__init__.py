"""Papers of the workshop."""
