"""How shapes get from one key to the other."""
