"""The sample shop, built through the services."""
