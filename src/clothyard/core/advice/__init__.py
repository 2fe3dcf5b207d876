"""Advice: what may fail, spoil or lose money, and how to mend it."""
