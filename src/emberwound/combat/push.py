"""Pushes: the velocity that a hit gives its victim, what speeds an authored arc needs, and the path they lead to."""

from __future__ import annotations

from dataclasses import dataclass
from math import atan2, cos, hypot, inf, log1p, pi, sin, sqrt
from typing import TYPE_CHECKING, Literal, NamedTuple

from emberwound.geometry.flight import dragged_fall_time, fall_time, height_at, reach_of

if TYPE_CHECKING:
    from collections.abc import Callable, Sequence

Heading = Literal["away", "towards", "facing", "travel", "radial", "fixed"]
Vector = tuple[float, float, float]

HALVINGS = 200


@dataclass(frozen=True, slots=True)
class PushTerms:
    """A push on a body of weight 1: its speed, the angle it is raised by, in radians, and more speed a point of damage.

    It replaces the velocity of its victim, or adds to it. One in a fixed direction goes `along` that on the ground.
    """

    heading: Heading
    speed: float
    lift: float
    per_point: float = 0.0
    replaces: bool = True
    along: tuple[float, float] = (0.0, 0.0)


@dataclass(frozen=True, slots=True)
class Footing:
    """What a pushed body is subject to: the pull, drag in the air, and what slows it on the ground."""

    gravity: float
    drag: float
    slide_deceleration: float


class KnockbackPath(NamedTuple):
    """Where a push from level ground leads, if nothing is met: lengths, and seconds since it began.

    `apex` is the greatest height, `landing` and `rest` are distances along the ground, where it comes down and where it
    stops; without a flight both apex and landing are 0.
    """

    level: float
    rise: float
    apex: float
    apex_seconds: float
    landing: float
    landing_seconds: float
    rest: float
    rest_seconds: float


NO_DIRECTION = 1e-6
"""A way on the ground shorter than this share of a body's height is none: rounding alone would choose its side."""


def without_noise(way: Vector, height: float) -> Vector:
    """A way in space, its part on the ground left out where that is shorter than NO_DIRECTION allows for a body."""
    x, y, z = way
    return way if hypot(x, y) > NO_DIRECTION * height else (0.0, 0.0, z)


def push_velocity(
    push: PushTerms, way: Sequence[float], facing: Sequence[float], amount: float, share: float, weight: float
) -> Vector:
    """The velocity a push gives: (speed + per_point amount) share / weight, along `way` raised by its lift.

    `way` leads from the source to the victim, or as the hit travels; without a direction on the ground it is that of
    the attacker's `facing`. Along the ground the lift is the elevation; of `travel` and `radial` it is added to theirs,
    up to straight up or down.
    """
    speed = (push.speed + push.per_point * amount) * share / weight
    x, y, z = way
    level = hypot(x, y)
    across, along = (x / level, y / level) if level > 0.0 else (facing[0], facing[1])
    if push.heading == "fixed":
        across, along = push.along
    lift = push.lift
    if push.heading in ("travel", "radial") and (level > 0.0 or z != 0.0):
        lift = min(max(atan2(z, level) + push.lift, -pi / 2), pi / 2)
    flat = 0.0 if abs(lift) == pi / 2 else cos(lift)
    return (speed * flat * across, speed * flat * along, speed * sin(lift))


def solve(
    footing: Footing, distance: float, apex: float | None = None, seconds: float | None = None
) -> tuple[float, float]:
    """The speeds (along the ground, upwards) that land a push at a distance, or bring it to rest there if it slides.

    With an `apex` it rises so high, with `seconds` it is so long in the air. Without a pull there is no arc, and with
    neither it slides: v = sqrt(2 slide_deceleration distance). Rising to h under drag k solves
    w / k - (g / k^2) ln(1 + k w / g) = h by halving; in the air for T:
    w = g T / (1 - e^(-k T)) - g / k. Then u = distance k / (1 - e^(-k T)).
    """
    gravity, drag = footing.gravity, footing.drag
    if gravity == 0.0 or (apex is None and seconds is None):
        return sqrt(2.0 * footing.slide_deceleration * distance), 0.0
    if seconds is not None:
        rise = 0.5 * gravity * seconds if drag == 0.0 else gravity * seconds / _loss(drag, seconds) - gravity / drag
        return distance / reach_of(drag, seconds), rise
    height = apex or 0.0
    rise = sqrt(2.0 * gravity * height)
    if drag > 0.0:
        most = rise + 1.0
        while _top(gravity, drag, most) < height:
            most *= 2.0
        rise = _root(lambda w: _top(gravity, drag, w) - height, rise, most)
    return distance / reach_of(drag, _airtime(footing, rise)), rise


def knockback_path(footing: Footing, level: float, rise: float) -> KnockbackPath:
    """The path of a push from level ground with these speeds, in closed form; `level` is along the ground.

    After landing it slides v^2 / (2 slide_deceleration) with the speed that drag has left it.
    """
    if footing.gravity == 0.0 or rise <= 0.0:
        slide, stop = level * level / (2.0 * footing.slide_deceleration), level / footing.slide_deceleration
        return KnockbackPath(level, rise, 0.0, 0.0, 0.0, 0.0, slide, stop)
    gravity, drag = footing.gravity, footing.drag
    top = rise / gravity if drag == 0.0 else log1p(drag * rise / gravity) / drag
    air = _airtime(footing, rise)
    landing = level * reach_of(drag, air)
    left = level * (1.0 - _loss(drag, air))
    rest = landing + left * left / (2.0 * footing.slide_deceleration)
    apex = height_at(0.0, rise, gravity, drag, top)
    return KnockbackPath(level, rise, apex, top, landing, air, rest, air + left / footing.slide_deceleration)


def path_points(footing: Footing, path: KnockbackPath, count: int) -> list[tuple[float, float, float]]:
    """`count` points of a path as (seconds, along the ground, height), evenly over its time."""
    found = []
    for index in range(count):
        t = path.rest_seconds * index / (count - 1)
        air = min(t, path.landing_seconds)
        height = height_at(0.0, path.rise, footing.gravity, footing.drag, air) if air < path.landing_seconds else 0.0
        slid, left = t - air, path.level * (1.0 - _loss(footing.drag, air))
        along = path.level * reach_of(footing.drag, air) + left * slid - 0.5 * footing.slide_deceleration * slid * slid
        found.append((t, along, max(height, 0.0)))
    return found


def _loss(drag: float, seconds: float) -> float:
    """The share of a velocity that drag takes in a time: 1 - e^(-k t)."""
    return drag * reach_of(drag, seconds)


def _top(gravity: float, drag: float, rise: float) -> float:
    """How high something rises under drag."""
    return rise / drag - gravity / drag**2 * log1p(drag * rise / gravity)


def _airtime(footing: Footing, rise: float) -> float:
    """Seconds until something that left the ground upwards is back on it; drag never makes it longer."""
    free = fall_time(0.0, rise, footing.gravity, 0.0)
    if footing.drag == 0.0 or free == inf:
        return free
    return dragged_fall_time(0.0, rise, footing.gravity, footing.drag, 0.0, free * 1.000001)


def _root(function: Callable[[float], float], low: float, high: float) -> float:
    """Where a growing function comes through zero between two places."""
    for _ in range(HALVINGS):
        middle = 0.5 * (low + high)
        if function(middle) < 0.0:
            low = middle
        else:
            high = middle
    return 0.5 * (low + high)
