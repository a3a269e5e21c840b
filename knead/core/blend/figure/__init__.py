"""How the shapes of a drawing go together: what hangs, rests, rides or grows on what."""
