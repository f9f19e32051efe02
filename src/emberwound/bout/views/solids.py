"""Shapes as whoever draws them takes them: points of the arena, plain numbers."""

from __future__ import annotations

from typing import TYPE_CHECKING, Literal

import msgspec
import numpy as np

from emberwound.plan.solids import Solid

if TYPE_CHECKING:
    from emberwound.bout.state.world import World
    from emberwound.plan import Plan

Point = tuple[float, ...]


class SolidView(msgspec.Struct, frozen=True, kw_only=True):
    """A shape: a capsule from `a` to `b` (a sphere where they are one), a box round `a`, or a half-space beyond `a`.

    `radius` is that of a capsule, and a margin about the others. `axes` are unit vectors (x, y, z): those of a box,
    whose half sizes are in `half_sizes`, or the one that a half-space lies along.
    """

    shape: Literal["capsule", "box", "half_space"]
    """What it is."""
    a: Point
    """One end of a capsule, the middle of a box, a place on the plane of a half-space."""
    b: Point
    """The other end of a capsule."""
    radius: float
    """Radius of a capsule; a margin about the others."""
    half_sizes: tuple[float, ...] = ()
    """Half sizes of a box along its axes."""
    axes: tuple[tuple[float, ...], ...] = ()
    """Unit vectors (x, y, z): those of a box, or the one that a half-space lies along."""


def solid_in_space(plan: Plan, view: SolidView) -> Solid:
    """The same shape with its points in space, as `plan.solids` has them."""
    a = np.array(plan.space.lift(view.a))
    if view.shape == "capsule":
        return Solid("capsule", a, np.array(plan.space.lift(view.b)), view.radius)
    return Solid(view.shape, a, np.array(view.half_sizes or (0.0, 0.0, 0.0)), view.radius, np.array(view.axes))


def solid_view(world: World, solid: Solid) -> SolidView:
    """A shape in the points of the arena."""
    a = world.point(solid.a)
    if solid.shape == "capsule" or solid.axes is None:
        return SolidView(shape=solid.shape, a=a, b=world.point(solid.b), radius=solid.radius)
    axes = tuple(tuple(axis) for axis in solid.axes.tolist())
    if solid.shape == "half_space":
        return SolidView(shape=solid.shape, a=a, b=a, radius=solid.radius, axes=axes[:1])
    return SolidView(shape="box", a=a, b=a, radius=solid.radius, half_sizes=tuple(solid.b.tolist()), axes=axes)
