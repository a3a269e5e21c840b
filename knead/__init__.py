"""Knead turns a few hand-drawn vector keys into a drawn morph."""
