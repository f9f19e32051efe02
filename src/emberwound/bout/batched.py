"""What recorders and bar graphs copy of a bout tick by tick, to be worked out many ticks at once."""

from __future__ import annotations

from typing import TYPE_CHECKING

from emberwound.bout.views.bars_batch import columns
from emberwound.bout.views.states_batch import StateCopier

if TYPE_CHECKING:
    from emberwound.bout.bout import Bout
    from emberwound.bout.views.bars_batch import BarColumns


def bar_columns(bout: Bout, seat: str | None = None) -> BarColumns:
    """Copies of all that the bars of a bout are worked out from at this moment, or of those of one seat."""
    return columns(bout._world, seat=seat)  # noqa: SLF001 (a room of the bout's own)


def state_copier(bout: Bout) -> StateCopier:
    """What copies the states of a bout; it has the present one already."""
    return StateCopier(bout._world)  # noqa: SLF001 (as above)
