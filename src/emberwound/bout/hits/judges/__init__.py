"""Who judges what a contact means: one room for shots, one for rays, one for strikes and areas."""
