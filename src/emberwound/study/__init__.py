"""Questions asked of rules and of records: what a hit would do, how far it knocks back, and what a bout came to.

The types here are what `Rulebook.wound` and its like give; the calls here ask about a whole book or a whole chronicle.
"""

from __future__ import annotations

from emberwound._lazy import attach

__getattr__, __dir__, __all__ = attach(__name__, __file__)
