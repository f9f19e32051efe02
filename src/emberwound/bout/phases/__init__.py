"""The eight phases of a tick, in their one order. A phase with nothing to do returns at once."""

from emberwound.bout.phases.judgement import aftermath, close, contact, judgement
from emberwound.bout.phases.motion import motion, release
from emberwound.bout.phases.orders import agenda, orders

PHASES = (agenda, orders, release, motion, contact, judgement, aftermath, close)

__all__ = ["PHASES"]
