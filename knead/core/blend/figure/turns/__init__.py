"""Which way round forms go that may as well go either way: told by what is about them, and on them."""
