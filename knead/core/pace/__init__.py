"""When: ease and timing."""
