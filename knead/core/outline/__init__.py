"""Which point becomes which."""
