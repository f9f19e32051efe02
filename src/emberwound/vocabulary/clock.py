"""Exact time: durations as fractions of a second, and the whole ticks they take.

No duration passes through a binary float: a Python float counts as the decimal its `repr` shows.
"""

from __future__ import annotations

from dataclasses import dataclass
from decimal import Decimal, InvalidOperation
from fractions import Fraction
from functools import lru_cache
from math import isfinite

NEVER = 2**62
"""The tick of what is not due at all."""

LONGEST_SECONDS = 1_000_000
BILLION = 1_000_000_000
CLOSE = 1e-9
"""Exact ticks nearer to each other than this are one: what rounding of exact times within a tick leaves."""

STEERING_RATE = 30
"""How often a second a homing shot turns, counted from its release."""

MOST_DIGITS = 320
"""Decimals further from 1 than floats reach are refused before they become endless fractions."""


def exact(value: object) -> Fraction:
    """The number that `value` was written as. Raises ValueError for what is no finite number."""
    if isinstance(value, bool) or not isinstance(value, int | float | Decimal | Fraction):
        raise ValueError("not a number")  # noqa: TRY004 (one error for one mistake)
    if isinstance(value, float):
        value = float(value)  # also of NumPy, whose numbers are written with their type
        value = Decimal(repr(value)) if isfinite(value) else Decimal("nan")
    if isinstance(value, Decimal) and not (value.is_finite() and abs(value.adjusted()) <= MOST_DIGITS):
        raise ValueError("not a finite number of sane size")
    return Fraction(value)


@dataclass(frozen=True, slots=True)
class Duration:
    """A length of time as written: seconds, or frames of the rulebook's `frame_rate`."""

    amount: Fraction
    in_frames: bool = False

    @classmethod
    def parse(cls, value: object) -> Duration:
        """Read `0.2` (seconds), `"1/30"` (a fraction of a second) or `"12f"` (frames).

        Raises ValueError for anything else, for negative times and for times above a million seconds.
        """
        if isinstance(value, Duration):
            return value
        return _parsed(value) if isinstance(value, str | int | float | Decimal) else cls._read(value)

    @classmethod
    def _read(cls, value: object) -> Duration:
        duration = cls._from_text(value) if isinstance(value, str) else cls(exact(value))
        if not 0 <= duration.amount <= LONGEST_SECONDS:
            raise ValueError("out of range")
        return duration

    @classmethod
    def _from_text(cls, text: str) -> Duration:
        in_frames = text.endswith("f")
        number = text.removesuffix("f")
        try:
            over, _, under = number.partition("/")
            amount = exact(Decimal(over)) / (exact(Decimal(under)) if under else 1)
        except (InvalidOperation, ZeroDivisionError):
            raise ValueError("not a duration") from None
        return cls(amount, in_frames)

    def seconds(self, frame_rate: int) -> Fraction:
        """The exact length in seconds."""
        return self.amount / frame_rate if self.in_frames else self.amount

    def written(self) -> float | int | str:
        """The shortest form that `parse` reads back to the same duration."""
        return _written(self)


@lru_cache(maxsize=4096, typed=True)
def _parsed(value: str | float | Decimal) -> Duration:
    """A book says few times often."""
    return Duration._read(value)  # noqa: SLF001 (its own reading)


@lru_cache(maxsize=4096)
def _written(duration: Duration) -> float | int | str:
    amount = duration.amount
    if duration.in_frames:
        return f"{amount}f"
    if amount.denominator == 1:
        return int(amount)
    decimal = float(amount)
    return decimal if exact(decimal) == amount else str(amount)


def ticks_in(seconds: Fraction, tick_rate: int) -> int:
    """Whole ticks that `seconds` take, rounded up: 3.7 s are 222 ticks at 60. A positive time takes at least one."""
    return -((-seconds.numerator * tick_rate) // seconds.denominator)


def exact_ticks(seconds: float, tick_rate: int) -> float:
    """An exact time in ticks; what rounding leaves beside a whole one is that one."""
    return on_grid(seconds * tick_rate)


def on_grid(ticks: float) -> float:
    """An exact tick; what rounding leaves beside a whole one is that one."""
    whole = round(ticks)
    return float(whole) if abs(ticks - whole) < CLOSE else ticks


def billionths_of_ticks(seconds: float, tick_rate: int) -> int:
    """`seconds` as whole billionths of a tick, to the nearest (halves to even)."""
    number = seconds.item() if hasattr(seconds, "item") else seconds
    return round(exact(number) * tick_rate * BILLION)
