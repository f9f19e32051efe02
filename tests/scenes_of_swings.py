"""Random swings past random shapes, and when each is how far from its shape, for the tests and the benchmark."""

from __future__ import annotations

from typing import TYPE_CHECKING

import numpy as np

from emberwound.geometry.layout import ShapeColumn, ShapeKind, VolumeColumn
from emberwound.geometry.solids import Boxes, Capsules, nearest
from emberwound.geometry.volume_contacts import first_touch
from scenes import turns

if TYPE_CHECKING:
    from numpy.typing import NDArray

    Array = NDArray[np.float64]


class Swings:
    """Hitboxes that turn or are carried through a tick, and shapes near their ways: all sizes and speeds."""

    def __init__(self, count: int, seed: int, *, turning: bool, boxes: bool) -> None:
        rng = np.random.default_rng(seed)
        self.kind = ShapeKind.TURNING if turning else ShapeKind.CAPSULE
        self.boxes = boxes
        self.volumes = volumes = np.zeros((VolumeColumn.COLUMNS, count))
        self.shapes = shapes = np.zeros((ShapeColumn.COLUMNS, count))
        volumes[ShapeColumn.KIND] = self.kind
        shapes[ShapeColumn.KIND] = ShapeKind.BOX if boxes else ShapeKind.CAPSULE
        volumes[ShapeColumn.RADIUS] = 10.0 ** rng.uniform(-2, -0.3, count)
        volumes[ShapeColumn.A : ShapeColumn.A + 3] = rng.normal(size=(3, count))
        carried = rng.normal(size=(3, count)) * 10.0 ** rng.uniform(-3, 0.5, count)
        volumes[ShapeColumn.A_END : ShapeColumn.A_END + 3] = volumes[ShapeColumn.A : ShapeColumn.A + 3] + carried
        if turning:
            planes = turns(rng, count)
            volumes[VolumeColumn.ONE : VolumeColumn.ONE + 3], volumes[VolumeColumn.OTHER : VolumeColumn.OTHER + 3] = (
                planes[:, :2].transpose(1, 2, 0)
            )
            volumes[VolumeColumn.TURN] = rng.uniform(-np.pi, np.pi, count)
            volumes[VolumeColumn.TURNING] = rng.normal(size=count) * 10.0 ** rng.uniform(-2, 0.3, count)
            volumes[VolumeColumn.TURNED] = np.where(rng.random(count) < 0.2, rng.uniform(0, 1, count), 1.0)
            volumes[VolumeColumn.REACH] = 10.0 ** rng.uniform(-0.5, 0.7, count)
            volumes[VolumeColumn.INNER] = volumes[VolumeColumn.REACH] * rng.uniform(0, 1, count)
        else:
            for row in (ShapeColumn.B, ShapeColumn.B_END):
                volumes[row : row + 3] = volumes[ShapeColumn.A : ShapeColumn.A + 3] + rng.normal(size=(3, count))
        self._put_shapes(rng, count)
        if boxes:
            shapes[ShapeColumn.AXES : ShapeColumn.AXES + 9] = turns(rng, count).reshape(count, 9).T
            shapes[ShapeColumn.B : ShapeColumn.B + 3] = 10.0 ** rng.uniform(-2, 0, (3, count))

    def _put_shapes(self, rng: np.random.Generator, count: int) -> None:
        """Shapes beside a place that the hitbox comes through at some time of the tick."""
        shapes = self.shapes
        shapes[ShapeColumn.RADIUS] = 10.0 ** rng.uniform(-2, 0, count)
        a, b = self.ends(rng.uniform(0, 1, count))
        meeting = a + (b - a) * rng.uniform(0, 1.1, (count, 1))
        aside = rng.normal(size=(count, 3))
        aside /= np.linalg.norm(aside, axis=1)[:, None]
        size = self.volumes[ShapeColumn.RADIUS] + shapes[ShapeColumn.RADIUS]
        place = (meeting + aside * (size * rng.uniform(0, 3, count))[:, None]).T
        move = rng.normal(size=(3, count)) * 10.0 ** rng.uniform(-3, 0, count)
        core = rng.normal(size=(3, count)) * 10.0 ** rng.uniform(-2, 0.3, count)
        for row, offset in ((ShapeColumn.A, 0.0), (ShapeColumn.B, core)):
            shapes[row : row + 3] = place + offset - 0.5 * move
        twist = rng.normal(size=(3, count)) * 0.1
        shapes[ShapeColumn.A_END : ShapeColumn.A_END + 3] = shapes[ShapeColumn.A : ShapeColumn.A + 3] + move
        shapes[ShapeColumn.B_END : ShapeColumn.B_END + 3] = shapes[ShapeColumn.B : ShapeColumn.B + 3] + move + twist

    def ends(self, share: Array) -> tuple[Array, Array]:
        """Both ends (n, 3) of each hitbox at a fraction of the tick, (n,)."""
        v = self.volumes
        a = v[ShapeColumn.A : ShapeColumn.A + 3] * (1 - share) + v[ShapeColumn.A_END : ShapeColumn.A_END + 3] * share
        if self.kind == ShapeKind.CAPSULE:
            return a.T, (
                v[ShapeColumn.B : ShapeColumn.B + 3] * (1 - share)
                + v[ShapeColumn.B_END : ShapeColumn.B_END + 3] * share
            ).T
        angle = v[VolumeColumn.TURN] + v[VolumeColumn.TURNING] * np.minimum(share, v[VolumeColumn.TURNED])
        way = (
            np.cos(angle) * v[VolumeColumn.ONE : VolumeColumn.ONE + 3]
            + np.sin(angle) * v[VolumeColumn.OTHER : VolumeColumn.OTHER + 3]
        )
        return (a + v[VolumeColumn.INNER] * way).T, (a + v[VolumeColumn.REACH] * way).T

    def gaps(self, share: Array) -> Array:
        """The gap (n,) of each pair at a fraction of the tick, (n,); 0 where they overlap by nobody knows how much."""
        v, s = self.volumes, self.shapes
        a, b = self.ends(share)
        core = Capsules.of(a, b, np.zeros(len(a)))
        c = (
            s[ShapeColumn.A : ShapeColumn.A + 3] * (1 - share) + s[ShapeColumn.A_END : ShapeColumn.A_END + 3] * share
        ).T
        if self.boxes:
            half, axes = (
                s[ShapeColumn.B : ShapeColumn.B + 3].T,
                s[ShapeColumn.AXES : ShapeColumn.AXES + 9].T.reshape(-1, 3, 3),
            )
            found: Array = nearest(core, Boxes.of(c, half, axes))[0] - v[ShapeColumn.RADIUS]
            return found
        d = (
            s[ShapeColumn.B : ShapeColumn.B + 3] * (1 - share) + s[ShapeColumn.B_END : ShapeColumn.B_END + 3] * share
        ).T
        apart: Array = (
            nearest(core, Capsules.of(c, d, np.zeros(len(c))))[0] - v[ShapeColumn.RADIUS] - s[ShapeColumn.RADIUS]
        )
        return apart

    def touches(self) -> Array:
        """The fraction of the tick (n,) of each pair's first touch, as the kernel finds it; 2 for none."""
        columns = range(self.volumes.shape[1])
        found = [first_touch(self.volumes, i, self.shapes, i, 0.0, 1.0) for i in columns]
        return np.array(found)


def judge(swings: Swings, moments: int) -> dict[str, float]:
    """How the kernel's touches compare with the gaps at so many moments of the tick.

    `missed` counts overlaps deeper than 0.1 % of the hitbox's radius before the touch told, `invented` touches at
    which there is a gap, `touched` those told; `deepest` is the deepest overlap passed over, as a share of the radius.
    """
    found, radius = swings.touches(), swings.volumes[ShapeColumn.RADIUS]
    deepest = np.zeros(len(found))
    for share in np.linspace(0.0, 1.0, moments):
        gaps = swings.gaps(np.full(len(found), share))
        deepest = np.maximum(deepest, np.where(share < found - 1e-9, -gaps / radius, 0.0))
    hit = found <= 1.0
    at_touch = swings.gaps(np.where(hit, found, 0.0))
    return {
        "swings": len(found),
        "touched": int(hit.sum()),
        "missed": int((deepest > 1e-3).sum()),
        "invented": int((hit & (at_touch > 1e-9)).sum()),
        "deepest": float(deepest.max()),
        "late": float(np.abs(at_touch[hit & (found > 0.0)]).max()),
    }
