"""The arrays that kernels read: hurtboxes, joints through time, bodies, walls and paths."""

from __future__ import annotations

from math import hypot, inf, isfinite
from typing import TYPE_CHECKING

import numpy as np

from emberwound.geometry.legs import (
    SHAPE_A,
    SHAPE_A_END,
    SHAPE_AXES,
    SHAPE_B,
    SHAPE_IS_BOX,
    SHAPE_LAYER,
    SHAPE_MARKS,
    SHAPE_RANK,
    SHAPE_ROWS,
    WALL_FLOOR,
    WALL_HIGH,
    WALL_LAYER,
    WALL_LOW,
    WALL_ROWS,
)
from emberwound.geometry.pose import (
    OFFSET_A,
    OFFSET_AXES,
    OFFSET_B,
    OFFSET_IS_BOX,
    OFFSET_JOINT_A,
    OFFSET_JOINT_B,
    OFFSET_LAYER,
    OFFSET_MARKS,
    OFFSET_PRIORITY,
    OFFSET_RADIUS,
    OFFSET_ROWS,
    bound_box,
)
from emberwound.geometry.thrown import (
    MODEL_DRAG,
    MODEL_GRAVITY,
    MODEL_HEIGHT,
    MODEL_KEEP,
    MODEL_RADIUS,
    MODEL_ROWS,
    MODEL_SLOWING,
    MODEL_SPEED,
    MODEL_WEIGHT,
)
from emberwound.geometry.walk import PATH_CLOSED, PATH_COUNT, PATH_FIRST

if TYPE_CHECKING:
    from collections.abc import Sequence

    from numpy.typing import NDArray

    from emberwound.plan.plane import Plane, Vector
    from emberwound.rulebook.models import Arena, Attack, Book, Fighter, PartShape


def layers_of(book: Book) -> list[str]:
    """All layers of a book, in the order in which its hurtboxes name them; the place is the bit."""
    boxes = [box for fighter in book.bodies.values() for box in fighter.hurtboxes.values()]
    return list(dict.fromkeys(box.layer for box in boxes))


def joint_and_offset(fighter: Fighter, place: str | Sequence[float], plane: Plane) -> tuple[int, Vector]:
    """A place on a fighter as a joint's number and an offset from it; -1 for an offset from the feet."""
    if isinstance(place, str):
        return list(fighter.joints).index(place), (0.0, 0.0, 0.0)
    return -1, plane.offset(place)


def offset_tables(book: Book, most: int, plane: Plane) -> tuple[NDArray[np.float64], NDArray[np.int64]]:
    """The hurtboxes of all fighters on their frames."""
    fighters, layers = list(book.bodies.values()), layers_of(book)
    offsets = np.zeros((OFFSET_ROWS, max(len(fighters), 1), most))
    marks = np.zeros((OFFSET_MARKS, max(len(fighters), 1), most), np.int64)
    for row, fighter in enumerate(fighters):
        for part, box in enumerate(fighter.hurtboxes.values()):
            marks[OFFSET_LAYER, row, part] = 1 << layers.index(box.layer)
            marks[OFFSET_PRIORITY, row, part] = box.priority
            write_part(offsets[:, row, part], marks[:, row, part], box, fighter, plane)
    return offsets, marks


def write_part(
    offsets: NDArray[np.float64], marks: NDArray[np.int64], box: PartShape, fighter: Fighter, plane: Plane
) -> None:
    """Write the shape of a hurtbox or a hitbox into its column."""
    joint, offset = joint_and_offset(fighter, box.from_, plane)
    marks[OFFSET_JOINT_A] = marks[OFFSET_JOINT_B] = joint
    offsets[OFFSET_A : OFFSET_A + 3] = offset
    if box.size is not None:
        half, axes = plane.offset_box(box.size, box.turn_deg)
        marks[OFFSET_IS_BOX] = 1
        offsets[OFFSET_B : OFFSET_B + 3] = half
        offsets[OFFSET_AXES : OFFSET_AXES + 9] = np.array(axes).ravel()
        return
    if box.to is not None:
        marks[OFFSET_JOINT_B], offset = joint_and_offset(fighter, box.to, plane)
    offsets[OFFSET_B : OFFSET_B + 3] = offset
    offsets[OFFSET_RADIUS] = box.radius


def span_of(fighter: Fighter, plane: Plane) -> float:
    """How far from the upright through a fighter's feet any of its hurtboxes comes while it just stands."""
    joints = [plane.offset(offset) for offset in fighter.joints.values()]
    far = fighter.body.radius
    for box in fighter.hurtboxes.values():
        for place in (box.from_, box.from_ if box.to is None else box.to):
            joint, offset = joint_and_offset(fighter, place, plane)
            ahead, left, _ = np.add(offset, joints[joint]) if joint >= 0 else offset
            half = (
                plane.offset_box(box.size, box.turn_deg)[0] if box.size is not None else (box.radius or 0.0, 0.0, 0.0)
            )
            far = max(far, hypot(ahead, left) + hypot(*(each for each in half if isfinite(each))))
    return far


def postures_of(fighter: Fighter) -> tuple[str, ...]:
    """The postures of a fighter by number: the two that all have, and its own."""
    return ("standing", "airborne", *fighter.postures)


def hidden_table(book: Book) -> NDArray[np.int64]:
    """A bit for each hurtbox that is off in a posture, (fighters, postures)."""
    fighters = list(book.bodies.values())
    hidden = np.zeros((max(len(fighters), 1), max((len(postures_of(each)) for each in fighters), default=2)), np.int64)
    for row, fighter in enumerate(fighters):
        for part, box in enumerate(fighter.hurtboxes.values()):
            for number, posture in enumerate(postures_of(fighter)):
                if box.postures is not None and posture not in box.postures:
                    hidden[row, number] |= 1 << part
    return hidden


class Tracks:
    """Gathers the joints' offsets tick by tick: a row for each posture, and a stretch for each posed attack."""

    def __init__(self, book: Book, plane: Plane, tick_rate: int) -> None:
        self._plane = plane
        self._tick_rate = tick_rate
        self._frame_rate = book.settings.frame_rate
        self._joints = max((len(each.joints) for each in book.bodies.values()), default=0)
        self._rows: list[NDArray[np.float64]] = []

    def rests(self, fighter: Fighter) -> tuple[int, ...]:
        """The row of a fighter in each of its postures; in the air its joints are where they are standing."""
        first = len(self._rows)
        self._rows.append(self._at_rest(fighter))
        for posture in fighter.postures.values():
            row = self._at_rest(fighter)
            for joint, offset in posture.joints.items():
                row[list(fighter.joints).index(joint)] = self._plane.offset(offset)
            self._rows.append(row)
        return (first, first, *range(first + 1, len(self._rows)))

    def posed(self, fighter: Fighter, attack: Attack, whole_ticks: int) -> tuple[int, int]:
        """The first row of an attack's poses, and how many follow it; (0, 0) for an attack without poses.

        Places between keys are linear in time; before the first key a joint is at rest, after the last it stays.
        """
        if not attack.poses:
            return 0, 0
        first, ticks = len(self._rows), whole_ticks
        for tick in range(ticks + 1):
            row = self._at_rest(fighter)
            for joint, keys in attack.poses.items():
                number = list(fighter.joints).index(joint)
                times = [float(key.at.seconds(self._frame_rate) * self._tick_rate) for key in keys]
                places = np.array([self._plane.offset(key.offset) for key in keys])
                if times[0] > 0.0:
                    times, places = [0.0, *times], np.vstack([row[number], places])
                row[number] = [np.interp(tick, times, places[:, axis]) for axis in range(3)]
            self._rows.append(row)
        return first, ticks

    def _at_rest(self, fighter: Fighter) -> NDArray[np.float64]:
        row = np.zeros((max(self._joints, 1), 3))
        for number, offset in enumerate(fighter.joints.values()):
            row[number] = self._plane.offset(offset)
        return row

    def table(self) -> NDArray[np.float64]:
        """All rows so far."""
        return np.array(self._rows) if self._rows else np.zeros((1, 1, 3))


def model_table(book: Book, arena: Arena, plane: Plane) -> NDArray[np.float64]:
    """The bodies of all fighters."""
    models = np.zeros((MODEL_ROWS, max(len(book.bodies), 1)))
    for row, fighter in enumerate(book.bodies.values()):
        models[MODEL_RADIUS, row] = fighter.body.radius
        models[MODEL_HEIGHT, row] = fighter.body.height if plane.has_heights else 2.0 * fighter.body.radius
        models[MODEL_GRAVITY, row] = fighter.gravity_share * arena.gravity if plane.has_heights else 0.0
        models[MODEL_SPEED, row] = fighter.speed
        models[MODEL_DRAG, row] = fighter.drag
        models[MODEL_SLOWING, row] = fighter.slowing
        models[MODEL_KEEP, row] = fighter.bounce_keep
        models[MODEL_WEIGHT, row] = fighter.weight
    return models


def bounds_table(arena: Arena, plane: Plane) -> NDArray[np.float64]:
    """Floor and bounds; along an axis that the plane does not have there are none."""
    bounds = np.full(WALL_ROWS, inf)
    bounds[WALL_FLOOR] = -inf if arena.floor is None or not plane.has_heights else arena.floor
    low, high = plane.lift(arena.bounds.low), plane.lift(arena.bounds.high)
    for axis, name in enumerate("xyz"):
        known = name in plane.axes
        bounds[WALL_LOW + axis] = low[axis] if known else -inf
        bounds[WALL_HIGH + axis] = high[axis] if known else inf
    return bounds


def wall_tables(arena: Arena, plane: Plane) -> tuple[NDArray[np.float64], NDArray[np.int64]]:
    """The walls as boxes that stand still, in file order."""
    shapes = np.zeros((SHAPE_ROWS, len(arena.walls)))
    marks = np.zeros((SHAPE_MARKS, len(arena.walls)), np.int64)
    for column, wall in enumerate(arena.walls.values()):
        shapes[SHAPE_A : SHAPE_A + 3, column] = shapes[SHAPE_A_END : SHAPE_A_END + 3, column] = plane.lift(wall.at)
        shapes[SHAPE_B : SHAPE_B + 3, column] = plane.half_sizes(wall.size)
        shapes[SHAPE_AXES : SHAPE_AXES + 9, column] = np.array(plane.axes_turned(wall.turn_deg)).ravel()
        marks[SHAPE_LAYER, column] = WALL_LAYER
        marks[SHAPE_RANK, column] = column
        marks[SHAPE_IS_BOX, column] = 1
        bound_box(shapes, column)
    return shapes, marks


def path_tables(arena: Arena, plane: Plane) -> tuple[NDArray[np.float64], NDArray[np.int64]]:
    """The points of all paths one after the other, and where each begins, how many it has, and if it closes."""
    points = [plane.lift(point) for path in arena.paths.values() for point in path.points]
    paths = np.zeros((3, max(len(arena.paths), 1)), np.int64)
    first = 0
    for column, path in enumerate(arena.paths.values()):
        paths[PATH_FIRST, column], paths[PATH_COUNT, column] = first, len(path.points)
        paths[PATH_CLOSED, column] = path.closed
        first += len(path.points)
    return np.array(points or [(0.0, 0.0, 0.0)]), paths
