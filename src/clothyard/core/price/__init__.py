"""Costs, prices, spares and tiers."""
