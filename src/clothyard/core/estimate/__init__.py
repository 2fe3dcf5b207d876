"""The Estimate: everything that is computed of a job."""
