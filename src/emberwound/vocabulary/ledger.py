"""The ledger of a wound: every step from the attack's number to what is left."""

from __future__ import annotations

import msgspec


class Step(msgspec.Struct, frozen=True):
    """One rule applied: the points before it, the points after it, and why."""

    rule: str
    before: float
    after: float
    why: str


class Loss(msgspec.Struct, frozen=True):
    """What one pool lost: its value before and after."""

    pool: str
    before: float
    after: float


class Ledger(msgspec.Struct, frozen=True):
    """How a wound came to its amount.

    Each step's `before` is the `after` of the step above it. `amount` is what the pools gave up
    plus `overkill` (points left over when the vital pool is empty) plus `lost` (points no pool could take).
    """

    steps: tuple[Step, ...]
    losses: tuple[Loss, ...]
    amount: float
    overkill: float
    lost: float
