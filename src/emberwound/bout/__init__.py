"""The running world: one block of state, eight phases a tick, orders in and events out."""

from emberwound.bout.bout import Bout, Observer, PassedOverObserver
from emberwound.bout.handles import Prop, Shot
from emberwound.bout.hits.passed_over import PassedOver
from emberwound.bout.seat import Seat
from emberwound.bout.state.snapshot import Snapshot

__all__ = ["Bout", "Observer", "PassedOver", "PassedOverObserver", "Prop", "Seat", "Shot", "Snapshot"]
