"""The eight phases of a tick, in their one order. A phase with nothing to do returns at once."""

from emberwound.bout.phases.aftermath import aftermath
from emberwound.bout.phases.agenda import agenda
from emberwound.bout.phases.close import close
from emberwound.bout.phases.contact import contact
from emberwound.bout.phases.judgement import judgement
from emberwound.bout.phases.motion import motion
from emberwound.bout.phases.orders import orders
from emberwound.bout.phases.release import release

PHASES = (agenda, orders, release, motion, contact, judgement, aftermath, close)

__all__ = ["PHASES"]
