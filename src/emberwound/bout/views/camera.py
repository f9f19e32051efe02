"""What trails behind: an aim point that follows a pointer, and a camera that follows a fighter."""

from __future__ import annotations

from math import hypot, isfinite
from typing import TYPE_CHECKING

from emberwound.combat.pools import left_over
from emberwound.vocabulary.errors import BoutError

if TYPE_CHECKING:
    from collections.abc import Sequence


class Follower:
    """A point that comes nearer to its target by halves, at one pace however often it is asked.

    Where it is follows from when its targets were given alone, not from how often `at` was called. A target may move
    at a velocity; the point then closes the gap to where it is by now. It begins at `place` at `time`, and closes half
    of the gap in each `half_life`. Times are in seconds and never go back.
    """

    def __init__(self, place: Sequence[float], *, half_life: float, time: float = 0.0) -> None:
        self.half_life = _from_0("half_life", half_life)
        self._target = _spot("place", place, None)
        self._gap: tuple[float, ...] = (0.0,) * len(self._target)
        self._velocity: tuple[float, ...] = self._gap
        self._since = _finite("time", time)

    def follow(self, target: Sequence[float], *, time: float, velocity: Sequence[float] | None = None) -> None:
        """Give it a target from `time` on, at rest or moving. Raises BoutError for a time before the last one."""
        place = self.at(time)
        self._target = _spot("target", target, len(place))
        self._velocity = _spot("velocity", velocity or (0.0,) * len(place), len(place))
        self._gap = tuple(a - b for a, b in zip(place, self._target, strict=True))
        self._since = time

    def at(self, time: float) -> tuple[float, ...]:
        """Where it is at a time. Raises BoutError for one before its last target was given."""
        passed = _finite("time", time) - self._since
        if passed < 0.0:
            raise BoutError(f"time: {time!r} is before {self._since!r}, when the last target was given")
        left = left_over(passed, self.half_life)
        parts = zip(self._target, self._velocity, self._gap, strict=True)
        return tuple(place + speed * passed + gap * left for place, speed, gap in parts)


class Camera:
    """A point that trails a fighter: still while it is within the dead zone, and looking ahead of where it goes.

    The target is the nearest place from which the fighter, moved on by `look_ahead` seconds of its velocity, is no
    further than `dead_zone` away. It begins at `place` at `time`, and closes half of the gap in each `half_life` s.
    """

    def __init__(
        self,
        place: Sequence[float],
        *,
        half_life: float,
        dead_zone: float = 0.0,
        look_ahead: float = 0.0,
        time: float = 0.0,
    ) -> None:
        self.dead_zone = _from_0("dead_zone", dead_zone)
        self.look_ahead = _from_0("look_ahead", look_ahead)
        self._point = Follower(place, half_life=half_life, time=time)
        self._held = _spot("place", place, None)

    def follow(self, position: Sequence[float], *, time: float, velocity: Sequence[float] | None = None) -> None:
        """Tell it where the fighter is, and how fast it goes, from `time` on."""
        size = len(self._held)
        speeds = _spot("velocity", velocity or (0.0,) * size, size)
        places = zip(_spot("position", position, size), speeds, strict=True)
        ahead = [place + self.look_ahead * speed for place, speed in places]
        away = [a - b for a, b in zip(ahead, self._held, strict=True)]
        far = hypot(*away)
        if far > self.dead_zone:
            share = (far - self.dead_zone) / far
            self._held = tuple(held + share * way for held, way in zip(self._held, away, strict=True))
        self._point.follow(self._held, time=time)

    def at(self, time: float) -> tuple[float, ...]:
        """Where it is at a time."""
        return self._point.at(time)


def _finite(what: str, value: float) -> float:
    if isinstance(value, bool) or not isinstance(value, int | float) or not isfinite(value):
        raise BoutError(f"{what}: give a finite number; got {value!r}")
    return float(value)


def _from_0(what: str, value: float) -> float:
    if _finite(what, value) < 0.0:
        raise BoutError(f"{what}: give a number from 0 up; got {value!r}")
    return float(value)


def _spot(what: str, value: Sequence[float], size: int | None) -> tuple[float, ...]:
    found = tuple(_finite(what, each) for each in value)
    if size is not None and len(found) != size:
        raise BoutError(f"{what}: give {size} numbers, as the first place had; got {value!r}")
    return found
