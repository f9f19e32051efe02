"""The running world: one block of state, eight phases a tick, orders in and events out."""

from emberwound.bout.bout import Bout
from emberwound.bout.seat import Seat
from emberwound.bout.state.snapshot import Snapshot

__all__ = ["Bout", "Seat", "Snapshot"]
