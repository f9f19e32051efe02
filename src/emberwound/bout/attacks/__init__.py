"""Attacks: their timeline from begin to end, the shots they launch, and the hitboxes they turn on."""
