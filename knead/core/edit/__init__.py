"""Edits of scenes and drawings, as typed operations."""
