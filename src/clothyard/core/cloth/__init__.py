"""Backing, topping, hoops: what is cut and what holds it."""
