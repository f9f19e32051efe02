"""Film strips: several moments side by side in one pair of axes, each over its own piece of ground."""

from __future__ import annotations

from typing import TYPE_CHECKING

from matplotlib.ticker import MaxNLocator

from emberwound.draw.palette import INK, PAPER, SOFT_INK
from emberwound.draw.style import WIDTH, dress

if TYPE_CHECKING:
    from collections.abc import Sequence

    from matplotlib.axes import Axes

GAP = 0.05
"""What lies between two frames, as a share of a frame's width."""
ROOM = 0.9
"""Inches about a strip, for titles, ticks and labels."""
TALLEST = 3.4
"""A strip of few frames is no higher than so many inches."""


def strip_height(low: Sequence[float], high: Sequence[float], count: int) -> float:
    """How many inches a strip of frames from one corner to the other is high, its titles and ticks with it."""
    across = (WIDTH - ROOM) / (count * (1.0 + GAP))
    return min(across * (high[1] - low[1]) / (high[0] - low[0]), TALLEST) + ROOM


def lay_strip(
    axes: Axes, lows: Sequence[float], width: float, ups: tuple[float, float], titles: Sequence[str]
) -> list[float]:
    """Make one frame for each of `lows`, as wide as `width`; how far along the axes each of them is moved.

    What is at x in the world belongs at x + shift of its frame; the ticks of each frame tell x. `ups` are the limits of
    all frames upwards.
    """
    step = width * (1.0 + GAP)
    shifts = [number * step - low for number, low in enumerate(lows)]
    places, labels, locator = [], [], MaxNLocator(4, steps=[1, 2, 5, 10])
    for low, shift, title in zip(lows, shifts, titles, strict=True):
        ticks = [each for each in locator.tick_values(low, low + width) if low <= each <= low + width]
        places += [tick + shift for tick in ticks]
        labels += [f"{tick:g}" for tick in ticks]
        axes.annotate(title, (low + shift, ups[1]), (0, 5), textcoords="offset points", color=INK, fontsize=10,
                      fontweight="bold", annotation_clip=False)  # fmt: skip
        axes.axvspan(low + shift - width * GAP, low + shift, color=PAPER, linewidth=0, zorder=8)
    axes.set_xticks(places, labels)
    axes.set_xlim(0.0, shifts[-1] + lows[-1] + width)
    axes.set_ylim(*ups)
    axes.set_aspect("equal")
    axes.grid(color=SOFT_INK, alpha=0.25, linewidth=0.5)
    dress(axes, "", "", "")
    axes.spines["bottom"].set_visible(False)
    axes.spines["left"].set_zorder(9)
    return shifts
