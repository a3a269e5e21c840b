"""Lines that meet, end or go on in each other: how they are cut, and which becomes which."""
