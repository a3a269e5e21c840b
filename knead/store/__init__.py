"""Keeping scenes in PostgreSQL."""
