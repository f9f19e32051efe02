"""How large the pools of seats are: as their fighter's, or as those they entered with."""

from __future__ import annotations

from typing import TYPE_CHECKING

from emberwound.vocabulary.orders import Enter

if TYPE_CHECKING:
    from emberwound.chronicle.chronicle import Chronicle


def vital_max(chronicle: Chronicle, seat: str, fighter: str) -> float:
    """The most points of a seat's vital pool while it is a fighter."""
    name, pool = next(each for each in chronicle.rules.book.fighters[fighter].pools.items() if each[1].vital)
    own = [given.pools for given in chronicle.inputs if isinstance(given, Enter) and given.seat == seat]
    return own[-1].get(name, pool.max) if own else pool.max
