"""After yes: pieces, changes, what an order waits for, settling, ways to make a day."""
