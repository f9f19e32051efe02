"""Flight under constant gravity, in closed form.

A leg is a stretch of flight without a bend: start point, velocity and the downward pull g. At time t since its start

    p(t) = p0 + v t - (0, 0, g t^2 / 2)

which is the integral of constant acceleration, so it is exact at any tick rate.
"""

from __future__ import annotations

from math import inf, sqrt

from emberwound.geometry.jit import kernel


@kernel
def fall_time(height: float, rise: float, gravity: float, level: float) -> float:
    """Seconds until something at `height`, rising at `rise`, comes down to `level`; inf when it never does.

    Below the level at the start gives 0. Touching it while moving up, or gliding along it, is no contact yet.
    With h = height - level the later root of h + v t - g t^2 / 2 is (v + s) / g = 2 h / (s - v),
    s = sqrt(v^2 + 2 g h); of the two forms the one without cancellation is taken. `gravity` is not negative.
    """
    above = height - level
    if above < 0.0:
        return 0.0
    speed = sqrt(rise * rise + 2.0 * gravity * above)
    if rise > 0.0:
        return (rise + speed) / gravity if gravity > 0.0 else inf
    if speed - rise > 0.0:
        return 2.0 * above / (speed - rise)
    return 0.0 if gravity > 0.0 else inf


@kernel
def climb_time(height: float, rise: float, gravity: float, level: float) -> float:
    """Seconds until something at `height`, rising at `rise`, climbs to `level`; inf when it never does.

    Above the level at the start gives 0. With h = level - height the earlier root is 2 h / (v + sqrt(v^2 - 2 g h)).
    """
    below = level - height
    if below < 0.0:
        return 0.0
    square = rise * rise - 2.0 * gravity * below
    if rise <= 0.0 or square < 0.0:
        return inf
    return 2.0 * below / (rise + sqrt(square))


@kernel
def drift_time(place: float, speed: float, low: float, high: float) -> float:
    """Seconds until something moving along one axis at `speed` leaves the span low..high; 0 when it is outside."""
    if place < low or place > high:
        return 0.0
    if speed > 0.0:
        return (high - place) / speed
    if speed < 0.0:
        return (low - place) / speed
    return inf
