"""What is done, without money."""
