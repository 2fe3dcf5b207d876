"""What a customer sees and says: links, proofs, messages."""
