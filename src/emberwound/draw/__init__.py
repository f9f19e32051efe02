"""Figures and terminal views. Each takes a result and gives a drawing; nothing here simulates.

Each `draw_...` gives a Matplotlib figure; `write_figure` writes one to a file, and `replay_page` gives an HTML page.
"""

from __future__ import annotations

from emberwound._lazy import attach

__getattr__, __dir__, __all__ = attach(__name__, __file__)
