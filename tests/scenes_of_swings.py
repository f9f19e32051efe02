"""Random swings past random shapes, and when each is how far from its shape, for the tests and the benchmark."""

from __future__ import annotations

from typing import TYPE_CHECKING

import numpy as np

from emberwound.geometry.legs import (
    SHAPE_A,
    SHAPE_A_END,
    SHAPE_AXES,
    SHAPE_B,
    SHAPE_B_END,
    SHAPE_RADIUS,
    SHAPE_ROWS,
)
from emberwound.geometry.solids import Boxes, Capsules, nearest
from emberwound.geometry.touch import first_touch
from emberwound.geometry.volumes import (
    CAPSULE,
    TURNING,
    VOLUME_INNER,
    VOLUME_ONE,
    VOLUME_OTHER,
    VOLUME_REACH,
    VOLUME_ROWS,
    VOLUME_TURN,
    VOLUME_TURNED,
    VOLUME_TURNING,
)
from scenes import turns

if TYPE_CHECKING:
    from numpy.typing import NDArray

    Array = NDArray[np.float64]


class Swings:
    """Hitboxes that turn or are carried through a tick, and shapes near their ways: all sizes and speeds."""

    def __init__(self, count: int, seed: int, *, turning: bool, boxes: bool) -> None:
        rng = np.random.default_rng(seed)
        self.kind = TURNING if turning else CAPSULE
        self.boxes = boxes
        self.volumes = volumes = np.zeros((VOLUME_ROWS, count))
        self.shapes = shapes = np.zeros((SHAPE_ROWS, count))
        volumes[SHAPE_RADIUS] = 10.0 ** rng.uniform(-2, -0.3, count)
        volumes[SHAPE_A : SHAPE_A + 3] = rng.normal(size=(3, count))
        carried = rng.normal(size=(3, count)) * 10.0 ** rng.uniform(-3, 0.5, count)
        volumes[SHAPE_A_END : SHAPE_A_END + 3] = volumes[SHAPE_A : SHAPE_A + 3] + carried
        if turning:
            planes = turns(rng, count)
            volumes[VOLUME_ONE : VOLUME_ONE + 3], volumes[VOLUME_OTHER : VOLUME_OTHER + 3] = planes[:, :2].transpose(
                1, 2, 0
            )
            volumes[VOLUME_TURN] = rng.uniform(-np.pi, np.pi, count)
            volumes[VOLUME_TURNING] = rng.normal(size=count) * 10.0 ** rng.uniform(-2, 0.3, count)
            volumes[VOLUME_TURNED] = np.where(rng.random(count) < 0.2, rng.uniform(0, 1, count), 1.0)
            volumes[VOLUME_REACH] = 10.0 ** rng.uniform(-0.5, 0.7, count)
            volumes[VOLUME_INNER] = volumes[VOLUME_REACH] * rng.uniform(0, 1, count)
        else:
            for row in (SHAPE_B, SHAPE_B_END):
                volumes[row : row + 3] = volumes[SHAPE_A : SHAPE_A + 3] + rng.normal(size=(3, count))
        self._put_shapes(rng, count)
        if boxes:
            shapes[SHAPE_AXES : SHAPE_AXES + 9] = turns(rng, count).reshape(count, 9).T
            shapes[SHAPE_B : SHAPE_B + 3] = 10.0 ** rng.uniform(-2, 0, (3, count))

    def _put_shapes(self, rng: np.random.Generator, count: int) -> None:
        """Shapes beside a place that the hitbox comes through at some time of the tick."""
        shapes = self.shapes
        shapes[SHAPE_RADIUS] = 10.0 ** rng.uniform(-2, 0, count)
        a, b = self.ends(rng.uniform(0, 1, count))
        meeting = a + (b - a) * rng.uniform(0, 1.1, (count, 1))
        aside = rng.normal(size=(count, 3))
        aside /= np.linalg.norm(aside, axis=1)[:, None]
        size = self.volumes[SHAPE_RADIUS] + shapes[SHAPE_RADIUS]
        place = (meeting + aside * (size * rng.uniform(0, 3, count))[:, None]).T
        move = rng.normal(size=(3, count)) * 10.0 ** rng.uniform(-3, 0, count)
        core = rng.normal(size=(3, count)) * 10.0 ** rng.uniform(-2, 0.3, count)
        for row, offset in ((SHAPE_A, 0.0), (SHAPE_B, core)):
            shapes[row : row + 3] = place + offset - 0.5 * move
        twist = rng.normal(size=(3, count)) * 0.1
        shapes[SHAPE_A_END : SHAPE_A_END + 3] = shapes[SHAPE_A : SHAPE_A + 3] + move
        shapes[SHAPE_B_END : SHAPE_B_END + 3] = shapes[SHAPE_B : SHAPE_B + 3] + move + twist

    def ends(self, share: Array) -> tuple[Array, Array]:
        """Both ends (n, 3) of each hitbox at a fraction of the tick, (n,)."""
        v = self.volumes
        a = v[SHAPE_A : SHAPE_A + 3] * (1 - share) + v[SHAPE_A_END : SHAPE_A_END + 3] * share
        if self.kind == CAPSULE:
            return a.T, (v[SHAPE_B : SHAPE_B + 3] * (1 - share) + v[SHAPE_B_END : SHAPE_B_END + 3] * share).T
        angle = v[VOLUME_TURN] + v[VOLUME_TURNING] * np.minimum(share, v[VOLUME_TURNED])
        way = np.cos(angle) * v[VOLUME_ONE : VOLUME_ONE + 3] + np.sin(angle) * v[VOLUME_OTHER : VOLUME_OTHER + 3]
        return (a + v[VOLUME_INNER] * way).T, (a + v[VOLUME_REACH] * way).T

    def gaps(self, share: Array) -> Array:
        """The gap (n,) of each pair at a fraction of the tick, (n,); 0 where they overlap by nobody knows how much."""
        v, s = self.volumes, self.shapes
        a, b = self.ends(share)
        core = Capsules.of(a, b, np.zeros(len(a)))
        c = (s[SHAPE_A : SHAPE_A + 3] * (1 - share) + s[SHAPE_A_END : SHAPE_A_END + 3] * share).T
        if self.boxes:
            half, axes = s[SHAPE_B : SHAPE_B + 3].T, s[SHAPE_AXES : SHAPE_AXES + 9].T.reshape(-1, 3, 3)
            found: Array = nearest(core, Boxes.of(c, half, axes))[0] - v[SHAPE_RADIUS]
            return found
        d = (s[SHAPE_B : SHAPE_B + 3] * (1 - share) + s[SHAPE_B_END : SHAPE_B_END + 3] * share).T
        apart: Array = nearest(core, Capsules.of(c, d, np.zeros(len(c))))[0] - v[SHAPE_RADIUS] - s[SHAPE_RADIUS]
        return apart

    def touches(self) -> Array:
        """The fraction of the tick (n,) of each pair's first touch, as the kernel finds it; 2 for none."""
        columns = range(self.volumes.shape[1])
        found = [first_touch(self.volumes, i, self.kind, self.shapes, i, int(self.boxes), 0.0, 1.0) for i in columns]
        return np.array(found)


def judge(swings: Swings, moments: int) -> dict[str, float]:
    """How the kernel's touches compare with the gaps at so many moments of the tick.

    `missed` counts overlaps deeper than 0.1 % of the hitbox's radius before the touch told, `invented` touches at
    which there is a gap, `touched` those told; `deepest` is the deepest overlap passed over, as a share of the radius.
    """
    found, radius = swings.touches(), swings.volumes[SHAPE_RADIUS]
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
