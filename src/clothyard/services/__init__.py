"""One function a verb: load, call the core, keep."""
