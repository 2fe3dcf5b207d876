"""Quotes: priced, kept, found."""
