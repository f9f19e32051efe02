"""What rules and records hold: ledgers, inputs, tables, problems, a chronicle's header and end, and tracks."""

from __future__ import annotations

from emberwound._lazy import attach

__getattr__, __dir__, __all__ = attach(__name__, __file__)
