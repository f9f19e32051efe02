"""Lives: dying, coming back, being eliminated, leaving, what is counted, and what is touched on the way."""
