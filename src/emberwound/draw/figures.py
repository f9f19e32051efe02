"""The figures of pushes in words, the same in a picture and in a terminal."""

from __future__ import annotations

from typing import TYPE_CHECKING

if TYPE_CHECKING:
    from collections.abc import Sequence

    from emberwound.study.knockback import KnockbackReport

COLUMNS = ("variant", "speed", "lift", "apex", "at", "lands at", "after", "rests at", "after")
"""What is said of each way of a push."""


def push_rows(variants: Sequence[tuple[str, KnockbackReport]], units: str) -> list[tuple[str, ...]]:
    """The figures of each way, as they are printed and drawn."""
    return [
        (
            label or report.attack,
            f"{report.speed:.4g} {units}/s",
            f"{report.lift_deg:.3g}°",
            f"{report.apex:.4g} {units}",
            f"{report.apex_seconds:.3g} s",
            f"{report.landing:.4g} {units}" if report.landing_seconds else "-",
            f"{report.landing_seconds:.3g} s" if report.landing_seconds else "-",
            f"{report.rest:.4g} {units}",
            f"{report.rest_seconds:.3g} s",
        )
        for label, report in variants
    ]
