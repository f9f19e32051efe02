"""Changes of the lines that decided something: each is tried by running the bout under the changed rules."""

from __future__ import annotations

import re
from typing import TYPE_CHECKING, Any

from emberwound.study.inquest.answer import Trial
from emberwound.study.inquest.play import played
from emberwound.study.inquest.settings_of import said, value_at
from emberwound.vocabulary.errors import EmberwoundError

if TYPE_CHECKING:
    from collections.abc import Callable, Sequence

    from emberwound.study.inquest.answer import Cause
    from emberwound.study.inquest.case import Case
    from emberwound.vocabulary.events import Event

    Happens = Callable[[Sequence[Event]], str | None]

MOST_RUNS = 12
"""No more changes are tried for one question."""

SMALLER, LARGER = (0.5, 0.25, 0.1, 0.02, 0.001), (1.5, 2.0, 4.0, 10.0)
"""Factors by which a number is tried, until one is enough."""

TOO_MUCH = frozenset(
    """windup active recovery cooldown seconds respawn_seconds respawn_protection flat_reduction refill min_points
    gravity_share weight perfect gap first order rehit_every severity""".split()  # noqa: SIM905 (words, not a list)
)
TOO_LITTLE = frozenset(
    "max_shots speed life range radius lives max_at_once speed_share rate step_height".split()  # noqa: SIM905 (as above)
)
ONE = frozenset({"multiplier", "push_share", "damage_dealt"})
NEEDLESS = frozenset(
    """layers falloff against postures invulnerable interrupted_by schedule kinds attacks until team classes for_teams
    layer cost damage_taken""".split()  # noqa: SIM905 (as above)
)
"""Keys whose numbers may have been too large, too small, or not 1, and those that may be left out."""

COUNTS = frozenset({"lives", "max_shots", "max_at_once", "order"})
LARGE_POOL = 500.0
"""A pool of more points than this may be larger than it was meant to be."""


def trial_of_rules(case: Case, cause: Cause, happens: Happens) -> Trial | None:
    """The first change of a line behind a cause with which what was asked for happens.

    `happens` looks at the events of the bout under changed rules, and tells what it was looking for.
    """
    runs = 0
    for key in (line.partition(" = ")[0] for line in cause.set_by):
        if "[" in key:
            continue
        before = value_at(case, key)
        for value in _candidates(key, before):
            runs += 1
            if runs > MOST_RUNS:
                return None
            then = _under(case, {key: value}, happens)
            if then:
                return Trial(change=f"{key} {said(value)}{_instead(value, before)}", then=then, runs=runs)
    return None


def _instead(value: Any, before: Any) -> str:
    """What a value was before, where that is short to say."""
    if value is None or before is None or isinstance(before, dict | list | bool):
        return ""
    return f" instead of {before:g}" if isinstance(before, int | float) else f" instead of {before}"


def _candidates(key: str, value: Any) -> list[Any]:
    """Other values of a key, the least change first."""
    *_, above, last = ("", *key.split("."))
    if above in ("walls", "damage_taken", "against") or (last in NEEDLESS and value is not None):
        return [None]
    if last == "hits_allies" and value is False:
        return [True]
    if last == "facing":
        return ["right" if value == "left" else "left"]
    return [1.0] if last in ONE and value != 1.0 else _numbers(last, value)


def _numbers(last: str, value: Any) -> list[Any]:
    """Other numbers in place of one, smaller or larger as its key may have been meant."""
    less = last in TOO_MUCH or (last == "max" and isinstance(value, int | float) and value > LARGE_POOL)
    if isinstance(value, str) and re.fullmatch(r"[0-9.]+f", value):
        return [f"{float(value[:-1]) * factor:g}f" for factor in SMALLER] if less else []
    if isinstance(value, bool) or not isinstance(value, int | float):
        return []
    factors = SMALLER if less else LARGER if last in TOO_LITTLE else ()
    if last in COUNTS:
        counts = (max(1, round(value * factor)) for factor in factors)
        return [each for each in dict.fromkeys(counts) if each != value]
    return [float(f"{value * factor:.3g}") for factor in factors]


def _under(case: Case, changes: dict[str, Any], happens: Happens) -> str | None:
    """What then happens in the bout under changed rules."""
    try:
        play = played(case.chronicle, case.rules.edit(changes), case.chronicle.end.ticks)
    except EmberwoundError:
        return None
    return happens(play.events) if play else None
