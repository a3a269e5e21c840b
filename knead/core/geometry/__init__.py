"""Béziers as NumPy arrays."""
