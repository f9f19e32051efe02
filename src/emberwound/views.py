"""What `Bout.view` gives: the moment between two ticks, for whoever draws, records or asks."""

from __future__ import annotations

from emberwound._lazy import attach

__getattr__, __dir__, __all__ = attach(__name__, __file__)
