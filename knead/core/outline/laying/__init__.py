"""Ways to lay one outline along another: measured places, and the dynamic programmes over them."""
