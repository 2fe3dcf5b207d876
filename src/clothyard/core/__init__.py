"""The trade: every rule and all arithmetic, free of files, network, clock and screen."""
