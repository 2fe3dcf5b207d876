"""The plan of open orders, and what is promised."""
