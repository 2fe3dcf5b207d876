"""Customers, and what is kept of people."""
