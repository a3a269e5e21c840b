"""The assignment of lines and shapes that is the least unlike, and what it asks of them."""
