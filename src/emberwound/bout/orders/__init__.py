"""Orders: inputs written into the block, presses that wait, what is held, checks of what hosts hand in, listeners."""
