"""Stitch plans and the facts taken from them."""
