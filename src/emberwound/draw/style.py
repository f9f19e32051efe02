"""One quiet look for all figures: sizes, axes and type; and figures as bytes."""

from __future__ import annotations

from io import BytesIO
from pathlib import Path
from typing import TYPE_CHECKING

import matplotlib as mpl
from matplotlib.backends.backend_agg import FigureCanvasAgg
from matplotlib.figure import Figure

from emberwound.chronicle.files import ready_folder, write_whole
from emberwound.draw.palette import INK, PAPER, SOFT_INK
from emberwound.vocabulary.errors import OutputError

if TYPE_CHECKING:
    from matplotlib.axes import Axes

    Drawing = Figure

WIDTH, HEIGHT, DOTS = 12.8, 8.0, 100


def figure(height: float = HEIGHT) -> Figure:
    """An empty figure of the common width, not tied to any window."""
    return Figure(figsize=(WIDTH, height), dpi=DOTS, facecolor=PAPER, layout="constrained")


def dress(axes: Axes, title: str, across: str, up: str, key: str = "") -> None:
    """Give axes their title, under it what their signs mean, and labels; take away what is not needed to read them."""
    axes.set_title(title, loc="left", fontsize=12, color=INK, fontweight="bold", pad=22 if key else 6)
    if key:
        axes.annotate(key, (0, 1), (0, 5), xycoords="axes fraction", textcoords="offset points", fontsize=10, color=INK)
    axes.set_xlabel(across, color=INK)
    axes.set_ylabel(up, color=INK)
    axes.set_facecolor(PAPER)
    axes.tick_params(colors=SOFT_INK, labelcolor=INK)
    for side in ("top", "right"):
        axes.spines[side].set_visible(False)
    for side in ("left", "bottom"):
        axes.spines[side].set_color(SOFT_INK)


def leave_out_of_layout(axes: Axes) -> Axes:
    """Leave what is drawn in axes out of the figure's layout: it hangs out nowhere, and asking each mark takes long."""
    for each in (*axes.texts, *axes.lines, *axes.patches, *axes.collections):
        each.set_in_layout(False)
    return axes


def headline(sheet: Figure, text: str) -> None:
    """The heading over all of a figure."""
    sheet.suptitle(text, x=0.01, ha="left", fontsize=15, color=INK, fontweight="bold")


METADATA: dict[str, dict[str, str | None]] = {".png": {"Software": None}, ".svg": {"Date": None, "Creator": None}}


def to_bytes(figure: Figure, suffix: str = ".png") -> bytes:
    """The figure as the bytes of a .png or .svg file; the same figure gives the same bytes. Raises OutputError."""
    if suffix not in METADATA:
        raise OutputError(f"a figure is written as {' or '.join(METADATA)}; got {suffix or 'no suffix'!r}")
    buffer = BytesIO()
    if suffix == ".png":  # drawn once; a figure that saves itself is drawn once before, to be laid out
        FigureCanvasAgg(figure).print_png(buffer, metadata=METADATA[suffix])  # type: ignore[no-untyped-call]
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
