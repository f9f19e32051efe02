"""What each column of the arrays of a bout is called, and the codes that columns hold.

Arrays are (columns, capacity): the first place is one of the names below, the second is the index of a body, a shot, a
shape or a volume. Kernels and the bout share these names, so a column is named once. Lengths are the arena's, angles
radians, times ticks unless a line says seconds. Where a column holds "an index + 1", 0 means none.
"""

from __future__ import annotations

from typing import TYPE_CHECKING, Final


class NamedNumbers:
    """An object whose attributes are named whole numbers; compiled kernels read them as constants."""

    def __init__(self, name: str, numbers: dict[str, int]) -> None:
        self.__name__ = name
        self.__dict__.update(numbers)


if TYPE_CHECKING:

    class Constants:
        """A set of named whole numbers."""

else:

    class _MakesNamedNumbers(type):
        def __new__(cls, name: str, bases: tuple[type, ...], body: dict[str, object]) -> object:
            if not bases:
                return super().__new__(cls, name, bases, body)
            return NamedNumbers(f"{body['__module__']}.{name}", {each: body[each] for each in body if each.isupper()})

    class Constants(metaclass=_MakesNamedNumbers):
        """A set of named whole numbers. A class of it is made into one object that holds its numbers.

        Python code reads them in every tick: an attribute of an object takes 3 ns, one of a class 17 ns, and NumPy
        takes twice as long to index by an enum member as by a number.
        """


class BodyColumn(Constants):
    """Columns of `bodies`, real numbers. Vectors take up three columns, directions on the ground two."""

    START: Final = 0  # where it stands at the start of the tick
    END: Final = 3  # where it stands at the end of the tick
    AHEAD: Final = 6  # the unit direction on the ground that it faces
    VELOCITY: Final = 8  # lengths a second
    WISH: Final = 11  # the velocity on the ground that it is asked to have, lengths a second
    PACE: Final = 13  # the share of its speed that it walks with
    LANDING: Final = 14  # seconds into the tick at which it landed, then where
    HEAD_START: Final = 18  # seconds before the tick since which a push moves it, then where it was then
    FRAME_COLUMNS: Final = 22  # the columns up to here are all that kernels move
    CHARGE: Final = 22  # the share of a full charge-up that its attack began with
    SLOWED: Final = 23  # the share of its pace that afflictions leave it
    TRADES_UNTIL: Final = 24  # the exact tick until which an interrupted strike still counts
    STAGGER_LEFT: Final = 25  # the points of damage it can still take without a reaction
    WAITING_PUSH: Final = 26  # the velocity of a push that waits, lengths a second
    COLUMNS: Final = 29


class BodyMark(Constants):
    """Columns of `body_marks`, whole numbers. A free body has 0 in all of them."""

    ID: Final = 0  # counts all bodies that ever were, from 1; 0 is a free body
    OWNER: Final = 1  # its seat's index + 1
    MODEL: Final = 2  # the index of its fighter or prop in the plan
    PRESENCE: Final = 3  # a Presence
    TEAM: Final = 4  # the index of its team
    POSE: Final = 5  # the row of the joint tracks that it had on POSE_TICK
    POSE_LAST: Final = 6  # how many rows of the tracks follow that one
    POSE_TICK: Final = 7
    GROUNDED: Final = 8  # 1 on the ground
    MOVEMENT: Final = 9  # a Movement
    LUNGES: Final = 10  # 1 while a lunge moves it
    PATH: Final = 11  # the index of its path + 1
    PATH_NEXT: Final = 12  # the point of the path that it walks to
    PATH_STEP: Final = 13  # 1 or -1: which way it walks along the path; 0 has not begun
    TURNS_TO_FOES: Final = 14  # 1 when it turns to its nearest foe
    POSTURE: Final = 15  # a Posture, or the index of one of its fighter's
    HIDDEN: Final = 16  # a bit for each hurtbox that its attack turned off
    PROTECTED: Final = 17  # bits of ProtectedBy
    KNOCKBACK: Final = 18  # a Knockback
    LANDED: Final = 19  # 1 when it landed in this tick
    FROZEN_UNTIL: Final = 20  # the tick on which its hit stop ends
    REVIVABLE: Final = 21  # 1 for a corpse that can be revived
    HOLDS: Final = 22  # the column of the body that it holds + 1
    HELD_BY: Final = 23  # the column of the body that holds it + 1
    FRAME_COLUMNS: Final = 24  # the columns up to here are all that kernels read
    ATTACK: Final = 24  # the slot of its attack + 1
    ATTACK_SEQ: Final = 25  # the `seq` of the event that began its attack
    LIFE: Final = 26  # which of its seat's lives, from 1
    DEATH_SEQ: Final = 27  # the `seq` of its death
    ATTACK_TICK: Final = 28  # the tick on which its attack, or the first of its held repeats, began
    REPEAT: Final = 29  # which of the held repeats its attack is, from 0
    NEXT_STAGE: Final = 30  # the stage of its attack that comes next
    CHARGING_SINCE: Final = 31  # the tick + 1 since which it charges up
    GUARD_SINCE: Final = 32  # the tick since which its guard is up
    GUARD_BACK_TICK: Final = 33  # the tick on which its broken guard comes back
    GUARD_DISABLED: Final = 34  # 1 while an affliction keeps its guard down
    RESIZED: Final = 35  # 1 when its pools have other sizes than its fighter's
    STRIKE_OVER: Final = 36  # the tick + 1 on which an interrupted strike is over
    SWING_OPENED: Final = 37  # the tick + 1 within which the first hitbox of its swing came on
    SWING_TOUCHED: Final = 38  # how many victims its swing touched
    PUSH_WAITING: Final = 39  # a PushWaiting
    KNOCKBACK_SEQ: Final = 40  # the `seq` of its last knockback
    ACTION: Final = 41  # a vocabulary.action_state.ActionState
    REACTION: Final = 42  # the index of its reaction + 1
    VARIANT: Final = 43  # the index of the reaction's variant
    REACTION_SINCE: Final = 44  # the tick on which its reaction began
    STAGGER_SINCE: Final = 45  # the tick on which its stagger resistance was last drained
    RAGDOLL: Final = 46  # a RagdollState, or more the longer it is slow
    STAGE: Final = 47  # the index of its stage + 1
    GRAB: Final = 48  # the slot of the attack that it holds another by + 1
    COLUMNS: Final = 49


class Presence(Constants):
    """What a body is to the others; NONE is a free body."""

    NONE: Final = 0
    LIVE: Final = 1
    CORPSE: Final = 2
    PROP: Final = 3


class Movement(Constants):
    """What moves a body: nothing until ordered otherwise, itself, or its host, which placed it."""

    AT_REST: Final = 0
    MOVING: Final = 1
    PLACED: Final = 2


class Knockback(Constants):
    """Whether a push moves a body; one that settles walks again when it is ordered to and is on the ground."""

    NONE: Final = 0
    FLYING: Final = 1
    SETTLING: Final = 2


class PushWaiting(Constants):
    """What a push that waits for the end of a trade or of a hit stop does to the velocity a body then has."""

    NONE: Final = 0
    ADDED: Final = 1
    REPLACING: Final = 2


class ProtectedBy(Constants):
    """Bits: what protects a body from all but what is fatal."""

    ATTACK: Final = 1
    RESPAWN: Final = 2


class RagdollState(Constants):
    """Whether a body is a ragdoll, and moves; one more than MOVING for each tick in a row in which it was slow."""

    NONE: Final = 0
    STILL: Final = 1
    MOVING: Final = 2


class RagdollColumn(Constants):
    """Columns of `ragdolls`, one for each fighter and prop: what its corpse falls as."""

    RADIUS: Final = 0
    STRETCH: Final = 1  # share of a link's length
    COLUMNS: Final = 2


class RagdollMark(Constants):
    """Columns of `ragdoll_marks`: how many points, 0 for none, and which of all links are its own."""

    POINTS: Final = 0
    FIRST_LINK: Final = 1
    LINKS: Final = 2
    COLUMNS: Final = 3


class Posture(Constants):
    """The postures that every body has; those of its fighter follow."""

    STANDING: Final = 0
    AIRBORNE: Final = 1


class ModelColumn(Constants):
    """Columns of `models`, one for each fighter and prop."""

    RADIUS: Final = 0
    HEIGHT: Final = 1
    GRAVITY: Final = 2  # lengths a second, squared
    SPEED: Final = 3  # lengths a second
    DRAG: Final = 4  # share of the velocity a second
    SLIDE_DECELERATION: Final = 5  # lengths a second, squared
    RESTITUTION: Final = 6  # share of the speed kept at a bounce
    WEIGHT: Final = 7
    STEP: Final = 8  # height that it steps up and down as it walks
    COLUMNS: Final = 9


class PathMark(Constants):
    """Columns of `paths`: the first of its points, how many, and whether it closes."""

    FIRST: Final = 0
    COUNT: Final = 1
    CLOSED: Final = 2


class PartColumn(Constants):
    """Columns of shapes on a body, hurtboxes and hitboxes alike, as (ahead, left, up) from the feet or a joint."""

    A: Final = 0  # one end, or the centre of a box
    B: Final = 3  # the other end, or half the sizes of a box
    RADIUS: Final = 6
    AXES: Final = 7  # the three axes of a box
    KIND: Final = 16  # a ShapeKind
    COLUMNS: Final = 17


class PartMark(Constants):
    """Columns of shapes on a body, whole numbers."""

    LAYER: Final = 0  # a bit
    PRIORITY: Final = 1
    JOINT_A: Final = 2  # the joint that A hangs on, -1 for the feet
    JOINT_B: Final = 3
    COLUMNS: Final = 4


class HitboxColumn(Constants):
    """Columns of hitboxes on bodies: those of PartColumn, the swing of one that turns, and the way of a posed one."""

    FROM: Final = 17  # angle at which its swing begins, from ahead towards (LEFT, UP)
    TO: Final = 18  # angle at which its swing ends
    INNER: Final = 19  # where along the arm it begins
    REACH: Final = 20  # where along the arm it ends
    LEFT: Final = 21
    UP: Final = 22
    A_WAY: Final = 23  # how far A comes on the body while it is on
    B_WAY: Final = 26
    COLUMNS: Final = 29


class ShapeKind(Constants):
    """What a shape is, wherever it stands: a hurtbox, a hitbox, a wall or an area; 0 is none."""

    CAPSULE: Final = 1  # round A and B, a sphere where they are one
    BOX: Final = 2  # round A
    TURNING: Final = 3  # a capsule that swings about A
    HALF_SPACE: Final = 4  # all that lies beyond A along the first of AXES


class ShapeColumn(Constants):
    """Columns of `shapes`, the hurtboxes of bodies and the walls, as they lie in this tick."""

    A: Final = 0  # one end at the start of the tick, or the centre of a box
    B: Final = 3  # the other end, or half the sizes of a box
    A_END: Final = 6  # A at the end of the tick
    B_END: Final = 9
    RADIUS: Final = 12
    AXES: Final = 13  # the three axes of a box
    LOW: Final = 22  # the bounds through the whole tick
    HIGH: Final = 25
    KIND: Final = 28  # a ShapeKind
    COLUMNS: Final = 29


class ShapeMark(Constants):
    """Columns of `shape_marks`, whole numbers."""

    OWNER: Final = 0  # its seat's index + 1; 0 is a wall
    RANK: Final = 1  # decides between shapes touched at one instant, the least first
    TEAM: Final = 2
    LAYER: Final = 3  # bits, with those of Layer; 0 is a free shape
    BODY: Final = 4  # the id of its body
    COLUMNS: Final = 5


class Layer(Constants):
    """Bits of layers beside those that hurtboxes name."""

    WALL: Final = 1 << 62  # walls and the floor: what has not this bit passes through both
    PROTECTED: Final = 1 << 61  # hurtboxes of a protected body, whatever layers they are on otherwise
    CORPSE: Final = 1 << 60  # hurtboxes of a corpse that can be revived: what revives touches them


class MayTouch(Constants):
    """Bits: whom an attack may touch besides its foes."""

    OWNER: Final = 1
    TEAM: Final = 2


class Refusal(Constants):
    """Why something that hits leaves a shape alone; each has a reason of the same name."""

    NONE: Final = 0
    TARGET_DEAD: Final = 1
    OTHER_LAYER: Final = 2
    OWN_BODY: Final = 3
    ALLY: Final = 4
    PROTECTED: Final = 5
    TOUCHED_BEFORE: Final = 6


class VolumeColumn(Constants):
    """Columns of `volumes`, hitboxes and areas that are on: those of ShapeColumn, then these.

    What swings about A lies from INNER to REACH along cos(TURN) ONE + sin(TURN) OTHER.
    """

    ONE: Final = 29
    OTHER: Final = 32
    TURN: Final = 35  # angle at the start of the tick
    TURNING: Final = 36  # radians a tick
    TURNED: Final = 37  # fraction of the tick after which it stands still
    INNER: Final = 38
    REACH: Final = 39
    FROM: Final = 40  # the exact tick from which it is on
    TO: Final = 41  # the exact tick at which it goes off
    UNTIL: Final = 42  # the exact tick after which it touches nothing
    SINCE: Final = 43  # the exact tick before which it touches nothing
    COLUMNS: Final = 44


class VolumeMark(Constants):
    """Columns of `volume_marks`, whole numbers. A free volume has the KIND 0."""

    GROUP: Final = 0  # volumes of one group share whom they have touched
    OWNER: Final = 1  # its seat's index + 1; 0 is the arena's
    TEAM: Final = 2
    LAYERS: Final = 3  # bits of the layers it touches
    OPTIONS: Final = 4  # bits of MayTouch
    ENTRY: Final = 5  # the hitbox of the table that it is laid from
    RANK: Final = 6  # its place among those of its group
    COLUMNS: Final = 7


class HazardColumn(Constants):
    """Columns of the table of hazards, checkpoints and pickups: those of ShapeColumn, then this."""

    SPEED: Final = 29  # lengths a second along its path
    COLUMNS: Final = 30


class HazardMark(Constants):
    """Columns of that table, whole numbers. It is on for ON out of each EVERY parts of a tick, first after FIRST."""

    LAYERS: Final = 0
    PATH: Final = 1  # the index of its path + 1
    FIRST: Final = 2
    ON: Final = 3
    EVERY: Final = 4  # 0 is always on
    PARTS: Final = 5  # how many parts are a tick
    COLUMNS: Final = 6


class ShotColumn(Constants):
    """Columns of `shots`: a flight segment, from where a shot left or last bounced."""

    X: Final = 0
    Y: Final = 1
    Z: Final = 2
    VX: Final = 3  # lengths a second
    VY: Final = 4
    VZ: Final = 5
    GRAVITY: Final = 6  # lengths a second, squared
    RADIUS: Final = 7
    DRAG: Final = 8  # share of the velocity a second
    TICK: Final = 9  # the tick in which the segment begins
    BEGIN: Final = 10  # seconds into that tick
    ORIGIN: Final = 11  # where the shot left its muzzle
    RANGE: Final = 14  # 0 is none
    SEGMENT_COLUMNS: Final = 15  # the columns up to here are all that kernels read
    CHARGE: Final = 15  # the share of a full charge-up that it left with
    HEALTH: Final = 16  # points it can still take before it is destroyed; 0 of one that cannot be
    COLUMNS: Final = 17


class ShotMark(Constants):
    """Columns of `shot_marks`, whole numbers."""

    ID: Final = 0  # counts all shots that ever were, from 1; 0 is a free shot
    OWNER: Final = 1  # its seat's index + 1
    TEAM: Final = 2
    LAYERS: Final = 3  # bits of the layers it touches
    OPTIONS: Final = 4  # bits of MayTouch
    PASSED: Final = 5  # how many bodies it has passed through
    SEGMENT_COLUMNS: Final = 6  # the columns up to here are all that kernels read
    FIGHTER: Final = 6  # the index of its owner's fighter in the plan
    SLOT: Final = 7  # the slot of its attack
    RELEASE_SEQ: Final = 8  # the `seq` of its release
    BOUNCES: Final = 9  # bounces left
    PIERCES: Final = 10  # bodies it may still pass through
    STRUCK_BY: Final = 11  # the `seq` of the swing or the release that struck it last
    STRUCK_BEFORE: Final = 12  # that of the one before
    COLUMNS: Final = 13


class ArenaBound(Constants):
    """Places in `bounds`, the planes that end an arena."""

    FLOOR: Final = 0
    LOW: Final = 1
    HIGH: Final = 4
    COLUMNS: Final = 7


class Met(Constants):
    """What a shot or a ray meets; 0 is nothing."""

    SHAPE: Final = 1
    FLOOR: Final = 2
    BOUNDS: Final = 3
    RANGE: Final = 4


class FoundColumn(Constants):
    """Columns of `found`, the contacts of shots: the fraction of the tick, seconds since the segment began, where."""

    FRACTION: Final = 0
    SECONDS: Final = 1
    X: Final = 2
    Y: Final = 3
    Z: Final = 4
    COLUMNS: Final = 5


class FoundMark(Constants):
    """Columns of `found_marks`: which shot met what (a Met), and the shape it met."""

    SHOT: Final = 0
    WHAT: Final = 1
    SHAPE: Final = 2
    COLUMNS: Final = 3


class TouchColumn(Constants):
    """Columns of `touched`, the contacts of volumes: the fraction of the tick, and where."""

    SHARE: Final = 0
    X: Final = 1
    COLUMNS: Final = 4


class TouchMark(Constants):
    """Columns of `touched_marks`: which volume touched which shape."""

    VOLUME: Final = 0
    SHAPE: Final = 1
    COLUMNS: Final = 2


class ReachedColumn(Constants):
    """Columns of what a blast reaches: how far a shape is, and its nearest point."""

    GAP: Final = 0
    X: Final = 1
    COLUMNS: Final = 4


class PointColumn(Constants):
    """Columns of `ragdoll`, the points of ragdolls."""

    PLACE: Final = 0
    VELOCITY: Final = 3  # lengths a second
    COLUMNS: Final = 6
