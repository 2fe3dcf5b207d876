"""The shelf as a ledger: moves, what is on hand, what open orders need of it, what is short."""
