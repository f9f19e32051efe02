"""Sweeps and flight against independent references, compiled and in plain Python."""

from __future__ import annotations

from math import inf, sqrt
from typing import Any

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from numpy.typing import NDArray

from emberwound.geometry import flight, sweep

Array = NDArray[np.float64]
GRAZE = 1e-9


def random_sweeps(count: int, seed: int) -> dict[str, Array]:
    """Sweeps of all sizes and speeds, about half of them close to a touch; a tenth degenerate in some way."""
    rng = np.random.default_rng(seed)
    axes = rng.normal(size=(count, 3)) * 10.0 ** rng.uniform(-2, 1, (count, 1))
    axes[: count // 20] = 0.0
    ends_a = rng.normal(size=(count, 3)) * 5
    radii, capsule_radii = 10.0 ** rng.uniform(-2, 0, (2, count))
    moves = rng.normal(size=(count, 3))
    moves *= (10.0 ** rng.uniform(-2, np.log10(5000 / 30), count) / np.linalg.norm(moves, axis=1))[:, None]
    moves[count // 20 : count // 10] = axes[count // 20 : count // 10] * rng.uniform(-9, 9, (count // 20, 1))
    capsule_moves = rng.normal(size=(count, 3)) * 0.2
    aside = rng.normal(size=(count, 3))
    aside *= ((radii + capsule_radii) * rng.uniform(0, 2, count) / np.linalg.norm(aside, axis=1))[:, None]
    meeting = ends_a + axes * rng.uniform(-0.2, 1.2, (count, 1)) + aside
    centres = meeting - (moves - capsule_moves) * rng.uniform(-0.3, 1.3, (count, 1))
    return {
        "centres": centres,
        "moves": moves,
        "radii": radii,
        "ends_a": ends_a,
        "ends_b": ends_a + axes,
        "capsule_moves": capsule_moves,
        "capsule_radii": capsule_radii,
    }


def gap_at(t: Array, case: dict[str, Array]) -> tuple[Array, Array]:
    """Distance of the centres to the axes at fractions t, and the sign of its growth."""
    axis = case["ends_b"] - case["ends_a"]
    relative = case["moves"] - case["capsule_moves"]
    point = case["centres"] - case["ends_a"] + relative * t[:, None]
    length = (axis * axis).sum(1)
    share = np.clip((point * axis).sum(1) / np.where(length > 0, length, 1), 0, 1)
    apart = point - axis * share[:, None]
    return np.sqrt((apart * apart).sum(1)), (apart * relative).sum(1)


def bisected(case: dict[str, Array]) -> tuple[Array, Array]:
    """By bisection alone: the smallest gap of centre and axis, and the first time it comes down to the reach.

    The distance of a point on a straight path to a segment is convex in time, so its slope changes sign once.
    """
    reach = case["radii"] + case["capsule_radii"]
    low, high = np.zeros(len(reach)), np.ones(len(reach))
    for _ in range(100):
        middle = (low + high) / 2
        falling = gap_at(middle, case)[1] < 0
        low, high = np.where(falling, middle, low), np.where(falling, high, middle)
    nearest_time = np.where(gap_at(np.zeros(len(reach)), case)[1] >= 0, 0.0, high)
    nearest = gap_at(nearest_time, case)[0]
    low, high = np.zeros(len(reach)), nearest_time
    for _ in range(100):
        middle = (low + high) / 2
        outside = gap_at(middle, case)[0] > reach
        low, high = np.where(outside, middle, low), np.where(outside, high, middle)
    return nearest, np.where(gap_at(np.zeros(len(reach)), case)[0] <= reach, 0.0, high)


def test_a_hundred_thousand_sweeps_agree_with_bisection() -> None:
    case = random_sweeps(100_000, 3)
    found = sweep.sphere_capsule_touches(**case)
    nearest, first = bisected(case)
    reach = case["radii"] + case["capsule_radii"]
    hit = np.isfinite(found)
    assert 20_000 < hit.sum() < 80_000
    deep, clear = nearest < reach * (1 - GRAZE), nearest > reach * (1 + GRAZE)
    assert not (deep & ~hit).any(), "a hit was missed"
    assert not (clear & hit).any(), "a hit was invented"
    sure = nearest < reach * (1 - 1e-6)
    assert np.abs(found - first)[sure].max() < 1e-6


def test_kernels_give_the_same_bits_with_and_without_the_jit() -> None:
    case = random_sweeps(2_000, 4)
    compiled = sweep.sphere_capsule_touches(**case)
    plain: Any = sweep.touch_capsule
    starts, axes = case["centres"] - case["ends_a"], case["ends_b"] - case["ends_a"]
    moves, reach = case["moves"] - case["capsule_moves"], case["radii"] + case["capsule_radii"]
    for i in range(2_000):
        fraction = plain.py_func(*starts[i].tolist(), *moves[i].tolist(), *axes[i].tolist(), float(reach[i]))
        assert (inf if fraction > 1 else fraction) == compiled[i]


@settings(max_examples=200, deadline=None)
@given(st.integers(0, 10_000), st.integers(0, 2), st.floats(-50, 50))
def test_a_sweep_does_not_depend_on_place_side_or_who_moves(index: int, axis: int, shift: float) -> None:
    case = {name: values[index : index + 1] for name, values in random_sweeps(10_001, 5).items()}
    reach = float((case["radii"] + case["capsule_radii"])[0])
    gap = float(bisected(case)[0][0])
    if abs(gap - reach) < 1e-6 * reach:
        return
    base = sweep.sphere_capsule_touches(**case)
    mirror = np.ones(3)
    mirror[axis] = -1
    mirrored = {name: values * mirror if values.ndim == 2 else values for name, values in case.items()}
    assert sweep.sphere_capsule_touches(**mirrored) == pytest.approx(base, abs=1e-9)
    shifted = {
        name: values + shift if name in {"centres", "ends_a", "ends_b"} else values for name, values in case.items()
    }
    assert sweep.sphere_capsule_touches(**shifted) == pytest.approx(base, abs=1e-7)
    turned = {**case, "ends_a": case["ends_b"], "ends_b": case["ends_a"]}
    assert sweep.sphere_capsule_touches(**turned) == pytest.approx(base, abs=1e-7)
    swapped = {**case, "moves": -case["capsule_moves"], "capsule_moves": -case["moves"]}
    assert sweep.sphere_capsule_touches(**swapped) == pytest.approx(base, abs=1e-9)


@pytest.mark.parametrize(
    ("start", "move", "axis", "reach", "fraction"),
    [
        ((-2, 0, 0), (4, 0, 0), (0, 0, 0), 1, 0.25),  # a sphere head on: 1 of 4 to go
        ((0, 0, 0.5), (4, 0, 0), (0, 0, 1), 1, 0),  # overlapping at the start
        ((1, 0, 0.5), (4, 0, 0), (0, 0, 1), 1, inf),  # touching, moving apart
        ((1, 0, 0.5), (-4, 0, 0), (0, 0, 1), 1, 0),  # touching, moving in
        ((1, 0, 0.5), (0, 0, 0), (0, 0, 1), 1, inf),  # touching at rest
        ((0, 0, 4), (0, 0, -4), (0, 0, 1), 1, 0.5),  # along the axis: 2 of 4 to the end's sphere
        ((0.5, 0, 4), (0, 0, -4), (0, 0, 1), 1, (3 - sqrt(0.75)) / 4),  # beside the axis, inside its cylinder
        ((1.5, 0, 4), (0, 0, -4), (0, 0, 1), 1, inf),  # parallel and outside
        ((-2, 0, 5), (4, 0, 0), (0, 0, 1), 1, inf),  # over the end
        ((-2, 0, 0), (0.5, 0, 0), (0, 0, 1), 1, inf),  # too short a move
        ((-2, 0, 0), (4, 0, 0), (0, 0, 1), 0, 0.5),  # a point against a line that it crosses exactly
        ((-2, 1e-3, 0), (4, 0, 0), (0, 0, 1), 0, inf),  # a point past a line
    ],
)
def test_edge_cases_have_a_stated_answer(start: Any, move: Any, axis: Any, reach: float, fraction: float) -> None:
    zero = [(0.0, 0.0, 0.0)]
    found = sweep.sphere_capsule_touches([start], [move], [0.0], zero, [axis], zero, [float(reach)])
    assert found[0] == pytest.approx(fraction, abs=1e-12)


@pytest.mark.parametrize(
    ("change", "message"),
    [
        ({"radii": [-1.0]}, "negative"),
        ({"radii": [[1.0]]}, r"\(n,\)"),
        ({"moves": [(0.0, np.nan, 0.0)]}, "finite"),
        ({"moves": [(0.0, 0.0)]}, r"\(n, 3\)"),
    ],
)
def test_sweeps_refuse_what_is_no_shape(change: dict[str, Any], message: str) -> None:
    point = [(0.0, 0.0, 0.0)]
    case: dict[str, Any] = {
        "centres": point,
        "moves": point,
        "radii": [1.0],
        "ends_a": point,
        "ends_b": point,
        "capsule_moves": point,
        "capsule_radii": [1.0],
    }
    with pytest.raises(ValueError, match=message):
        sweep.sphere_capsule_touches(**(case | change))


@settings(max_examples=300, deadline=None)
@given(st.floats(-50, 50), st.floats(-100, 100), st.sampled_from([0.0, 1e-9, 0.5, 9.81, 500.0]), st.floats(-50, 50))
def test_falls_and_climbs_end_on_their_level(height: float, rise: float, gravity: float, level: float) -> None:
    def at(t: float) -> float:
        return height + rise * t - gravity * t * t / 2

    for meet, sign in ((flight.fall_time, 1.0), (flight.climb_time, -1.0)):
        time = meet(height, rise, gravity, level)
        beyond = sign * (height - level) < 0
        assert time == 0.0 if beyond else time >= 0.0
        reach = min(time, 60.0)
        samples = [at(reach * step / 64) for step in range(64)]
        if not beyond:
            scale = 1e-9 * (1 + abs(height) + abs(level) + (abs(rise) + gravity * reach) * reach)
            assert all(sign * (each - level) >= -scale for each in samples), "it was beyond the level before"
            if 0.0 < time < 1e4:
                assert at(time) == pytest.approx(
                    level, abs=1e-9 * (1 + (abs(rise) + gravity * time) * time + abs(height))
                )
