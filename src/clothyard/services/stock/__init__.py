"""The shelf."""
