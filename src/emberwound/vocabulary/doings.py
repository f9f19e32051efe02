"""What a body is doing: one thing at a time, and which may follow which."""

from __future__ import annotations

from enum import IntEnum


class Doing(IntEnum):
    """The one thing a body does; moving, guarding, being in the air or frozen come on top of it."""

    FREE = 0
    CHARGING = 1
    ATTACKING = 2
    REACTING = 3
    DEAD = 4


FOLLOWS: dict[Doing, tuple[Doing, ...]] = {
    Doing.FREE: (Doing.CHARGING, Doing.ATTACKING, Doing.REACTING, Doing.DEAD),
    Doing.CHARGING: (Doing.ATTACKING, Doing.FREE, Doing.REACTING, Doing.DEAD),
    Doing.ATTACKING: (Doing.FREE, Doing.ATTACKING, Doing.REACTING, Doing.DEAD),
    Doing.REACTING: (Doing.FREE, Doing.REACTING, Doing.DEAD),
    Doing.DEAD: (),
}
"""What may follow what. Nothing follows death: the next life is another body."""
