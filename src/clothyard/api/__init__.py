"""The HTTP edge: routes, problem responses, safety."""
