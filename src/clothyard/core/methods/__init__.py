"""Methods: how a placement is made, one module a choice."""
