"""What a body is doing: one thing at a time, and which may follow which."""

from __future__ import annotations

from enum import IntEnum


class ActionState(IntEnum):
    """The one thing a body does; moving, guarding, being in the air or frozen come on top of it."""

    FREE = 0
    CHARGING = 1
    ATTACKING = 2
    REACTING = 3
    DEAD = 4


FOLLOWS: dict[ActionState, tuple[ActionState, ...]] = {
    ActionState.FREE: (ActionState.CHARGING, ActionState.ATTACKING, ActionState.REACTING, ActionState.DEAD),
    ActionState.CHARGING: (ActionState.ATTACKING, ActionState.FREE, ActionState.REACTING, ActionState.DEAD),
    ActionState.ATTACKING: (ActionState.FREE, ActionState.ATTACKING, ActionState.REACTING, ActionState.DEAD),
    ActionState.REACTING: (
        ActionState.FREE,
        ActionState.CHARGING,
        ActionState.ATTACKING,
        ActionState.REACTING,
        ActionState.DEAD,
    ),
    ActionState.DEAD: (),
}
"""What may follow what. A reaction that does not lock attacks goes on beside one.

Nothing follows death: the next life is another body.
"""
