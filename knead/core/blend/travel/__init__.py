"""How the points of an outline travel."""
