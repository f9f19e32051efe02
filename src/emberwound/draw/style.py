"""One quiet look for all figures: colours that keep apart in grey, the look of each seat, sizes, axes and type."""

from __future__ import annotations

from io import BytesIO
from pathlib import Path
from typing import TYPE_CHECKING, Any, TypeAlias

import matplotlib as mpl
from matplotlib.backends.backend_agg import FigureCanvasAgg
from matplotlib.figure import Figure

from emberwound.chronicle.files import ready_folder, write_whole
from emberwound.vocabulary.errors import OutputError

if TYPE_CHECKING:
    from matplotlib.axes import Axes

    Drawing = Figure

Dash: TypeAlias = str | tuple[float, tuple[float, ...]]
"""How a line is broken: by a name, or an offset and the lengths on and off in turn."""

Look: TypeAlias = dict[str, Any]
"""Options of what is drawn, by their names."""

INK = "#26313b"
SOFT_INK = "#6d7780"
PAPER = "#fbfaf6"
GROUND = "#d9d2c3"
EMBER = "#c2410c"
MISS = "#7d8790"
CAIRN = "#1b6f8a"
PEARL = "#7a5c00"

SEAT_LOOKS = (
    ("#8a4b08", "-"),
    ("#1b6f8a", "--"),
    ("#5b3f8c", "-."),
    ("#3f7d3a", ":"),
    ("#a3315e", (0, (5, 1, 1, 1, 1, 1))),
    ("#4a5a12", (0, (8, 2))),
)
"""A colour and a line for each seat in turn; the line tells them apart where the colour does not."""


def seat_look(index: int) -> tuple[str, Dash]:
    """The colour and line of a seat by its place in the bout."""
    return SEAT_LOOKS[index % len(SEAT_LOOKS)]


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
