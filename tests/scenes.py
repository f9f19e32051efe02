"""Random sweeps of all pairs of shapes, for the tests and for the benchmark that runs millions of them."""

from __future__ import annotations

from typing import TYPE_CHECKING

import numpy as np

from emberwound.geometry.solids import Boxes, Capsules

if TYPE_CHECKING:
    from numpy.typing import NDArray

    Array = NDArray[np.float64]


def turns(rng: np.random.Generator, count: int) -> Array:
    """Random axes of boxes."""
    w, x, y, z = (q := rng.normal(size=(4, count))) / np.linalg.norm(q, axis=0)
    rows = [
        [1 - 2 * (y * y + z * z), 2 * (x * y - z * w), 2 * (x * z + y * w)],
        [2 * (x * y + z * w), 1 - 2 * (x * x + z * z), 2 * (y * z - x * w)],
        [2 * (x * z - y * w), 2 * (y * z + x * w), 1 - 2 * (x * x + y * y)],
    ]
    return np.array(rows).transpose(2, 0, 1)


def scene(pair: str, count: int, seed: int) -> tuple[Capsules, Array, Capsules | Boxes, Array]:
    """Movers, moves, targets and their moves, of all sizes and speeds; about half of them close to a touch."""
    rng = np.random.default_rng(seed)
    mover, target = pair.split()
    radius = 10.0 ** rng.uniform(-2, 0, count)
    moves = rng.normal(size=(count, 3))
    moves *= (10.0 ** rng.uniform(-2, np.log10(10_000 / 30), count) / np.linalg.norm(moves, axis=1))[:, None]
    core = rng.normal(size=(count, 3)) * 10.0 ** rng.uniform(-2, 0.5, (count, 1))
    core[: 0 if mover == "capsule" else None] = 0.0
    target_moves = rng.normal(size=(count, 3)) * 0.2
    near = rng.normal(size=(count, 3))
    near /= np.linalg.norm(near, axis=1)[:, None]
    centre = rng.normal(size=(count, 3)) * 5
    targets: Capsules | Boxes
    if target == "box":
        half = 10.0 ** rng.uniform(-2, 0.7, (count, 3))
        targets = Boxes.of(centre, half, turns(rng, count))
        size = half.min(axis=1)
    else:
        axis = rng.normal(size=(count, 3)) * 10.0 ** rng.uniform(-2, 1, (count, 1))
        axis[: count // 20 if target == "capsule" else None] = 0.0
        size = 10.0 ** rng.uniform(-2, 0, count)
        targets = Capsules.of(centre, centre + axis, size)
        centre = centre + axis * rng.uniform(-0.2, 1.2, (count, 1))
        parallel = slice(count // 20, count // 10)
        moves[parallel] = axis[parallel] * rng.uniform(-9, 9, (count // 20, 1)) + 1e-9
    meeting = centre + near * ((radius + size) * rng.uniform(0, 2.5, count))[:, None]
    start = meeting - (moves - target_moves) * rng.uniform(-0.3, 1.3, (count, 1))
    return Capsules.of(start, start + core, radius), moves, targets, target_moves
