"""Combat rules as data: hit detection, damage, death and respawning, run headless at a fixed tick and explained.

What is named here, in `emberwound.events`, `emberwound.study`, `emberwound.draw`, `emberwound.views`,
`emberwound.records` and `emberwound.testing` is public.
Every other module is internal: it may change without notice.
"""

from __future__ import annotations

from emberwound._lazy import attach
from emberwound._version import __version__ as __version__

__getattr__, __dir__, __all__ = attach(__name__, __file__, "__version__")
