"""The Job: what is asked and chosen."""
