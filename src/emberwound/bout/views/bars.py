"""Bars: how a host shows the pools of bodies, worked out when asked from what changed last."""

from __future__ import annotations

import msgspec


class BarView(msgspec.Struct, frozen=True, gc=False):
    """A bar as a host draws it; shares are from 0 to 1, lengths the arena's.

    `rect` is (left, bottom, width, height) seen from the body's feet, across and up; `at` is the middle of that in the
    arena. `share` is true, `shown` glides after it, `trail` is where the last losses began and drains to it. `pips` are
    how full each pip is shown, `segments` the shares at which it is divided.
    """

    seat: str
    bar: str
    pool: str
    style: str
    value: float
    maximum: float
    share: float
    shown: float
    trail: float
    visible: bool
    rect: tuple[float, float, float, float]
    at: tuple[float, ...]
    text: str
    pips: tuple[float, ...]
    segments: tuple[float, ...]
    colour: str
    pattern: str
    outline: float
    outline_colour: str
    alive: bool
