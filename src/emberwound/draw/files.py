"""Figures as bytes."""

from __future__ import annotations

from io import BytesIO
from typing import TYPE_CHECKING

from matplotlib.backends.backend_agg import FigureCanvasAgg

if TYPE_CHECKING:
    from matplotlib.figure import Figure


def to_png(figure: Figure) -> bytes:
    """The figure as a PNG file's bytes; the same figure gives the same bytes."""
    buffer = BytesIO()
    FigureCanvasAgg(figure)
    figure.savefig(buffer, format="png", metadata={"Software": None})
    return buffer.getvalue()
