"""The log: rows, what they teach, what pays."""
