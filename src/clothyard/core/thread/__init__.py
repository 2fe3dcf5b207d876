"""Needle and bobbin thread."""
