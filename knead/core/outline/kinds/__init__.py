"""Outlines of particular kinds, which go their own way: ovals, bars, fans, snakes, what is its own mirror image."""
