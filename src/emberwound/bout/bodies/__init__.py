"""Bodies: how they stand up, move, hold poses, fall and go, what their pools hold, and how ragdolls fall."""
