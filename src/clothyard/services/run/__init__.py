"""A run: simulated, followed at the machine."""
