"""How near what flies or strikes came to a body: when, at which hurtbox, and on which side of it."""

from __future__ import annotations

from math import inf
from typing import TYPE_CHECKING, NamedTuple

import numpy as np

from emberwound.bout.views.body import hurtboxes_of, stance_of
from emberwound.plan.solids import Solid, distance
from emberwound.plan.stances import hurtbox_solids

if TYPE_CHECKING:
    from collections.abc import Sequence

    from numpy.typing import NDArray

    from emberwound.bout.views.body import BodyView
    from emberwound.bout.views.frame import View
    from emberwound.plan import Plan

    Array = NDArray[np.float64]

GRAIN, CLOSE = 1e-12, 1e-6
"""Gaps that differ by less are one; so are, by the second, the nearest and the last of a flight."""

FINE = 33
"""Moments within a tick that are looked at once the nearest tick is known."""


class Near(NamedTuple):
    """The nearest approach to one body: whose hurtbox, how far from touching, when, where, and on which side."""

    seat: str
    hurtbox: str
    gap: float
    time: float
    place: Array
    aside: Array
    heading: tuple[float, float]
    is_last: bool

    @property
    def side(self) -> str:
        """On which side of the hurtbox it passed, as the owner of the hurtbox looks."""
        return self.side_for(self.heading)

    def side_for(self, heading: tuple[float, float]) -> str:
        """On which side of the hurtbox it passed, for somebody who looks along `heading`."""
        ahead, left = heading
        x, y, z = self.aside.tolist()
        parts = {
            "above": z,
            "below": -z,
            "in front of": x * ahead + y * left,
            "behind": -(x * ahead + y * left),
            "to the left of": y * ahead - x * left,
            "to the right of": x * left - y * ahead,
        }
        return max(parts, key=lambda each: parts[each])


class Moment(NamedTuple):
    """Places of what flies or strikes at one time, each with a radius, and the hurtboxes that might be touched.

    `own` are the hurtboxes of who shot or strikes, `off` those of others that an attack of theirs has turned off.
    """

    time: float
    touching: tuple[Solid, ...]
    bodies: dict[tuple[str, str], Solid]
    headings: dict[str, tuple[float, float]]
    own: tuple[Solid, ...]
    off: dict[tuple[str, str], Solid]


def moment(plan: Plan, view: View, besides: str, touching: Sequence[Solid]) -> Moment:
    """What is to be measured between two ticks."""
    bodies = [*view.bodies, *view.props]
    solids = {(body.seat, name): solid for body in bodies for name, solid in hurtboxes_of(body).items()}
    own = tuple(solid for (seat, _), solid in solids.items() if seat == besides)
    others = {key: solid for key, solid in solids.items() if key[0] != besides}
    headings = {body.seat: body.heading for body in bodies}
    off = {key: solid for body in view.bodies if body.seat != besides for key, solid in _turned_off(plan, body).items()}
    return Moment(view.time, tuple(touching), others, headings, own, off)


def _turned_off(plan: Plan, body: BodyView) -> dict[tuple[str, str], Solid]:
    """The hurtboxes of a body that are off: by an attack of its own, or as it is in another posture."""
    fighter = plan.fighter(body.fighter)
    if fighter is None:
        return {}
    stance = stance_of(body)
    off = stance.hidden
    solids = hurtbox_solids(plan, fighter.id, stance._replace(hidden=~off)) if off else {}
    return {(body.seat, fighter.hurtboxes[part].name): solid for part, solid in solids.items()}


def first_through(moments: Sequence[Moment]) -> tuple[str, str, float] | None:
    """The first hurtbox that was passed through while it was off: whose, which, and when."""
    for at in moments:
        for (seat, name), solid in at.off.items():
            if any(_gap(touching, solid)[0] < 0.0 for touching in at.touching):
                return seat, name, at.time
    return None


def ball(place: Sequence[float] | Array, radius: float) -> Solid:
    """A sphere."""
    return Solid.capsule(place, place, radius)


def nearest(moments: Sequence[Moment]) -> list[Near]:
    """The nearest approach to each seat's body, the nearest first; what lies between two moments goes straight."""
    best: dict[str, Near] = {}
    for index, at in enumerate(moments):
        later = moments[index + 1] if index + 1 < len(moments) else at
        for seat in dict.fromkeys(seat for seat, _ in at.bodies):
            found = _between(at, later, seat)
            if found is not None and (seat not in best or found.gap < best[seat].gap - GRAIN):
                best[seat] = found
    last = {seat: _between(moments[-1], moments[-1], seat) for seat in best} if moments else {}
    ended = {seat for seat, near in last.items() if near is not None and near.gap <= best[seat].gap + CLOSE}
    return sorted((each._replace(is_last=each.seat in ended) for each in best.values()), key=lambda each: each.gap)


def _between(at: Moment, later: Moment, seat: str) -> Near | None:
    """The nearest approach to one body between two moments."""
    found: Near | None = None
    shares = np.linspace(0.0, 1.0, FINE) if at is not later else np.zeros(1)
    for name in [name for each, name in at.bodies if each == seat]:
        first = at.bodies[seat, name]
        last = later.bodies.get((seat, name), first)
        for start, end in zip(at.touching, later.touching, strict=False):
            gaps, places_, asides = _gaps(start, end, first, last, shares)
            best = int(gaps.argmin())
            if found is None or gaps[best] < found.gap - GRAIN:
                time = at.time + float(shares[best]) * (later.time - at.time)
                gap, place, aside = float(gaps[best]), places_[best], asides[best]
                found = Near(seat, name, gap, time, place, aside, at.headings[seat], is_last=False)
    return found


def _gaps(start: Solid, end: Solid, first: Solid, last: Solid, shares: Array) -> tuple[Array, Array, Array]:
    """How far apart two moving shapes are at shares of the time, the nearest places on the first, the ways there."""
    if all(each.name == "capsule" for each in (start, end, first, last)):
        across = shares[:, None]
        ways = [
            one + across * (two - one)
            for one, two in ((start.a, end.a), (start.b, end.b), (first.a, last.a), (first.b, last.b))
        ]
        on_first, on_second = _nearest_of_axes(*ways)
        asides = on_first - on_second
        return np.linalg.norm(asides, axis=1) - start.radius - first.radius, on_first, asides
    text = [_gap(start.on_the_way(end, float(share)), first.on_the_way(last, float(share))) for share in shares]
    return (
        np.array([each[0] for each in text]),
        np.array([each[1] for each in text]),
        np.array([each[2] for each in text]),
    )


def _nearest_of_axes(a: Array, b: Array, c: Array, d: Array) -> tuple[Array, Array]:
    """The places (n, 3) on segments a to b and c to d that are nearest to each other: the one of the lines, clamped."""
    one, two, between = b - a, d - c, a - c
    length, other, cross = (np.einsum("ij,ij->i", x, y) for x, y in ((one, one), (two, two), (one, two)))
    ahead, back = np.einsum("ij,ij->i", one, between), np.einsum("ij,ij->i", two, between)
    spread = length * other - cross * cross
    safe = np.where(spread > GRAIN, spread, 1.0)
    s = np.where(spread > GRAIN, np.clip((cross * back - ahead * other) / safe, 0.0, 1.0), 0.0)
    t = np.where(other > GRAIN, (cross * s + back) / np.where(other > GRAIN, other, 1.0), 0.0)
    t = np.clip(t, 0.0, 1.0)
    s = np.where(length > GRAIN, np.clip((cross * t - ahead) / np.where(length > GRAIN, length, 1.0), 0.0, 1.0), 0.0)
    return a + s[:, None] * one, c + t[:, None] * two


def _gap(touching: Solid, hurtbox: Solid) -> tuple[float, Array, Array]:
    """How far two shapes are apart, the place on the first that is nearest, and the way there from the second."""
    best, where = inf, touching.a
    for point in touching.places():
        far = distance(point, hurtbox)
        if far < best:
            best, where = far, point
    return best - touching.radius, where, where - hurtbox.foot(where)
