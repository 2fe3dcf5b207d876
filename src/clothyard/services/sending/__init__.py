"""Sending quotes, and what corrections make of them."""
