"""The HTTP face of the service."""
