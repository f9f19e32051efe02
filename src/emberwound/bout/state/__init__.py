"""All state of a bout: the block and its layout, the world about it, what is read from it, and snapshots of it."""
