"""Does any sweep miss, or invent a hit? Millions of random ones against an independent reference.

    python benchmarks/sweeps.py [MILLIONS]

The reference knows nothing but the distance of two points: it finds the smallest distance of two moving shapes, and
the first time it comes down to the reach, by golden sections and bisection alone.
"""

from __future__ import annotations

import sys
from math import sqrt
from pathlib import Path
from time import perf_counter
from typing import TYPE_CHECKING

import numpy as np

from emberwound.geometry.jit import kernel
from emberwound.geometry.solids import Boxes, Capsules, touches

sys.path.insert(0, str(Path(__file__).parent.parent / "tests"))
from scenes import scene

if TYPE_CHECKING:
    from numpy.typing import NDArray

    Array = NDArray[np.float64]

GRAZE = 1e-9
THIRD = 0.6180339887498949
SHARES = {
    "sphere sphere": 0.25,
    "sphere capsule": 0.25,
    "sphere box": 0.25,
    "capsule capsule": 0.125,
    "capsule box": 0.125,
}
BATCH = 125_000


@kernel
def point_apart(t: float, a: float, case: tuple[Array, Array, Array, Array, Array], is_box: bool) -> float:  # noqa: FBT001
    """Distance of the point a share `a` along the mover's core, after a share t of the move, from the target's core."""
    start, core, move, segment, half = case
    square, length, along = 0.0, 0.0, 0.0
    for axis in range(3):
        place = start[axis] + move[axis] * t + core[axis] * a
        out = max(abs(place) - half[axis], 0.0)
        square += out * out
        length += segment[axis] * segment[axis]
        along += place * segment[axis]
    if is_box:
        return sqrt(square)
    share = min(max(along / length, 0.0), 1.0) if length > 0.0 else 0.0
    square = 0.0
    for axis in range(3):
        out = start[axis] + move[axis] * t + core[axis] * a - share * segment[axis]
        square += out * out
    return sqrt(square)


@kernel
def core_apart(t: float, case: tuple[Array, Array, Array, Array, Array], is_box: bool) -> float:  # noqa: FBT001
    """Distance of the mover's core from the target's after a share t of the move, by golden sections along it."""
    core = case[1]
    best = point_apart(t, 0.0, case, is_box)
    if core[0] == 0.0 and core[1] == 0.0 and core[2] == 0.0:
        return best
    best = min(best, point_apart(t, 1.0, case, is_box))
    low, high = 0.0, 1.0
    a, b = 1.0 - THIRD, THIRD
    one, other = point_apart(t, a, case, is_box), point_apart(t, b, case, is_box)
    for _ in range(48):
        best = min(best, one, other)
        if one <= other:
            high, b, other = b, a, one
            a = high - THIRD * (high - low)
            one = point_apart(t, a, case, is_box)
        else:
            low, a, one = a, b, other
            b = low + THIRD * (high - low)
            other = point_apart(t, b, case, is_box)
    return best


@kernel
def reference(
    starts: Array,
    cores: Array,
    moves: Array,
    segments: Array,
    halves: Array,
    reach: Array,
    is_box: bool,  # noqa: FBT001
) -> Array:
    """For each pair the smallest distance and the first time it is at most the reach, (n, 2)."""
    found = np.empty((len(reach), 2))
    for i in range(len(reach)):
        case = (starts[i], cores[i], moves[i], segments[i], halves[i])
        low, high = 0.0, 1.0
        least = min(core_apart(0.0, case, is_box), core_apart(1.0, case, is_box))
        time = 0.0 if core_apart(0.0, case, is_box) <= least else 1.0
        for _ in range(60):
            a, b = high - THIRD * (high - low), low + THIRD * (high - low)
            one, other = core_apart(a, case, is_box), core_apart(b, case, is_box)
            if one < least:
                least, time = one, a
            if other < least:
                least, time = other, b
            if one <= other:
                high = b
            else:
                low = a
        low, high = 0.0, time
        if core_apart(0.0, case, is_box) <= reach[i]:
            high = 0.0
        for _ in range(40):
            middle = 0.5 * (low + high)
            if core_apart(middle, case, is_box) > reach[i]:
                low = middle
            else:
                high = middle
        found[i, 0], found[i, 1] = least, high
    return found


def batch(pair: str, count: int, seed: int) -> tuple[int, int, int, float, float]:
    """Hits, misses, inventions, the largest error of a time, and the seconds our sweeps took."""
    movers, moves, targets, target_moves = scene(pair, count, seed)
    start = perf_counter()
    ours = touches(movers, moves, targets, target_moves)
    spent = perf_counter() - start
    relative, core = moves - target_moves, movers.b - movers.a
    if isinstance(targets, Boxes):
        turn = [np.einsum("nij,nj->ni", targets.axes, each) for each in (movers.a - targets.centre, core, relative)]
        reach = movers.radius
        known = reference(turn[0], turn[1], turn[2], np.zeros_like(core), targets.half, reach, True)
    else:
        assert isinstance(targets, Capsules)
        reach = movers.radius + targets.radius
        axis = targets.b - targets.a
        known = reference(movers.a - targets.a, core, relative, axis, np.zeros_like(core), reach, False)
    least, first = known.T
    hit = np.isfinite(ours)
    missed = int(((least < reach * (1 - GRAZE)) & ~hit).sum())
    invented = int(((least > reach * (1 + GRAZE)) & hit).sum())
    sure = hit & (least < reach * (1 - 1e-6))
    return int(hit.sum()), missed, invented, float(np.abs(ours - first)[sure].max()), spent


def main() -> int:
    """Print a line for each pair of shapes; exit code 1 when one hit was missed or invented."""
    millions = float(sys.argv[1]) if len(sys.argv) > 1 else 10.0
    wrong = 0
    print(f"{'pair':18}{'sweeps':>11}{'hits':>11}{'missed':>8}{'invented':>10}{'time error':>12}{'ns a sweep':>12}")
    for pair, share in SHARES.items():
        rounds = max(round(millions * 1e6 * share / BATCH), 1)
        results = [batch(pair, BATCH, 1000 + number) for number in range(rounds)]
        hits, missed, invented = (sum(each) for each in list(zip(*results, strict=True))[:3])
        error = max(each[3] for each in results)
        spent = min(each[4] for each in results) / BATCH * 1e9
        wrong += int(missed + invented)
        print(
            f"{pair:18}{rounds * BATCH:>11,}{hits:>11,}{missed:>8}{invented:>10}{error:>12.1e}{spent:>12.0f}",
            flush=True,
        )
    return 1 if wrong else 0


if __name__ == "__main__":
    sys.exit(main())
