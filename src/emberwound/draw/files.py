"""Figures as bytes."""

from __future__ import annotations

from io import BytesIO
from pathlib import Path
from typing import TYPE_CHECKING, Any, cast

import matplotlib as mpl
from matplotlib.backends.backend_agg import FigureCanvasAgg

from emberwound.chronicle.files import ready_folder, write_whole
from emberwound.vocabulary.errors import OutputError

if TYPE_CHECKING:
    from matplotlib.figure import Figure

    Drawing = Figure

METADATA: dict[str, dict[str, str | None]] = {".png": {"Software": None}, ".svg": {"Date": None, "Creator": None}}


def to_bytes(figure: Figure, suffix: str = ".png") -> bytes:
    """The figure as the bytes of a .png or .svg file; the same figure gives the same bytes. Raises OutputError."""
    if suffix not in METADATA:
        raise OutputError(f"a figure is written as {' or '.join(METADATA)}; got {suffix or 'no suffix'!r}")
    buffer, canvas = BytesIO(), cast("Any", FigureCanvasAgg(figure))
    if suffix == ".png":  # drawn once; a figure that saves itself is drawn once before, to be laid out
        canvas.print_png(buffer, metadata=METADATA[suffix])
        return buffer.getvalue()
    with mpl.rc_context({"svg.hashsalt": "emberwound"}):
        figure.savefig(buffer, format=suffix[1:], metadata=METADATA[suffix])
    return buffer.getvalue()


def write_figure(figure: Figure, file: str | Path) -> Path:
    """Write a figure to a .png or .svg file, whole or not at all, its folder made if need be. Raises OutputError."""
    file = Path(file)
    data = to_bytes(figure, file.suffix)
    ready_folder(file.parent)
    return write_whole(file, data)
