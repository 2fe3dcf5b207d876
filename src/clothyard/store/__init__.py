"""What is kept: the shop's folder, its database and its design files."""
