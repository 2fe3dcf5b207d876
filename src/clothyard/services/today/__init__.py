"""What needs the seller now."""
