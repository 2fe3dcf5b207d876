"""What is asked of machine, scale, supplier and post: the interface and the client of each."""
