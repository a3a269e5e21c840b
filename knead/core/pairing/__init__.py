"""Which shape becomes which."""
