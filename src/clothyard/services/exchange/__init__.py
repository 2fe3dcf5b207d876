"""Documents for other programs, and back."""
