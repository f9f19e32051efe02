"""The arrays that kernels read: hurtboxes, joints through time, bodies, walls and paths."""

from __future__ import annotations

from math import hypot, inf, isfinite
from typing import TYPE_CHECKING

import numpy as np

from emberwound.geometry.layout import (
    ArenaBound,
    Layer,
    ModelColumn,
    PartColumn,
    PartMark,
    PathMark,
    ShapeColumn,
    ShapeMark,
)
from emberwound.geometry.shape import bound_shape
from emberwound.plan.solids import joint_and_offset, write_part, write_wall
from emberwound.vocabulary.limits import SHOT_LAYER

if TYPE_CHECKING:
    from collections.abc import Sequence

    from numpy.typing import NDArray

    from emberwound.plan.fighter_plans import FighterPlan
    from emberwound.plan.space import Space
    from emberwound.rulebook.models import Arena, Attack, Book, Fighter


def layers_of(book: Book) -> list[str]:
    """All layers of a book, in the order in which its hurtboxes name them; the place is the bit.

    That of shots which can be destroyed comes last.
    """
    boxes = [box for fighter in book.bodies.values() for box in fighter.hurtboxes.values()]
    shots = [SHOT_LAYER for attack in book.attacks.values() if attack.shot and attack.shot.health]
    return list(dict.fromkeys([*(box.layer for box in boxes), *shots]))


def offset_tables(book: Book, most: int, space: Space) -> tuple[NDArray[np.float64], NDArray[np.int64]]:
    """The hurtboxes of all fighters on their frames."""
    fighters, layers = list(book.bodies.values()), layers_of(book)
    offsets = np.zeros((PartColumn.COLUMNS, max(len(fighters), 1), most))
    marks = np.zeros((PartMark.COLUMNS, max(len(fighters), 1), most), np.int64)
    for column, fighter in enumerate(fighters):
        for part, box in enumerate(fighter.hurtboxes.values()):
            marks[PartMark.LAYER, column, part] = 1 << layers.index(box.layer)
            marks[PartMark.PRIORITY, column, part] = box.priority
            write_part(offsets[:, column, part], marks[:, column, part], box, fighter, space)
    return offsets, marks


def reach_of(fighter: Fighter, space: Space) -> tuple[float, float, float]:
    """How far from the upright through a fighter's feet any of its hurtboxes comes while it just stands.

    And the height of the lowest and the highest; its body counts too.
    """
    joints = [space.offset(offset) for offset in fighter.joints.values()]
    far, low, high = fighter.body.radius, 0.0, fighter.body.height
    for box in fighter.hurtboxes.values():
        for place in (box.from_, box.from_ if box.to is None else box.to):
            joint, offset = joint_and_offset(fighter, place, space)
            ahead, left, up = np.add(offset, joints[joint]) if joint >= 0 else offset
            half = (
                space.offset_box(box.size, box.turn_deg)[0] if box.size is not None else (box.radius or 0.0, 0.0, 0.0)
            )
            wide = hypot(*(each for each in half if isfinite(each)))
            far, low, high = max(far, hypot(ahead, left) + wide), min(low, up - wide), max(high, up + wide)
    return far, low, high


def postures_of(fighter: Fighter) -> tuple[str, ...]:
    """The postures of a fighter by index: the two that all have, and its own."""
    return ("standing", "airborne", *fighter.postures)


def hidden_table(book: Book) -> NDArray[np.int64]:
    """A bit for each hurtbox that is off in a posture, (fighters, postures)."""
    fighters = list(book.bodies.values())
    hidden = np.zeros((max(len(fighters), 1), max((len(postures_of(each)) for each in fighters), default=2)), np.int64)
    for column, fighter in enumerate(fighters):
        for part, box in enumerate(fighter.hurtboxes.values()):
            for index, posture in enumerate(postures_of(fighter)):
                if box.postures is not None and posture not in box.postures:
                    hidden[column, index] |= 1 << part
    return hidden


def multiplier_table(fighters: Sequence[FighterPlan], most: int) -> NDArray[np.float64]:
    """What each hurtbox multiplies a wound by, (fighters, most hurtboxes)."""
    found = np.ones((max(len(fighters), 1), most))
    for fighter in fighters:
        found[fighter.id, : len(fighter.hurtboxes)] = [each.multiplier for each in fighter.hurtboxes]
    return found


class Tracks:
    """Gathers the joints' offsets tick by tick: a row for each posture, and a run of rows for each posed attack."""

    def __init__(self, book: Book, space: Space, tick_rate: int) -> None:
        self._plane = space
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
        """The first row of an attack's poses, and how many follow it; (0, 0) for an attack without poses."""
        if not attack.poses:
            return 0, 0
        first, ticks = len(self._rows), whole_ticks
        for tick in range(ticks + 1):
            row = self._at_rest(fighter)
            for joint in attack.poses:
                row[list(fighter.joints).index(joint)] = self.place(fighter, attack, joint, tick)
            self._rows.append(row)
        return first, ticks

    def place(self, fighter: Fighter, attack: Attack, joint: str, tick: float) -> NDArray[np.float64]:
        """Where a joint is so many ticks into an attack that poses some.

        Places between keys are linear in time; before the first key a joint is at rest, after the last it stays.
        """
        rest = np.array(self._plane.offset(fighter.joints[joint]))
        if joint not in attack.poses:
            return rest
        times = [float(key.at.seconds(self._frame_rate) * self._tick_rate) for key in attack.poses[joint]]
        places = np.array([self._plane.offset(key.offset) for key in attack.poses[joint]])
        if times[0] > 0.0:
            times, places = [0.0, *times], np.vstack([rest, places])
        return np.array([np.interp(tick, times, places[:, axis]) for axis in range(3)])

    def _at_rest(self, fighter: Fighter) -> NDArray[np.float64]:
        row = np.zeros((max(self._joints, 1), 3))
        for index, offset in enumerate(fighter.joints.values()):
            row[index] = self._plane.offset(offset)
        return row

    def table(self) -> NDArray[np.float64]:
        """All rows so far."""
        return np.array(self._rows) if self._rows else np.zeros((1, 1, 3))


def model_table(book: Book, arena: Arena, space: Space) -> NDArray[np.float64]:
    """The bodies of all fighters."""
    models = np.zeros((ModelColumn.COLUMNS, max(len(book.bodies), 1)))
    for column, fighter in enumerate(book.bodies.values()):
        models[ModelColumn.RADIUS, column] = fighter.body.radius
        models[ModelColumn.HEIGHT, column] = fighter.body.height if space.has_heights else 2.0 * fighter.body.radius
        models[ModelColumn.GRAVITY, column] = fighter.gravity_share * arena.gravity if space.has_heights else 0.0
        models[ModelColumn.SPEED, column] = fighter.speed
        models[ModelColumn.DRAG, column] = fighter.drag
        models[ModelColumn.SLIDE_DECELERATION, column] = fighter.slows_by
        models[ModelColumn.RESTITUTION, column] = fighter.restitution
        models[ModelColumn.WEIGHT, column] = fighter.weight
        models[ModelColumn.STEP, column] = fighter.steps_over
    return models


def bounds_table(arena: Arena, space: Space) -> NDArray[np.float64]:
    """Floor and bounds; along an axis that the plane does not have there are none."""
    bounds = np.full(ArenaBound.COLUMNS, inf)
    bounds[ArenaBound.FLOOR] = -inf if arena.floor is None or not space.has_heights else arena.floor
    low, high = space.lift(arena.bounds.low), space.lift(arena.bounds.high)
    for axis, name in enumerate("xyz"):
        known = name in space.axes
        bounds[ArenaBound.LOW + axis] = low[axis] if known else -inf
        bounds[ArenaBound.HIGH + axis] = high[axis] if known else inf
    return bounds


def wall_tables(arena: Arena, space: Space) -> tuple[NDArray[np.float64], NDArray[np.int64]]:
    """The walls as boxes that stand still, in file order."""
    shapes = np.zeros((ShapeColumn.COLUMNS, len(arena.all_walls)))
    marks = np.zeros((ShapeMark.COLUMNS, len(arena.all_walls)), np.int64)
    for column, wall in enumerate(arena.all_walls.values()):
        write_wall(shapes[:, column], wall, space)
        marks[ShapeMark.LAYER, column] = Layer.WALL
        marks[ShapeMark.RANK, column] = column
        bound_shape(shapes, column)
    return shapes, marks


def path_tables(arena: Arena, space: Space) -> tuple[NDArray[np.float64], NDArray[np.int64]]:
    """The points of all paths one after the other, and where each begins, how many it has, and if it closes."""
    points = [space.lift(point) for path in arena.paths.values() for point in path.points]
    paths = np.zeros((3, max(len(arena.paths), 1)), np.int64)
    first = 0
    for column, path in enumerate(arena.paths.values()):
        paths[PathMark.FIRST, column], paths[PathMark.COUNT, column] = first, len(path.points)
        paths[PathMark.CLOSED, column] = path.closed
        first += len(path.points)
    return np.array(points or [(0.0, 0.0, 0.0)]), paths
