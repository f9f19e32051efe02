"""Sweeps, distances, flight and contact against independent references, compiled and in plain Python."""

from __future__ import annotations

from math import inf, sqrt
from typing import TYPE_CHECKING, Any

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from emberwound.geometry import contact, crowd, flight, flight_segments, rays_and_blasts, sweep
from emberwound.geometry.layout import (
    FoundColumn,
    FoundMark,
    Layer,
    ShapeColumn,
    ShapeKind,
    ShapeMark,
    ShotColumn,
    ShotMark,
)
from emberwound.geometry.shape import bound_shape
from emberwound.geometry.solids import Boxes, Capsules, nearest, touches
from scenes import scene, turns

if TYPE_CHECKING:
    from collections.abc import Callable

    from numpy.typing import NDArray

    Array = NDArray[np.float64]

GRAZE = 1e-9
THIRD = (sqrt(5) - 1) / 2


def by_sections(function: Callable[[Array], Array], count: int, rounds: int) -> Array:
    """Where on 0..1 a convex function is least, by golden sections."""
    low, high = np.zeros(count), np.ones(count)
    for _ in range(rounds):
        a, b = high - THIRD * (high - low), low + THIRD * (high - low)
        left = function(a) <= function(b)
        low, high = np.where(left, low, a), np.where(left, b, high)
    return (low + high) / 2


def lengths(vectors: Array) -> Array:
    found: Array = np.linalg.norm(vectors, axis=1)
    return found


def distance_at(t: Array, movers: Capsules, moves: Array, targets: Capsules | Boxes) -> Array:
    """Distance of the cores after a share t of the moves, the target at rest: nothing but projections and sections."""
    start, core = movers.a + moves * t[:, None], movers.b - movers.a

    def apart(share: Array) -> Array:
        point = start + core * share[:, None]
        if isinstance(targets, Boxes):
            local = np.einsum("nij,nj->ni", targets.axes, point - targets.centre)
            return lengths(local - np.clip(local, -targets.half, targets.half))
        axis = targets.b - targets.a
        length = (axis * axis).sum(1)
        along = np.clip(((point - targets.a) * axis).sum(1) / np.where(length > 0, length, 1), 0, 1)
        return lengths(point - targets.a - axis * along[:, None])

    if not core.any():
        return apart(np.zeros(len(t)))
    ends = np.minimum(apart(np.zeros(len(t))), apart(np.ones(len(t))))
    return np.minimum(ends, apart(by_sections(apart, len(t), 60)))


def reference(movers: Capsules, moves: Array, targets: Capsules | Boxes, target_moves: Array) -> tuple[Array, Array]:
    """The smallest distance of the cores and the first time it comes down to the reach, by sections alone."""
    count, relative = len(movers.radius), moves - target_moves
    reach = movers.radius + (targets.radius if isinstance(targets, Capsules) else 0.0)

    def distance(t: Array) -> Array:
        return distance_at(t, movers, relative, targets)

    best = by_sections(distance, count, 70)
    least = np.minimum(np.minimum(distance(best), distance(np.zeros(count))), distance(np.ones(count)))
    low, high = np.zeros(count), np.where(distance(np.ones(count)) <= least, 1.0, best)
    for _ in range(45):
        middle = (low + high) / 2
        outside = distance(middle) > reach
        low, high = np.where(outside, middle, low), np.where(outside, high, middle)
    return least, np.where(distance(np.zeros(count)) <= reach, 0.0, high)


@pytest.mark.parametrize(
    ("pair", "count"),
    [
        ("sphere sphere", 20_000),
        ("sphere capsule", 20_000),
        ("sphere box", 20_000),
        ("capsule capsule", 600),
        ("capsule box", 600),
        pytest.param("sphere capsule", 100_000, marks=pytest.mark.long),
        pytest.param("capsule capsule", 6_000, marks=pytest.mark.long),
        pytest.param("capsule box", 6_000, marks=pytest.mark.long),
    ],
)
def test_random_sweeps_agree_with_sections(pair: str, count: int) -> None:
    case = scene(pair, count, 3)
    found = touches(*case)
    least, first = reference(*case)
    reach = case[0].radius + (case[2].radius if isinstance(case[2], Capsules) else 0.0)
    hit = np.isfinite(found)
    assert 0.15 < hit.mean() < 0.85
    assert not ((least < reach * (1 - GRAZE)) & ~hit).any(), "a hit was missed"
    assert not ((least > reach * (1 + GRAZE)) & hit).any(), "a hit was invented"
    sure = least < reach * (1 - 1e-6)
    assert np.abs(found - first)[sure].max() < 1e-6


@pytest.mark.parametrize("pair", ["sphere capsule", "sphere box", "capsule capsule", "capsule box"])
def test_sweeps_do_not_depend_on_place_turn_side_or_who_moves(pair: str) -> None:
    movers, moves, targets, target_moves = scene(pair, 1_000, 5)
    least, _ = reference(movers, moves, targets, target_moves)
    reach = movers.radius + (targets.radius if isinstance(targets, Capsules) else 0.0)
    base = touches(movers, moves, targets, target_moves)
    sure = np.abs(least - reach) > 1e-6 * reach
    rng = np.random.default_rng(6)
    turn = turns(rng, 1)[0]
    for matrix, shift in (
        (np.eye(3), rng.normal(size=3) * 20),
        (turn, np.zeros(3)),
        (np.diag([1.0, -1.0, 1.0]), np.zeros(3)),
    ):
        moved = Capsules(movers.a @ matrix.T + shift, movers.b @ matrix.T + shift, movers.radius)
        if isinstance(targets, Boxes):
            other: Capsules | Boxes = Boxes(targets.centre @ matrix.T + shift, targets.half, targets.axes @ matrix.T)
        else:
            other = Capsules(targets.a @ matrix.T + shift, targets.b @ matrix.T + shift, targets.radius)
        again = touches(moved, moves @ matrix.T, other, target_moves @ matrix.T)
        np.testing.assert_allclose(again[sure], base[sure], atol=1e-6)
    backwards = touches(movers, -target_moves, targets, -moves)
    np.testing.assert_allclose(backwards[sure], base[sure], atol=1e-9)
    if isinstance(targets, Capsules) and pair == "capsule capsule":
        swapped = touches(targets, target_moves, movers, moves)
        np.testing.assert_allclose(swapped[sure], base[sure], atol=1e-6)


def test_nearest_points_lie_on_both_skins_and_no_others_are_nearer() -> None:
    for pair in ("capsule capsule", "capsule box"):
        movers, _, targets, _ = scene(pair, 3_000, 8)
        distance, mine, theirs = nearest(movers, targets)
        least = distance_at(np.zeros(3_000), movers, np.zeros((3_000, 3)), targets)
        reach = movers.radius + (targets.radius if isinstance(targets, Capsules) else 0.0)
        np.testing.assert_allclose(distance, np.maximum(least - reach, 0), atol=1e-9)
        apart = distance > 0
        np.testing.assert_allclose(np.linalg.norm(mine - theirs, axis=1)[apart], distance[apart], atol=1e-9)
        assert apart.any() and not apart.all()


def test_kernels_give_the_same_bits_with_and_without_the_jit() -> None:
    rng = np.random.default_rng(4)
    plain: dict[Any, int] = {
        sweep.touch_capsule: 10,
        sweep.touch_box: 10,
        sweep.capsule_capsule_touch: 13,
        sweep.capsule_box_touch: 13,
        flight.height_at: 5,
        flight.dragged_fall_time: 6,
    }
    for kernel, arguments in plain.items():
        for _ in range(300):
            figures = rng.normal(size=arguments) * 2
            figures[6:] = np.abs(figures[6:])
            if kernel.py_func.__module__.endswith("flight"):
                figures = np.abs(figures)
            assert kernel.interpreted(*figures.tolist()) == kernel.compiled(*figures.tolist())


CAPSULE_EDGES = [
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
]


@pytest.mark.parametrize(("start", "move", "axis", "reach", "fraction"), CAPSULE_EDGES)
def test_edge_cases_of_capsules_have_a_stated_answer(
    start: Any, move: Any, axis: Any, reach: float, fraction: float
) -> None:
    zero = [(0.0, 0.0, 0.0)]
    for size in (0.0, reach):
        mover, target = Capsules.of([start], [start], [size]), Capsules.of(zero, [axis], [reach - size])
        assert touches(mover, [move], target, zero)[0] == pytest.approx(fraction, abs=1e-12)
    longer = Capsules.of([start], [np.add(start, (0, 0, 1e-13))], [float(reach)])
    if reach:
        assert touches(longer, [move], Capsules.of(zero, [axis], [0.0]), zero)[0] == pytest.approx(fraction, abs=1e-6)


@pytest.mark.parametrize(
    ("start", "move", "half", "reach", "fraction"),
    [
        ((-3, 0, 0), (4, 0, 0), (1, 1, 1), 0.5, 0.375),  # square on a face
        ((-3, 1.3, 0), (4, 0, 0), (1, 1, 1), 0.5, (2 - 0.4) / 4),  # on an edge: sqrt(.5^2 - .3^2) = .4 before it
        ((-3, 1.3, 1.3), (4, 0, 0), (1, 1, 1), 0.5, (2 - sqrt(0.25 - 0.18)) / 4),  # on a corner
        ((-3, 1.4, 1.4), (4, 0, 0), (1, 1, 1), 0.5, inf),  # past the corner, though not past the grown box
        ((0, 0, 0), (4, 0, 0), (1, 1, 1), 0, 0),  # a point inside
        ((-1, 0, 0), (4, 0, 0), (1, 1, 1), 0, 0),  # a point on the skin, moving in
        ((-1, 0, 0), (-4, 0, 0), (1, 1, 1), 0, inf),  # a point on the skin, moving out
        ((-3, 0, 0), (4, 0, 0), (1, 1, 1), 0, 0.5),  # a ray
        ((-3, 0, 0), (4, 0, 0), (1, 0, 0), 0.5, 0.375),  # a box that is a line
        ((-3, 0, 1.5), (4, 0, 0), (1, 1, 1), 0.5, inf),  # gliding along a face
        ((-1.5, 0, 0), (-4, 0, 0), (1, 1, 1), 0.5, inf),  # touching, moving apart
    ],
)
def test_edge_cases_of_boxes_have_a_stated_answer(
    start: Any, move: Any, half: Any, reach: float, fraction: float
) -> None:
    zero, axes = [(0.0, 0.0, 0.0)], [np.eye(3)]
    found = touches(Capsules.of([start], [start], [reach]), [move], Boxes.of(zero, [half], axes), zero)
    assert found[0] == pytest.approx(fraction, abs=1e-12)


@pytest.mark.parametrize(
    ("call", "message"),
    [
        (lambda: Capsules.of([(0, 0, 0)], [(0, 0, 0)], [-1.0]), "radius must not be negative"),
        (lambda: Capsules.of([(0, 0, 0)], [(0, 0, 0)], [[1.0]]), r"radius \(n,\), with one n"),
        (lambda: Capsules.of([(0, np.nan, 0)], [(0, 0, 0)], [1.0]), "finite"),
        (lambda: Capsules.of([(0, 0)], [(0, 0)], [1.0]), r"\(n, 3\)"),
        (lambda: Boxes.of([(0, 0, 0)], [(1, -1, 1)], [np.eye(3)]), "half sizes must not be negative"),
        (lambda: Boxes.of([(0, 0, 0)], [(1, 1, 1)], [np.ones((3, 3))]), "unit vectors square to each other"),
        (
            lambda: touches(
                Capsules.of([(0, 0, 0)], [(0, 0, 0)], [1.0]),
                np.zeros((2, 3)),
                Capsules.of([(0, 0, 0)], [(0, 0, 0)], [1.0]),
                np.zeros((1, 3)),
            ),
            "of one n",
        ),
    ],
)
def test_solids_refuse_what_is_no_shape(call: Callable[[], object], message: str) -> None:
    with pytest.raises(ValueError, match=message):
        call()


def world(seed: int, shots: int, shapes: int) -> list[Any]:
    """A crowd of segments with gravity, drag, ranges, options and layers, among moving capsules and boxes."""
    rng = np.random.default_rng(seed)
    flying, marks = (
        np.zeros((ShotColumn.SEGMENT_COLUMNS, shots)),
        np.zeros((ShotMark.SEGMENT_COLUMNS, shots), np.int64),
    )
    flying[ShotColumn.X : ShotColumn.Z + 1] = rng.uniform(0, 20, (3, shots))
    flying[ShotColumn.VX : ShotColumn.VZ + 1] = rng.normal(size=(3, shots)) * 10.0 ** rng.uniform(0, 2.5, shots)
    flying[ShotColumn.GRAVITY] = np.where(rng.random(shots) < 0.5, 9.81, 0)
    flying[ShotColumn.DRAG] = np.where(rng.random(shots) < 0.3, rng.uniform(0, 3, shots), 0)
    flying[ShotColumn.RADIUS] = rng.uniform(0, 0.3, shots)
    flying[ShotColumn.TICK] = rng.integers(0, 3, shots)
    flying[ShotColumn.BEGIN] = np.where(rng.random(shots) < 0.2, rng.uniform(0, 1 / 60, shots), 0)
    flying[ShotColumn.ORIGIN : ShotColumn.ORIGIN + 3] = flying[:3]
    flying[ShotColumn.RANGE] = np.where(rng.random(shots) < 0.2, rng.uniform(0.1, 5, shots), 0)
    marks[ShotMark.ID] = np.where(rng.random(shots) < 0.9, np.arange(1, shots + 1), 0)
    marks[ShotMark.OWNER] = rng.integers(1, shapes + 1, shots)
    marks[ShotMark.TEAM] = rng.integers(1, 4, shots)
    marks[ShotMark.LAYERS] = rng.integers(0, 8, shots) | np.where(rng.random(shots) < 0.8, Layer.WALL, 0)
    marks[ShotMark.OPTIONS] = rng.integers(0, 4, shots)
    marks[ShotMark.PASSED] = rng.integers(0, 3, shots)
    walls = np.array([1.0, 0, 0, 0, 20, 20, 20])
    for segment in range(shots):
        before = max(flight_segments.tick_zero(flying, segment, 2, 60), 0.0)
        if (
            before
            and flight_segments.segment_limit(flying, segment, marks[ShotMark.LAYERS, segment], walls, 0.0, before)[1]
        ):
            marks[ShotMark.ID, segment] = 0
    flying[:, marks[ShotMark.ID] == 0] = 0
    marks[:, marks[ShotMark.ID] == 0] = 0
    boxes, box_marks = (
        np.zeros((ShapeColumn.COLUMNS, shapes)),
        np.zeros((ShapeMark.COLUMNS, shapes), np.int64),
    )
    for shape in range(shapes):
        middle, shift = rng.uniform(0, 20, 3), rng.normal(size=3) * 0.1
        boxes[ShapeColumn.A : ShapeColumn.A + 3, shape] = middle
        boxes[ShapeColumn.A_END : ShapeColumn.A_END + 3, shape] = middle + shift
        if shape % 3 == 0:
            boxes[ShapeColumn.B : ShapeColumn.B + 3, shape] = rng.uniform(0.05, 2, 3)
            boxes[ShapeColumn.AXES : ShapeColumn.AXES + 9, shape] = turns(rng, 1)[0].ravel()
        else:
            boxes[ShapeColumn.B : ShapeColumn.B + 3, shape] = middle + rng.normal(size=3)
            boxes[ShapeColumn.B_END : ShapeColumn.B_END + 3, shape] = (
                boxes[ShapeColumn.B : ShapeColumn.B + 3, shape] + shift
            )
            boxes[ShapeColumn.RADIUS, shape] = rng.uniform(0.05, 1)
        boxes[ShapeColumn.KIND, shape] = ShapeKind.CAPSULE if shape % 3 else ShapeKind.BOX
        bound_shape(boxes, shape)
        box_marks[ShapeMark.LAYER, shape] = Layer.WALL if shape % 7 == 0 else 1 << rng.integers(0, 3)
        box_marks[ShapeMark.OWNER, shape] = 0 if shape % 7 == 0 else shape + 1
        box_marks[ShapeMark.TEAM, shape] = rng.integers(1, 4)
        box_marks[ShapeMark.RANK, shape] = shapes - shape
        box_marks[ShapeMark.BODY, shape] = shape + 1
    touched = rng.integers(1, shapes + 1, (3, shots))
    return [flying, marks, boxes, box_marks, touched, walls]


def contacts_of(kernel: Any, arrays: list[Any], shots: int) -> tuple[Array, NDArray[np.int64]]:
    found, found_marks = np.zeros((FoundColumn.COLUMNS, shots)), np.zeros((FoundMark.COLUMNS, shots), np.int64)
    free = [(0, 0)]
    count = kernel(*arrays, found, found_marks, (0, shots), *free, 2, 60)
    return found[:, :count], found_marks[:, :count]


@pytest.mark.parametrize(("shots", "shapes"), [(300, 40), (2_500, 300), (50, 3)])
def test_the_grid_finds_what_testing_every_pair_finds_to_the_same_bits(shots: int, shapes: int) -> None:
    for fast in (1.0, 1e4):
        arrays = world(7, shots, shapes)
        arrays[0][ShotColumn.VX, 0] *= fast
        arrays[0][ShotColumn.RADIUS, shots // 2] *= fast
        by_pairs, by_grid = (
            contacts_of(contact.first_contacts, arrays, shots),
            contacts_of(crowd.crowd_contacts, arrays, shots),
        )
        np.testing.assert_array_equal(by_pairs[0], by_grid[0])
        np.testing.assert_array_equal(by_pairs[1], by_grid[1])
    met = set(by_pairs[1][FoundMark.WHAT].tolist())
    assert met == {1, 2, 3, 4} if shapes > 3 else met


def test_contacts_of_curved_paths_lie_on_the_skins_and_are_the_first() -> None:
    arrays = world(9, 400, 30)
    flying, marks, boxes, box_marks, touched, _ = arrays
    found, found_marks = contacts_of(contact.first_contacts, arrays, 400)
    assert found.shape[1] > 25
    seen = dict(zip(found_marks[FoundMark.SHOT].tolist(), range(found.shape[1]), strict=True))
    for segment in np.flatnonzero(marks[ShotMark.ID]).tolist():
        zero = flight_segments.tick_zero(flying, segment, 2, 60)
        begin, end = max(zero, 0.0), zero + 1 / 60
        if segment in seen:
            end = found[FoundColumn.SECONDS, seen[segment]]
            if end <= begin:
                continue
        times = np.linspace(begin, end, 60)[:-1]
        places = np.array([flight_segments.segment_place(flying, segment, t) for t in times])
        late = ((times - zero) * 60)[:, None]
        for shape in range(30):
            layers = marks[ShotMark.LAYERS, segment] & box_marks[ShapeMark.LAYER, shape]
            if not layers or flight_segments.may_not_touch(marks, segment, box_marks, shape, touched):
                continue
            shift = boxes[ShapeColumn.A_END : ShapeColumn.A_END + 3, shape] - boxes[:3, shape]
            a, b = boxes[:3, shape] + shift * late, boxes[3:6, shape] + shift * late
            point = Capsules.of(places, places, np.zeros(len(times)))
            if boxes[ShapeColumn.KIND, shape] == ShapeKind.BOX:
                half = np.tile(boxes[3:6, shape], (len(times), 1))
                axes = np.tile(
                    boxes[ShapeColumn.AXES : ShapeColumn.AXES + 9, shape].reshape(3, 3),
                    (len(times), 1, 1),
                )
                distance = nearest(point, Boxes.of(a, half, axes))[0]
            else:
                distance = nearest(point, Capsules.of(a, b, np.full(len(times), boxes[ShapeColumn.RADIUS, shape])))[0]
            assert distance.min() > flying[ShotColumn.RADIUS, segment] - 1e-5, (segment, shape)


def test_a_ray_is_a_sweep_of_no_size() -> None:
    _, _, boxes, box_marks, _, walls = world(11, 10, 60)
    boxes[ShapeColumn.A_END : ShapeColumn.B_END + 3] = boxes[ShapeColumn.A : ShapeColumn.B + 3]
    rng, shares = np.random.default_rng(2), np.empty(60)
    hits = 0
    for _ in range(200):
        start, move = rng.uniform(1, 19, 3), rng.normal(size=3) * 10
        rays_and_blasts.ray_touches(start, move, boxes, box_marks, 7, shares)
        for shape in np.flatnonzero(shares <= 1).tolist():
            hits += 1
            place = (start + move * shares[shape])[None]
            point = Capsules.of(place, place, [0.0])
            if boxes[ShapeColumn.KIND, shape] == ShapeKind.BOX:
                axes = boxes[ShapeColumn.AXES : ShapeColumn.AXES + 9, shape].reshape(1, 3, 3)
                target: Capsules | Boxes = Boxes.of([boxes[:3, shape]], [boxes[3:6, shape]], axes)
            else:
                target = Capsules.of([boxes[:3, shape]], [boxes[3:6, shape]], [boxes[ShapeColumn.RADIUS, shape]])
            assert nearest(point, target)[0][0] < 1e-9
        limit, what = rays_and_blasts.ray_limit(start, move, walls, Layer.WALL)
        end = start + move * limit
        assert what == 4 or min(abs(end - walls[4:]).min(), abs(end - walls[1:4]).min(), abs(end[2] - walls[0])) < 1e-9
    assert hits > 25


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


@settings(max_examples=200, deadline=None)
@given(st.floats(-20, 20), st.floats(-50, 50), st.sampled_from([0.0, 9.81]), st.floats(1e-6, 5), st.floats(-20, 20))
def test_drag_solves_its_equation_and_crosses_levels_once(
    height: float, rise: float, gravity: float, drag: float, level: float
) -> None:
    def at(t: float) -> float:
        return flight.height_at(height, rise, gravity, drag, t)

    step = 1e-4
    for t in (0.1, 1.0, 3.0):
        speed = (at(t + step) - at(t - step)) / (2 * step)
        assert speed == pytest.approx(flight.rise_at(rise, gravity, drag, t), abs=1e-5 * (1 + abs(rise)))
        wide = 10 * step
        bend = (at(t + wide) - 2 * at(t) + at(t - wide)) / wide**2
        assert bend == pytest.approx(-gravity - drag * speed, abs=1e-4 * (1 + abs(rise) * (1 + drag)))
    for meet, sign in ((flight.dragged_fall_time, 1.0), (flight.dragged_climb_time, -1.0)):
        time = meet(height, rise, gravity, drag, level, 3.0)
        samples = [sign * (at(min(time, 3.0) * k / 50) - level) for k in range(50)]
        if sign * (height - level) < 0:
            assert time == 0.0
        else:
            assert min(samples) >= -1e-9
            assert time == inf or at(time) == pytest.approx(level, abs=1e-6)
