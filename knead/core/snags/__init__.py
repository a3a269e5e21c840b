"""What looks wrong in a span, how good it is as a whole, and which hints would help most."""
