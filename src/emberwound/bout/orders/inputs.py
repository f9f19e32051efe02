"""What may be given to a bout: each input with its check, which raises BoutError, and its effect on the block.

`INPUT_RULES` has the check and the effect of every input there is. A host's call, an input of a record and one of a
script all go through `give` or `take`.
"""

from __future__ import annotations

from typing import TYPE_CHECKING, NamedTuple

from emberwound.bout.bodies.pools import fill, resize, stats_of
from emberwound.bout.orders import entering, validate
from emberwound.bout.state import queries
from emberwound.bout.state.layout import Asked, Count, HeldBit, SeatColumn, SeatMark, index_of_mark, mark_of
from emberwound.geometry.layout import Posture, ShotMark
from emberwound.vocabulary.errors import BoutError, shortened
from emberwound.vocabulary.limits import SMALLEST
from emberwound.vocabulary.orders import Become, EndShot, Enter, Heal, Hurt, Leave, Order, Place, Push, Resize, SetPool

if TYPE_CHECKING:
    from collections.abc import Callable, Mapping, Sequence

    from emberwound.bout.orders.validate import Fields
    from emberwound.bout.state.world import World
    from emberwound.vocabulary.orders import Input


def _check_order(world: World, seat: int, **asked: object) -> Fields:
    """The fields of an order; what is None stays as it was. Raises BoutError."""
    if all(each is None for each in asked.values()):
        raise BoutError(f"seat {world.names[seat]!r}: empty order; give {', '.join(asked)}")
    if asked["move"] is not None and asked["patrol"] is not None:
        raise BoutError("order: a fighter walks one way at a time; give move or patrol")
    checks: dict[str, Callable[..., object]] = {
        "move": lambda value: validate.move(value, world.plan),
        "aim": lambda value: validate.direction("aim", value, world.plan),
        "facing": lambda value: validate.facing(value, world.plan),
        "press": lambda value: _attack_named(world, seat, value),
        "hold": lambda value: _held_names(world, seat, value),
        "patrol": lambda value: validate.name(f"path of {world.plan.arena}", value, world.plan.path_names),
    }
    fields: Fields = {key: None if value is None else checks[key](value) for key, value in asked.items()}
    if asked["move"] is not None or asked["patrol"] is not None:
        _must_walk(world, seat)
    if asked["patrol"] is not None:
        _must_follow(world, seat, fields["patrol"])
    return fields


def _attack_named(world: World, seat: int, name: object) -> str:
    fighter = world.fighter_of_seat(seat)
    return validate.name(f"attack of {fighter.name}", name, [each.name for each in fighter.attacks])


def _held_names(world: World, seat: int, names: str | Sequence[str]) -> tuple[str, ...]:
    fighter = world.fighter_of_seat(seat)
    known = [each.name for each in fighter.attacks] + list(fighter.postures[2:])
    known += ["guard"] if fighter.guards else []
    try:
        wanted = (names,) if isinstance(names, str) else tuple(names)
    except TypeError:
        raise BoutError(f"hold: give a name or a list of names; got {shortened(names)}") from None
    return tuple(validate.name(f"attack, posture or guard of {fighter.name}", each, known) for each in wanted)


def _must_walk(world: World, seat: int) -> None:
    fighter = world.fighter_of_seat(seat)
    if fighter.table.speed == 0.0:
        raise BoutError(f"seat {world.names[seat]!r}: {fighter.name} has no speed; give it one in the rulebook")


def _must_follow(world: World, seat: int, path: str) -> None:
    plan, fighter = world.plan, world.fighter_of_seat(seat)
    for point in plan.path_points(plan.path_names.index(path)):
        if not queries.stands_at(world, fighter, point):
            raise BoutError(
                f"patrol: nothing is under {validate.said(plan.space.flatten(point))} of path {path!r}, and "
                f"{fighter.name} walks on the ground; lay each point on the floor or a wall, or give it "
                "gravity_share = 0"
            )


def _order(world: World, seat: int, given: Order) -> None:
    """Write an order into the block; the coming tick carries it out."""
    block, space = world.block, world.plan.space
    asked = 0
    if given.move is not None:
        block.seats[SeatColumn.ASKED_MOVE : SeatColumn.ASKED_MOVE + 2, seat] = space.ground(given.move)
        asked |= Asked.MOVE
    if given.aim is not None:
        block.seats[SeatColumn.ASKED_AIM : SeatColumn.ASKED_AIM + 3, seat] = space.lift(given.aim)
        asked |= Asked.AIM
    if given.facing == "foe":
        asked |= Asked.FOE
    elif given.facing is not None:
        block.seats[SeatColumn.ASKED_AHEAD : SeatColumn.ASKED_AHEAD + 2, seat] = space.heading(given.facing)
        asked |= Asked.FACING
    if given.press is not None:
        _press(world, seat, given.press)
    if given.hold is not None:
        block.seat_marks[SeatMark.ASKED_HOLD, seat] = _held_bits(world, seat, given.hold)
        asked |= Asked.HOLD
    if given.patrol is not None:
        block.seat_marks[SeatMark.ASKED_PATH, seat] = mark_of(world.plan.path_names.index(given.patrol))
        asked |= Asked.PATH
    before = int(block.seat_marks[SeatMark.ORDERS_PENDING, seat])
    for mine, other in (
        (Asked.FOE, Asked.FACING),
        (Asked.FACING, Asked.FOE),
        (Asked.MOVE, Asked.PATH),
        (Asked.PATH, Asked.MOVE),
    ):
        if asked & mine:
            before &= ~other
    block.seat_marks[SeatMark.ORDERS_PENDING, seat] = before | asked
    world.counts[Count.ORDERS_PENDING] = 1


def _press(world: World, seat: int, attack: str) -> None:
    marks = world.block.seat_marks[:, seat]
    slot = world.fighter_of_seat(seat).slot(attack)
    older = index_of_mark(int(marks[SeatMark.PRESS]))
    if older >= 0 and older != slot:
        marks[SeatMark.DROPPED_PRESSES] |= 1 << older
    if slot is not None:
        marks[SeatMark.DROPPED_PRESSES] &= ~(1 << slot)
        marks[SeatMark.PRESS] = mark_of(slot)


def _held_bits(world: World, seat: int, names: tuple[str, ...]) -> int:
    """What is held, as a bit a slot, a posture, and the guard."""
    fighter = world.fighter_of_seat(seat)
    slots = [fighter.slot(name) for name in names]
    postures = [fighter.postures.index(name) for name in names if name in fighter.postures]
    bits = [slot for slot in slots if slot is not None] + [HeldBit.POSTURE + index for index in postures]
    return sum(1 << bit for bit in set(bits)) | (HeldBit.GUARD if "guard" in names else 0)


class InputRule(NamedTuple):
    """The fields of an input as a host asks for them, checked; and what it does when it is given."""

    check: Callable[..., Fields]
    effect: Callable[..., None]


def give(world: World, kind: type[Input], seat: int, /, **asked: object) -> Input:
    """Check what a host asks of a seat and take it; the input. Raises BoutError for what cannot be."""
    fields = INPUT_RULES[kind].check(world, seat, **asked)
    if "seat" not in fields:
        fields["seat"] = world.names[seat]
    given = kind(tick=world.counts[Count.TICK], source="host", **fields)
    take(world, given)
    return given


def take(world: World, given: Input) -> None:
    """Take one input; its names and numbers must fit the plan."""
    seat = world.names.index_of(given.seat) if given.seat in world.names else -1
    INPUT_RULES[type(given)].effect(world, seat, given)
    world.inputs.append(given)


def _wait(world: World, _seat: int, _given: Input) -> None:
    """The coming tick does it."""
    world.wake(world.counts[Count.TICK])


def _living(world: World, seat: int, doing: str) -> int:
    """The living body. Raises BoutError when there is none."""
    body = queries.body_of(world, seat)
    if body is None:
        then = "wait for its respawn"
        if world.block.seat_marks[SeatMark.ELIMINATED, seat]:
            restarts = world.plan.on_elimination == "restart"
            then = "wait for the restart" if restarts else "it has no life left, and none comes"
        raise BoutError(f"seat {world.names[seat]!r} has no living body to {doing}; {then}")
    return body


def _check_place(
    world: World, seat: int, *, position: object, velocity: object, teleport: object, grounded: object, posture: object
) -> Fields:
    plan = world.plan
    return {
        "position": validate.place("place", position, plan),
        "velocity": None if velocity is None else validate.point("velocity", velocity, plan),
        "teleport": validate.truth("teleport", teleport),
        "grounded": None if grounded is None else validate.truth("grounded", grounded),
        "posture": None if posture is None else _posture_named(world, seat, posture),
    }


def _posture_named(world: World, seat: int, name: object) -> str:
    fighter = world.fighter_of_seat(seat)
    known = [each for index, each in enumerate(fighter.postures) if index != Posture.AIRBORNE]
    return validate.name(f"posture of {fighter.name}", name, known)


def _place(world: World, seat: int, given: Place) -> None:
    block, space = world.block, world.plan.space
    block.seats[SeatColumn.ASKED_PLACE : SeatColumn.ASKED_PLACE + 3, seat] = space.lift(given.position)
    block.seats[SeatColumn.ASKED_VELOCITY : SeatColumn.ASKED_VELOCITY + 3, seat] = (
        (0.0, 0.0, 0.0) if given.velocity is None else space.lift(given.velocity)
    )
    asked = int(block.seat_marks[SeatMark.ORDERS_PENDING, seat]) | Asked.PLACE
    if given.teleport:
        block.seats[SeatColumn.ASKED_START : SeatColumn.ASKED_START + 3, seat] = space.lift(given.position)
        asked |= Asked.TELEPORT
    marks = block.seat_marks[:, seat]
    marks[SeatMark.ORDERS_PENDING] = asked
    marks[SeatMark.ASKED_GROUNDED] = 0 if given.grounded is None else mark_of(int(given.grounded))
    if given.posture is not None:
        marks[SeatMark.ASKED_POSTURE] = mark_of(world.fighter_of_seat(seat).postures.index(given.posture))
    world.counts[Count.ORDERS_PENDING] = 1


def _pool_index(world: World, seat: int, pool: str) -> int:
    fighter = world.fighter_of_seat(seat)
    names = [each.name for each in fighter.stats.pools]
    return names.index(validate.name(f"pool of {fighter.name}", pool, names))


def _check_resize(world: World, seat: int, *, pool: str, maximum: float) -> Fields:
    _pool_index(world, seat, pool)
    size = validate.amount("maximum", maximum)
    for bar in world.fighter_of_seat(seat).bars:
        if bar.pool_name == pool:
            validate.parts("maximum", size, bar)
    _living(world, seat, "resize a pool of")
    return {"pool": pool, "maximum": size}


def _resize(world: World, seat: int, given: Resize) -> None:
    body = queries.body_of(world, seat)
    if body is not None:
        resize(world, body, _pool_index(world, seat, given.pool), given.maximum)


def _check_set_pool(world: World, seat: int, *, pool: str, value: float) -> Fields:
    index = _pool_index(world, seat, pool)
    body = _living(world, seat, "set a pool of")
    most = stats_of(world, body).pools[index].maximum
    least = SMALLEST if index == world.fighter_of_seat(seat).stats.vital else 0.0
    return {"pool": pool, "value": validate.between("value", value, least, most)}


def _set_pool(world: World, seat: int, given: SetPool) -> None:
    body = queries.body_of(world, seat)
    if body is not None:
        fill(world, body, _pool_index(world, seat, given.pool), given.value)


def _check_push(world: World, seat: int, *, velocity: Sequence[float], mode: str) -> Fields:
    _living(world, seat, "push")
    return {
        "velocity": validate.point("velocity", velocity, world.plan),
        "mode": validate.name("mode", mode, ("set", "add")),
    }


def _check_hurt(world: World, seat: int, **asked: object) -> Fields:
    _living(world, seat, "hurt")
    return _harm(world, **asked)


def _check_heal(world: World, seat: int, **asked: object) -> Fields:
    _living(world, seat, "heal")
    return _harm(world, **asked)


def _harm(world: World, *, points: object, kind: object, name: object, by: object) -> Fields:
    return {
        "points": validate.amount("points", points),
        "kind": validate.name("kind", kind, world.plan.kinds),
        "name": validate.called("name", name),
        "by": None if by is None else validate.name("seat", getattr(by, "name", by), list(world.names)),
    }


def _check_end_shot(world: World, _seat: int, *, shot: int) -> Fields:
    column = queries.column_of_shot(world, shot)
    return {"seat": world.names[index_of_mark(int(world.block.shot_marks[ShotMark.OWNER, column]))], "shot": shot}


INPUT_RULES: Mapping[type[Input], InputRule] = {
    Enter: InputRule(entering.check, entering.enter),
    Order: InputRule(_check_order, _order),
    Place: InputRule(_check_place, _place),
    Resize: InputRule(_check_resize, _resize),
    SetPool: InputRule(_check_set_pool, _set_pool),
    Push: InputRule(_check_push, _wait),
    Hurt: InputRule(_check_hurt, _wait),
    Heal: InputRule(_check_heal, _wait),
    EndShot: InputRule(_check_end_shot, _wait),
    Leave: InputRule(entering.check_leave, entering.leave),
    Become: InputRule(entering.check_become, entering.become),
}
