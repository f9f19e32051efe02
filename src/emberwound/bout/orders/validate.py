"""Checks of what a host hands to a bout; each raises BoutError in one sentence."""

from __future__ import annotations

from math import hypot, inf, isfinite
from numbers import Integral, Real
from typing import TYPE_CHECKING, Any, TypeAlias

import numpy as np

from emberwound.vocabulary.clock import BILLION, LONGEST_SECONDS, billionths_of_ticks
from emberwound.vocabulary.errors import BoutError, shortened, unknown_name
from emberwound.vocabulary.limits import LONGEST_SEAT_NAME

if TYPE_CHECKING:
    from collections.abc import Iterable, Sequence

    from emberwound.plan import Plan
    from emberwound.plan.fighter_plans import BarPlan
    from emberwound.vocabulary.orders import Facing

    Fields: TypeAlias = dict[str, Any]
    """What a host asks for, by the fields of an input."""


def name(what: str, value: object, known: Iterable[str]) -> str:
    """A name out of those known."""
    names = list(known)
    if not isinstance(value, str) or value not in names:
        raise BoutError(unknown_name(what, value, names))
    return value


def observer(value: object, methods: Sequence[str]) -> None:
    """An object that has one of the methods an observer may have."""
    if not any(callable(getattr(value, method, None)) for method in methods):
        raise BoutError(f"watch: give an object with a method {' or '.join(methods)}; got {shortened(value)}")


def point(what: str, value: object, plan: Plan) -> tuple[float, ...]:
    """A point of the arena's plane, finite numbers all."""
    axes = plan.space.axes
    rule = f"{what}: give ({', '.join(axes)}), finite numbers up to 1e9"
    try:
        numbers = tuple(float(each) for each in value)  # type: ignore[attr-defined]
    except (TypeError, ValueError, OverflowError):
        raise BoutError(f"{rule}; got {shortened(value)}") from None
    if len(numbers) != len(axes) or not all(isfinite(each) and abs(each) <= 1e9 for each in numbers):
        raise BoutError(f"{rule}; got {shortened(value)}")
    return numbers


def place(what: str, value: object, plan: Plan) -> tuple[float, ...]:
    """A point inside the arena, on its floor or above."""
    numbers = point(what, value, plan)
    vector = plan.space.lift(numbers)
    if not all(low <= each <= high for low, each, high in zip(plan.low, vector, plan.high, strict=True)):
        low, high = plan.space.flatten(plan.low), plan.space.flatten(plan.high)
        raise BoutError(
            f"{what}: {said(numbers)} is outside arena {plan.arena!r}; allowed: {said(low)} to {said(high)}"
        )
    return numbers


def truth(what: str, value: object) -> bool:
    """True or False, also as NumPy has them."""
    if not isinstance(value, bool | np.bool_):
        raise BoutError(f"{what}: give True or False; got {shortened(value)}")
    return bool(value)


def direction(what: str, value: object, plan: Plan) -> tuple[float, ...]:
    """A point that is not the origin, as a direction of any length."""
    numbers = point(what, value, plan)
    if not any(numbers):
        raise BoutError(f"{what}: {said(numbers)} has no direction; give a number other than 0")
    return numbers


def facing(value: object, plan: Plan, *, foe: bool = True) -> Facing:
    """A side to look to, or degrees where a fighter can look around; the nearest foe, where that may be asked."""
    named = ("left", "right", "foe") if foe else ("left", "right")
    if isinstance(value, int | float) and not isinstance(value, bool) and plan.space.looks_around:
        if isfinite(value):
            return float(value)
        raise BoutError(f"facing: give finite degrees; got {shortened(value)}")
    if not isinstance(value, str) or value not in named:
        raise BoutError(unknown_name("facing", value, named if not plan.space.looks_around else (*named, "degrees")))
    return value  # type: ignore[return-value]


def move(value: object, plan: Plan) -> float | tuple[float, ...]:
    """Where to walk, as shares of the fighter's speed: a number from the side, else two."""
    if not plan.space.looks_around:
        if isinstance(value, int | float) and not isinstance(value, bool) and -1.0 <= value <= 1.0:
            return float(value)
        raise BoutError(f"move: seen from the side give a number from -1 (left) to 1 (right); got {shortened(value)}")
    try:
        across, along = (float(each) for each in value)  # type: ignore[attr-defined]
    except (TypeError, ValueError, OverflowError):
        across = along = inf
    if not hypot(across, along) <= 1.0 + 1e-9:
        raise BoutError(f"move: give (x, y) no longer than 1; got {shortened(value)}")
    return (across, along)


def called(what: str, value: object) -> str:
    """A name for something new."""
    if not isinstance(value, str) or not value:
        raise BoutError(f"{what}: give a name; got {shortened(value)}")
    if len(value) > LONGEST_SEAT_NAME or not value.isprintable():
        allowed = f"letters that can be printed, at most {LONGEST_SEAT_NAME}"
        raise BoutError(f"{what}: give a name of {allowed}; got {shortened(value)}")
    return value


def amount(what: str, value: object) -> float:
    """A finite number above 0."""
    try:
        number = 0.0 if isinstance(value, bool) or not isinstance(value, Real) else float(value)
    except OverflowError:
        number = inf
    if not 0.0 < number <= 1e9:
        raise BoutError(f"{what}: give a number above 0, up to 1e9; got {shortened(value)}")
    return number


def between(what: str, value: object, low: float, high: float) -> float:
    """A finite number between two others."""
    try:
        number = inf if isinstance(value, bool) or not isinstance(value, Real) else float(value)
    except OverflowError:
        number = inf
    if not low <= number <= high:
        raise BoutError(f"{what}: give a number from {low:g} to {high:g}; got {shortened(value)}")
    return number


def count(what: str, value: object, low: int, high: int) -> int:
    """A whole number between two others."""
    number = low - 1 if isinstance(value, bool) or not isinstance(value, Integral) else int(value)
    if not low <= number <= high:
        raise BoutError(f"{what}: give a whole number from {low} to {high}; got {shortened(value)}")
    return number


def lives(value: object, most: int) -> int | None:
    """A number of lives; None for lives without end."""
    if value is None or (isinstance(value, str) and value == "endless"):
        return None
    if isinstance(value, bool) or not isinstance(value, int) or not 1 <= value <= most:
        raise BoutError(f'lives: give a whole number from 1 to {most}, or "endless"; got {shortened(value)}')
    return value


def said(numbers: Sequence[float]) -> str:
    """A point in few letters."""
    return f"({', '.join(f'{each:g}' for each in numbers)})"


def free_name(fighter: str, taken: Sequence[str]) -> str:
    """A name for a seat that was given none: its fighter's, numbered."""
    number = len(taken) + 1
    while f"{fighter}-{number}" in taken:
        number += 1
    return f"{fighter}-{number}"


def billionths(what: str, seconds: float, tick_rate: int) -> int:
    """Seconds from 0 up in billionths of ticks."""
    try:
        found = billionths_of_ticks(seconds, tick_rate)
    except (ValueError, TypeError, OverflowError):
        found = -1
    if not 0 <= found <= LONGEST_SECONDS * tick_rate * BILLION:
        raise BoutError(f"{what}: give seconds from 0 to a million; got {shortened(seconds)}")
    return found


def parts(what: str, size: float, bar: BarPlan) -> None:
    """A size of a pool at which the pips or segments of its bar can be told apart."""
    if bar.part is not None and size > bar.most_parts * bar.part:
        raise BoutError(
            f"{what}: the bar {bar.name} shows {bar.pool_name} in parts of {bar.part:g}, {bar.most_parts} at most; "
            f"give up to {bar.most_parts * bar.part:g}, got {size:g}"
        )
