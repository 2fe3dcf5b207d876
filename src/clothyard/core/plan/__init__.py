"""The plan: calendars, units, placing them, promising days."""
