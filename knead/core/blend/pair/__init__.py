"""One pair of shapes on its way."""
