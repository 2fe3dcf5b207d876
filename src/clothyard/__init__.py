"""Clothyard prices custom embroidered orders, from the stitches up."""

__version__ = "0.2.0"
