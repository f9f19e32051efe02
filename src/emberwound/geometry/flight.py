"""Flight under constant gravity and linear drag, in closed form.

A segment is a piece of flight without a bend: start point, velocity v, downward pull g and drag k (a share of the
velocity lost per second). At time t since its start, with s = (1 - e^(-k t)) / k,

    p(t) = p0 + v s - (0, 0, g (t - s) / k)

which solves p'' = -(0, 0, g) - k p', so it is exact at any tick rate. Without drag s = t and (t - s) / k = t^2 / 2.
"""

from __future__ import annotations

from math import exp, expm1, inf, sqrt

from emberwound.geometry.jit import kernel

SERIES = 1e-2
"""Below this k t the drop is taken from its series: the closed form would lose its digits there."""

HALVINGS = 100


@kernel
def reach_of(drag: float, t: float) -> float:
    """Seconds that a velocity counts for after t seconds of drag: (1 - e^(-k t)) / k, or t without drag."""
    return -expm1(-drag * t) / drag if drag > 0.0 else t


@kernel
def drop_of(drag: float, t: float) -> float:
    """What a pull of 1 has done to the place after t seconds: (t - s) / k, or t^2 / 2 without drag."""
    x = drag * t
    if x < SERIES:
        return t * t * (0.5 - x / 6.0 + x * x / 24.0 - x * x * x / 120.0 + x * x * x * x / 720.0)
    return (t - reach_of(drag, t)) / drag


@kernel
def height_at(height: float, rise: float, gravity: float, drag: float, t: float) -> float:
    """Height after t seconds of flight."""
    if drag == 0.0:
        return height + (rise - 0.5 * gravity * t) * t
    return height + rise * reach_of(drag, t) - gravity * drop_of(drag, t)


@kernel
def rise_at(rise: float, gravity: float, drag: float, t: float) -> float:
    """Upward speed after t seconds of flight."""
    if drag == 0.0:
        return rise - gravity * t
    return rise * exp(-drag * t) - gravity * reach_of(drag, t)


@kernel
def fall_time(height: float, rise: float, gravity: float, level: float) -> float:
    """Seconds until something at `height`, rising at `rise` without drag, comes down to `level`; inf for never.

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
    """Seconds until something at `height`, rising at `rise` without drag, climbs to `level`; inf for never.

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
def drift_time(place: float, speed: float, drag: float, low: float, high: float, end: float) -> float:
    """Seconds until something moving along one axis at `speed` leaves low..high; 0 when it is outside.

    With drag it is asked for up to `end` only, by bisection: the place only ever moves one way. inf for never.
    """
    if place < low or place > high:
        return 0.0
    if speed == 0.0:
        return inf
    level = high if speed > 0.0 else low
    if drag == 0.0:
        return (level - place) / speed
    if (place + speed * reach_of(drag, end) - level) * speed <= 0.0:
        return inf
    near, far = 0.0, end
    for _ in range(HALVINGS):
        middle = 0.5 * (near + far)
        if (place + speed * reach_of(drag, middle) - level) * speed > 0.0:
            far = middle
        else:
            near = middle
    return far


@kernel
def dragged_fall_time(height: float, rise: float, gravity: float, drag: float, level: float, end: float) -> float:
    """As `fall_time`, with drag, up to `end`. What is above a level has one time of coming down to it.

    (The height is concave, or falls all the way: either way what lies above a level is one window of time.)
    """
    if height < level:
        return 0.0
    if height_at(height, rise, gravity, drag, end) >= level:
        return inf
    near, far = 0.0, end
    for _ in range(HALVINGS):
        middle = 0.5 * (near + far)
        if height_at(height, rise, gravity, drag, middle) < level:
            far = middle
        else:
            near = middle
    return far


@kernel
def dragged_climb_time(height: float, rise: float, gravity: float, drag: float, level: float, end: float) -> float:
    """As `climb_time`, with drag, up to `end`: on the way to the top the height only grows."""
    if height > level:
        return 0.0
    top = end
    if rise_at(rise, gravity, drag, end) < 0.0:
        near, far = 0.0, end
        for _ in range(HALVINGS):
            middle = 0.5 * (near + far)
            if rise_at(rise, gravity, drag, middle) > 0.0:
                near = middle
            else:
                far = middle
        top = near
    if rise <= 0.0 or height_at(height, rise, gravity, drag, top) <= level:
        return inf
    near, far = 0.0, top
    for _ in range(HALVINGS):
        middle = 0.5 * (near + far)
        if height_at(height, rise, gravity, drag, middle) > level:
            far = middle
        else:
            near = middle
    return far
