"""The shop's own housekeeping: beginning, blanks, trials, backups."""
