"""The ledger of a wound: every step from the attack's number to what is left."""

from __future__ import annotations

from dataclasses import dataclass
from typing import TYPE_CHECKING, Any

import msgspec

if TYPE_CHECKING:
    from collections.abc import Callable


class Step(msgspec.Struct, frozen=True):
    """One rule applied: the points before it, the points after it, and why."""

    rule: str
    """Which rule."""
    before: float
    """Points before it."""
    after: float
    """Points after it."""
    why: str
    """Why."""


class Loss(msgspec.Struct, frozen=True):
    """What one pool lost: its value before and after."""

    pool: str
    """Which pool."""
    before: float
    """Points before it."""
    after: float
    """Points after it."""


class _Unexplained:
    """Room for what a ledger is explained by when somebody reads its steps."""

    __slots__ = ("_explain",)
    if TYPE_CHECKING:
        _explain: Callable[[], tuple[tuple[Step, ...], tuple[Loss, ...]]]


@dataclass(frozen=True, slots=True)
class Ledger(_Unexplained):
    """How a wound came to its amount.

    Each step's `before` is the `after` of the step above it. `amount` is what the pools gave up
    plus `overkill` (points left over when the vital pool is empty) plus `lost` (points no pool could take).
    """

    steps: tuple[Step, ...]
    """The rules applied, in order."""
    losses: tuple[Loss, ...]
    """What each pool lost."""
    amount: float
    """Points in all."""
    overkill: float
    """Points left over when the vital pool was empty."""
    lost: float
    """Points that no pool could take."""

    def __getattr__(self, name: str) -> Any:
        """Work out the steps and losses of a ledger that is read for the first time."""
        if name not in ("steps", "losses"):
            raise AttributeError(f"Ledger has no {name!r}")
        steps, losses = self._explain()
        _set(self, "steps", steps)
        _set(self, "losses", losses)
        return steps if name == "steps" else losses


_set = object.__setattr__


def ledger_on_demand(
    amount: float, overkill: float, lost: float, explain: Callable[[], tuple[tuple[Step, ...], tuple[Loss, ...]]]
) -> Ledger:
    """A ledger whose sums are known, and whose steps and losses `explain` gives once somebody reads them."""
    made: Ledger = object.__new__(Ledger)
    _set(made, "amount", amount)
    _set(made, "overkill", overkill)
    _set(made, "lost", lost)
    _set(made, "_explain", explain)
    return made


def amount(points: float, name: str) -> str:
    """So many of something, in words: a name in the plural loses its last letter where there is one of it."""
    one = points == 1.0 and name.endswith("s") and not name.endswith(("ss", "us"))
    return f"{points:g} {name[:-1] if one else name}"
