"""The eight phases of a tick, in their one order. A phase with nothing to do returns at once."""

from emberwound.bout.phases.due_and_orders import agenda, orders
from emberwound.bout.phases.hits_and_after import aftermath, close, contact, judgement
from emberwound.bout.phases.movement import motion, release

PHASES = (agenda, orders, release, motion, contact, judgement, aftermath, close)

__all__ = ["PHASES"]
