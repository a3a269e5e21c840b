"""How points and paint travel."""
