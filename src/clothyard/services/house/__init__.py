"""The house: the shop's standards, what of its rates is guessed."""
