"""How paint changes."""
