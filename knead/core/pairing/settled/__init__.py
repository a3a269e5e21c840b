"""What is settled before likeness is asked: what stays, and what was made from the other key."""
