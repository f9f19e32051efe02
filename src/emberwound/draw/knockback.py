"""The figure of pushes: the ways of one or several variants, with apex, landing and rest, and their figures."""

from __future__ import annotations

from typing import TYPE_CHECKING

import numpy as np

from emberwound.draw.figures import COLUMNS, push_rows
from emberwound.draw.palette import INK, PAPER, SOFT_INK, seat_look
from emberwound.draw.style import dress, figure, headline

if TYPE_CHECKING:
    from collections.abc import Sequence

    from matplotlib.axes import Axes
    from matplotlib.figure import Figure

    from emberwound.study.knockback import KnockbackReport

APART = 0.07
"""Of the height shown: how far below each other the slides of several ways lie."""

FLAT = 0.02
"""Of its length: how high an axis is at the least, so that a slide has room."""


def draw_knockback(variants: Sequence[tuple[str, KnockbackReport]], units: str) -> Figure:
    """The ways of pushes side by side: height over the way along the ground, and below it a table of their figures.

    `variants` are pairs of a name and what `Rulebook.knockback_path` gave; `units` labels lengths.
    """
    sheet = figure(height=7.2)
    above, below = sheet.subplots(2, 1, height_ratios=(3.4, 0.42 + 0.3 * len(variants)))
    draw_ways(variants, above, units)
    _draw_table(variants, below, units)
    first = variants[0][1]
    guarded = ", guarded" if first.guarded else ""
    headline(sheet, f"{first.attack} knocks {first.victim}{guarded} back in {first.arena}")
    return sheet


def draw_ways(variants: Sequence[tuple[str, KnockbackReport]], axes: Axes, units: str) -> Axes:
    """Each way with its apex, landing and rest marked, and a dot every tenth of a second.

    What slides lies on the ground; so that ways do not cover each other, each lies a little below the one before.
    """
    far = max(report.rest for _, report in variants) or 1.0
    flies = any(report.landing_seconds for _, report in variants)
    high = max(*(report.apex for _, report in variants), FLAT * far) if flies else 1.0
    apart = APART * high if flies and len(variants) > 1 else 0.0 if flies else 1.0
    for number, (label, report) in enumerate(variants):
        colour, line = seat_look(number)
        points, level = np.array(report.points), -apart * number
        points[points[:, 0] >= report.landing_seconds - 1e-9, 2] += level
        axes.plot(points[:, 1], points[:, 2], color=colour, linestyle=line, linewidth=2.0, zorder=3)
        beats = np.arange(0.0, report.rest_seconds, 0.1)
        axes.plot(np.interp(beats, points[:, 0], points[:, 1]), np.interp(beats, points[:, 0], points[:, 2]), ".",
                  color=colour, markersize=6, zorder=4)  # fmt: skip
        name = f"{label}: " if label else ""
        if report.landing_seconds:
            top = float(np.interp(report.apex_seconds, points[:, 0], points[:, 1]))
            axes.plot(top, report.apex, "^", color=colour, markersize=9, zorder=5)
            near = sum(abs(each.apex - report.apex) < APART * high for _, each in variants[:number])
            said = f"{name}apex {report.apex:.2f} at {report.apex_seconds:.2f} s"
            axes.annotate(
                said,
                (top, report.apex),
                (0, 8 + 14 * near),
                textcoords="offset points",
                ha="center",
                color=colour,
                bbox={"facecolor": PAPER, "edgecolor": "none", "alpha": 0.85, "pad": 1.5},
                zorder=6,
            )
            axes.plot(report.landing, level, "v", color=colour, markersize=9, zorder=5)
        axes.plot(report.rest, level, "s", color=colour, markersize=8, zorder=5)
    if flies:
        axes.axhline(0.0, color=SOFT_INK, linewidth=1.2, zorder=1)
    axes.set_xlim(-0.03 * far, 1.06 * far)
    axes.set_ylim(-0.06 * high - apart * len(variants), 1.3 * max(high, FLAT * far * 4) if flies else 1.0)
    axes.grid(color=SOFT_INK, alpha=0.25, linewidth=0.5)
    key = f"{'▲ apex   ▼ landing   ' if flies else ''}■ rest   • every tenth of a second"
    key += "   slides are drawn below each other" if apart and flies else ""
    is_pushed = any(report.speed for _, report in variants)
    title = "Where it goes if it meets nothing" if is_pushed else "It stays where it is: nothing is left of the push"
    dress(axes, title, f"along the ground ({units})", f"height ({units})" if flies else "it slides", key)
    if not flies:
        axes.set_yticks([-apart * number for number in range(len(variants))], [label for label, _ in variants])
    return axes


def _draw_table(variants: Sequence[tuple[str, KnockbackReport]], axes: Axes, units: str) -> None:
    axes.set_axis_off()
    rows = push_rows(variants, units)
    wide = [0.28, *[0.09] * (len(COLUMNS) - 1)]
    table = axes.table(rows, colLabels=COLUMNS, colWidths=wide, loc="upper center", cellLoc="right")
    table.auto_set_font_size(False)
    table.set_fontsize(10)
    table.scale(1.0, 1.5)
    for (row, column), cell in table.get_celld().items():
        cell.set_facecolor(PAPER)
        cell.set_edgecolor("none")
        cell.get_text().set_color(SOFT_INK if row == 0 else seat_look(row - 1)[0] if column == 0 else INK)
