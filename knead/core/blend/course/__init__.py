"""Which way a shape goes as a whole."""
