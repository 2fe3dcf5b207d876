"""The House: what a shop has and holds to."""
