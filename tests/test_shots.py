"""What flies: where it starts, which way, what it touches and passes, and how it ends, in all three planes."""

from __future__ import annotations

from itertools import pairwise
from math import atan2, cos, degrees, exp, hypot, radians, sin
from typing import TYPE_CHECKING, Any

import pytest

import emberwound as ew
from conftest import only, steps
from emberwound import Reason, events

if TYPE_CHECKING:
    from collections.abc import Sequence

ARENAS = {
    "side": "[arenas.field]\nfloor = 0\nbounds = { low = [-50, -1], high = [50, 50] }",
    "top": '[arenas.field]\nspace = "top"\nbounds = { low = [-50, -50], high = [50, 50] }',
    "3d": '[arenas.field]\nspace = "3d"\nfloor = 0\nbounds = { low = [-50, -50, -1], high = [50, 50, 50] }',
}
BOOK = """
[settings]
tick_rate = 60
[kinds.glass]
[fighters.caster]
attacks = ["cast"]
speed = 4
body = {{ radius = 0.3, height = 1.8 }}
pools.health = {{ max = 100, vital = true }}
joints.hand = [0.5, 1.0, 0.25]
[fighters.caster.hurtboxes]
chest = {{ from = [0, 0.4], to = [0, 1.4], radius = 0.3 }}
brow = {{ from = [0, 1.0], radius = 0.3, multiplier = 2, priority = 1, layer = "brow" }}
plate = {{ from = [0.5, 1.0], size = [0.2, 0.6, 0.6], layer = "plate", multiplier = 0.5 }}
[attacks.cast]
kind = "glass"
damage = 10
{attack}
{carrier}
{arena}
{walls}
"""


def field(space: str = "side", carrier: str = "", attack: str = "", walls: str = "", tick_rate: int = 60) -> ew.Bout:
    """A bout in which carriers may be anything; `carrier` is the inside of a shot, or a whole ray table."""
    shot = carrier if carrier.startswith("ray") else f"shot = {{ radius = 0.05, {carrier} }}"
    text = BOOK.format(attack=attack, carrier=shot, arena=ARENAS[space], walls=walls)
    return ew.Bout(ew.Rulebook.parse(text), arena="field", tick_rate=tick_rate, seed=4)


def cast(bout: ew.Bout, seat: ew.Seat, seconds: float = 3, **order: Any) -> list[events.AnyEvent]:
    seat.order(press="cast", **order)
    return steps(bout, round(seconds * bout.tick_rate))


def ends(found: Sequence[events.Event]) -> list[tuple[Reason, str | None]]:
    return [(event.reason, event.seat or event.wall) for event in only(events.ShotEnded, found)]


STRAIGHT = "speed = 20, gravity_share = 0, muzzle = [0.3, 1.0]"


@pytest.mark.parametrize("facing", [0, 37, 90, 200, -45])
@pytest.mark.parametrize("space", ["top", "3d"])
def test_the_muzzle_and_the_aim_turn_with_the_facing(space: str, facing: float) -> None:
    bout = field(space, 'speed = 10, gravity_share = 0, muzzle = "hand", direction = "facing", lift_deg = 20')
    where = (3, 4) if space == "top" else (3, 4, 0)
    amber = bout.enter("caster", at=where, facing=facing)
    (released,) = only(events.Released, cast(bout, amber, 0.1))
    turn = radians(facing)
    hand = (3 + 0.5 * cos(turn) - 0.25 * sin(turn), 4 + 0.5 * sin(turn) + 0.25 * cos(turn))
    assert released.position[:2] == pytest.approx(hand)
    level = 10 if space == "top" else 10 * cos(radians(20))
    assert released.velocity and released.velocity[:2] == pytest.approx((level * cos(turn), level * sin(turn)))
    if space == "3d":
        assert (released.position[2], released.velocity[2]) == pytest.approx((1.0, 10 * sin(radians(20))))
    assert amber.facing == pytest.approx(facing if facing <= 180 else facing - 360)


@pytest.mark.parametrize("space", ["side", "top", "3d"])
@pytest.mark.parametrize("tick_rate", [30, 60, 240])
def test_the_same_fighters_meet_in_every_plane(space: str, tick_rate: int) -> None:
    bout = field(space, STRAIGHT, tick_rate=tick_rate)
    tail = (0.0,) if space == "3d" else ()
    amber = bout.enter("caster", seat="amber", at=(0, 0, *tail))
    bout.enter("caster", seat="post", at=(10, 0, *tail))
    (wounded,) = only(events.Wounded, cast(bout, amber, aim=(1, 0, *tail)))
    assert (wounded.seat, wounded.hurtbox, wounded.amount) == ("post", "brow", 20), "the higher priority of two at once"
    assert wounded.time == pytest.approx((10 - 0.3 - 0.05 - 0.3) / 20, abs=1e-6)
    bout.seat("post").order(facing="left" if space == "side" else 180)
    found = cast(bout, amber)
    assert [event.hurtbox for event in only(events.Wounded, found)] == ["plate"]


@pytest.mark.parametrize("tick_rate", [30, 60, 144, 240])
def test_drag_slows_a_shot_by_its_law(tick_rate: int) -> None:
    bout = field("top", "speed = 12, drag = 0.8, life = 2, muzzle = [0, 1]", tick_rate=tick_rate)
    amber = bout.enter("caster", at=(0, 0))
    (ended,) = only(events.ShotEnded, cast(bout, amber, aim=(0, 1)))
    assert ended.reason is Reason.LIFE_OVER
    assert ended.position == pytest.approx((0, 12 / 0.8 * (1 - exp(-0.8 * 2))), rel=1e-12)


@pytest.mark.parametrize("tick_rate", [30, 60, 144, 240])
@pytest.mark.parametrize("gravity_share", [0, 1])
def test_a_range_ends_a_shot_at_its_distance_from_the_muzzle(tick_rate: int, gravity_share: float) -> None:
    bout = field(
        "side", f"speed = 12, range = 5, gravity_share = {gravity_share}, muzzle = [0, 10]", tick_rate=tick_rate
    )
    amber = bout.enter("caster", at=(0, 0))
    (ended,) = only(events.ShotEnded, cast(bout, amber, aim=(1, 0.3)))
    assert ended.reason is Reason.RANGE_OVER
    assert hypot(ended.position[0], ended.position[1] - 10) == pytest.approx(5, abs=1e-9)


WALL = "[arenas.field.walls]\npier = { at = [10, 2], size = [1, 4] }"


@pytest.mark.parametrize("tick_rate", [30, 60, 144, 240])
def test_shots_end_at_walls_bounce_off_them_or_pass(tick_rate: int) -> None:
    found = cast(bout := field("side", STRAIGHT, walls=WALL, tick_rate=tick_rate), bout.enter("caster", at=(0, 0)))
    assert ends(found) == [(Reason.WALL, "pier")]
    assert only(events.ShotEnded, found)[0].time == pytest.approx((9.5 - 0.05 - 0.3) / 20)
    found = cast(
        bout := field("side", f'{STRAIGHT}, on_wall = "pass"', walls=WALL, tick_rate=tick_rate),
        bout.enter("caster", at=(0, 0)),
    )
    assert ends(found) == [(Reason.OUT_OF_BOUNDS, None)]
    bouncing = f'{STRAIGHT}, life = 3, on_wall = "bounce", bounce = {{ restitution = 0.5, times = 2 }}'
    twice = WALL + "\ngate = { at = [-10, 2], size = [1, 4] }"
    found = cast(bout := field("side", bouncing, walls=twice, tick_rate=tick_rate), bout.enter("caster", at=(0, 0)), 4)
    bounces = only(events.Bounced, found)
    way, first = 9.5 - 0.05, (9.5 - 0.05 - 0.3) / 20
    assert [(event.wall, event.bounces_left) for event in bounces] == [("pier", 1), ("gate", 0)]
    assert [event.time for event in bounces] == pytest.approx([first, first + 2 * way / 10], abs=1e-9)
    assert [event.velocity[0] for event in bounces] == pytest.approx([-10, 5])
    (ended,) = only(events.ShotEnded, found)
    assert ended.reason is Reason.LIFE_OVER
    assert ended.position[0] == pytest.approx(-way + 5 * (3 - bounces[1].time))


@pytest.mark.parametrize("tick_rate", [30, 60, 144, 240])
def test_a_shot_bounces_along_the_floor_by_the_textbook(tick_rate: int) -> None:
    carrier = 'speed = 6, muzzle = [0, 2.05], on_wall = "bounce", bounce = { restitution = 0.8, times = 3 }'
    bout = field("side", carrier, tick_rate=tick_rate)
    found = cast(bout, bout.enter("caster", at=(0, 0)), 4, aim=(1, 0))
    time, fall, across, place = 0.0, (2 * 9.81 * 2.0) ** 0.5, 6.0, 0.0
    expected = []
    for bounce in range(4):
        flight = fall / 9.81 if bounce == 0 else 2 * fall / 9.81
        time, place = time + flight, place + across * flight
        expected.append((time, place))
        fall, across = 0.8 * fall, 0.8 * across
    (ended,) = only(events.ShotEnded, found)
    told = [
        *((event.time, event.position[0]) for event in only(events.Bounced, found)),
        (ended.time, ended.position[0]),
    ]
    assert told == [pytest.approx(each, abs=1e-9) for each in expected]
    assert ends(found) == [(Reason.FLOOR, None)]


def test_two_bounces_in_one_tick_keep_their_order() -> None:
    narrow = "[arenas.field.walls]\na = { at = [1.5, 1], size = [1, 1] }\nb = { at = [-1.5, 1], size = [1, 1] }"
    carrier = (
        'speed = 900, gravity_share = 0, muzzle = [0, 1], on_wall = "bounce", bounce = { restitution = 1, times = 12 }'
    )
    bout = field("side", carrier, walls=narrow)
    found = cast(bout, bout.enter("caster", at=(0, 0)), 0.1, aim=(1, 0))
    bounces = only(events.Bounced, found)
    assert [event.wall for event in bounces] == ["a", "b"] * 6
    gaps = [b.time - a.time for a, b in pairwise(bounces)]
    assert gaps == pytest.approx([1.9 / 900] * 11, abs=1e-9)
    assert {event.tick for event in bounces} == {0, 1}


@pytest.mark.parametrize(("pierce", "victims"), [(0, 1), (1, 2), (2, 3), (5, 3)])
@pytest.mark.parametrize("speed", [20, 5000])
@pytest.mark.parametrize("kind", ["shot", "ray"])
def test_what_pierces_wounds_each_victim_once(pierce: int, victims: int, speed: float, kind: str) -> None:
    carrier = f"speed = {speed}, gravity_share = 0, muzzle = [0.3, 1], pierce = {pierce}"
    if kind == "ray":
        carrier = f"ray = {{ range = 40, muzzle = [0.3, 1], pierce = {pierce} }}"
    bout = field("side", carrier)
    amber = bout.enter("caster", seat="amber", at=(0, 0))
    for number in range(3):
        bout.enter("caster", seat=f"post-{number}", at=(5 + 4 * number, 0))
    found = cast(bout, amber)
    assert [event.seat for event in only(events.Wounded, found)] == [f"post-{number}" for number in range(victims)]
    (ended,) = only(events.ShotEnded, found)
    assert ended.reason is (
        Reason.HIT if pierce < victims else Reason.OUT_OF_BOUNDS if kind == "shot" else Reason.RANGE_OVER
    )


@pytest.mark.parametrize("kind", ["shot", "ray"])
@pytest.mark.parametrize(
    ("attack", "wounded"),
    [
        ("", ["tide"]),
        ("hits_allies = true", ["friend"]),
        ("hits_owner = true", ["amber"]),
        ('layers = ["plate"]', ["tide"]),
        ("hits_owner = true\nhits_allies = true", ["amber"]),
    ],
)
def test_owner_and_team_are_left_alone_unless_asked_for(kind: str, attack: str, wounded: list[str]) -> None:
    carrier = "speed = 20, gravity_share = 0, muzzle = [0, 1]"
    bout = field("side", "ray = { range = 40, muzzle = [0, 1] }" if kind == "ray" else carrier, attack)
    amber = bout.enter("caster", seat="amber", at=(0, 0), team="lamps")
    bout.enter("caster", seat="friend", at=(5, 0), team="lamps")
    bout.enter("caster", seat="tide", at=(10, 0))
    found = cast(bout, amber)
    assert [event.seat for event in only(events.Wounded, found)] == wounded
    if attack.startswith("layers"):
        assert only(events.Wounded, found)[0].hurtbox == "plate"


@pytest.mark.parametrize("kind", ["shot", "ray"])
def test_what_is_born_in_a_wall_ends_there_and_says_so(kind: str) -> None:
    bouncing = (
        'speed = 20, gravity_share = 0, muzzle = [0.5, 1], on_wall = "bounce", bounce = { restitution = 1, times = 9 }'
    )
    carrier = "ray = { range = 40, muzzle = [0.5, 1] }" if kind == "ray" else bouncing
    bout = field("side", carrier, walls="[arenas.field.walls]\npier = { at = [0.8, 2], size = [1, 4] }")
    found = cast(bout, bout.enter("caster", at=(0, 0)), 0.2)
    assert ends(found) == [(Reason.MUZZLE_IN_WALL, "pier")]
    assert only(events.ShotEnded, found)[0].position == (0.5, 1)


def test_a_ray_stops_at_walls_and_the_nearest_hurtbox_wins() -> None:
    ray = "ray = { range = 30, muzzle = [0.3, 1] }"
    found = cast(bout := field("side", ray, walls=WALL), bout.enter("caster", at=(0, 0)))
    assert ends(found) == [(Reason.WALL, "pier")]
    assert only(events.ShotEnded, found)[0].position == pytest.approx((9.5, 1))
    bout = field("side", ray, walls=WALL)
    amber = bout.enter("caster", seat="amber", at=(0, 0))
    bout.enter("caster", seat="behind", at=(20, 0))
    bout.enter("caster", seat="before", at=(5, 0), facing="left")
    found = cast(bout, amber, 0.1)
    (wounded,) = only(events.Wounded, found)
    assert (wounded.seat, wounded.hurtbox) == ("before", "plate")
    assert wounded.position == pytest.approx((4.4, 1))
    assert [event.tick for event in found] == [0] * len(found), "a ray is instant"
    bout = field("side", ray.replace("[0.3, 1]", "[0.3, 1], on_wall = 'pass'"), walls=WALL)
    bout.enter("caster", seat="behind", at=(20, 0))
    found = cast(bout, bout.enter("caster", at=(0, 0)), 0.1)
    assert ends(found) == [(Reason.HIT, "behind")]


@pytest.mark.parametrize("space", ["side", "top", "3d"])
def test_a_fan_is_even_and_a_spread_is_seeded_and_bounded(space: str) -> None:
    carrier = "speed = 10, gravity_share = 0, muzzle = [0, 1], count = 5, fan_deg = 40"
    bout = field(space, carrier)
    amber = bout.enter("caster", at=(0, 0) if space != "3d" else (0, 0, 0))
    found = only(events.Released, cast(bout, amber, 0.1, aim=(1, 0) if space != "3d" else (1, 0, 0)))
    angles = [degrees(atan2(event.velocity[1], event.velocity[0])) for event in found if event.velocity]
    assert angles == pytest.approx([-20, -10, 0, 10, 20])
    spread = "speed = 10, gravity_share = 0, muzzle = [0, 1], spread_deg = 6"

    def velocities(seed: int) -> list[tuple[float, ...]]:
        again = field(space, spread)
        again = ew.Bout(again.rules, arena="field", seed=seed)
        seat = again.enter("caster", at=(0, 0) if space != "3d" else (0, 0, 0))
        found = []
        for _ in range(200):
            seat.order(press="cast", aim=(1, 0) if space != "3d" else (1, 0, 0))
            found += only(events.Released, again.step())
        return [event.velocity for event in found if event.velocity]

    one = velocities(1)
    assert one == velocities(1) != velocities(2)
    aside = [degrees(atan2(hypot(*velocity[1:]), velocity[0])) for velocity in one]
    assert 5 < max(aside) <= 6 + 1e-9
    assert len(set(one)) == 200
    means = [sum(velocity[axis] for velocity in one) / 200 for axis in range(1, len(one[0]))]
    assert all(abs(mean) < 0.15 for mean in means), "no side is favoured"


def test_luck_goes_by_names_and_not_by_what_else_there_is() -> None:
    book = """
[kinds.glass]
{cues}
[fighters.caster]
attacks = [{attacks}]
body = {{ radius = 0.3, height = 1.8 }}
pools.health = {{ max = 90, vital = true }}
hurtboxes.chest = {{ from = [0, 0.4], to = [0, 1.4], radius = 0.3 }}
[props.crate]
body = {{ radius = 0.3, height = 0.5 }}
hurtboxes.boards = {{ from = [0, 0.25], to = [0, 1], radius = 0.25 }}
[attacks.cast]
shot = {{ speed = 9, radius = 0.1, spread_deg = 8, muzzle = [0.4, 1] }}
[attacks.other]
shot = {{ speed = 9, radius = 0.1, spread_deg = 8, muzzle = [0.4, 1] }}
[arenas.field]
bounds = {{ low = [-90, 0], high = [90, 90] }}
{props}
"""
    hum = '[cues.{0}]\non = ["released"]\npitch_spread = 0.5\nseconds = 0.01\n'

    def luck(
        cues: str = hum.format("hum"), attacks: str = '"cast", "other"', props: str = "", *, first: bool = False
    ) -> tuple[list[tuple[float, ...] | None], list[float]]:
        bout = ew.Bout(ew.Rulebook.parse(book.format(cues=cues, attacks=attacks, props=props)), arena="field", seed=5)
        if first:
            bout.enter("caster", at=(5, 0), seat="early").order(press="cast")
        seat = bout.enter("caster", at=(0, 0), seat="amber")
        found = []
        for press in ("cast", "cast", "other", "cast", "other"):
            seat.order(press=press if press in attacks else None, aim=(1, 0))
            found += steps(bout, 2)
        shots = [
            event.velocity for event in only(events.Released, found) if event.by == "amber" and event.attack == "cast"
        ]
        hums = [cue.pitch for cue in only(events.Cue, found) if cue.cue == "hum" and cue.by == "amber"]
        return shots, hums

    shots, hums = luck()
    assert len(set(shots)) == 3 and len(set(hums)) == 5
    assert luck(props='props.box = { prop = "crate", at = [-9, 0] }') == (shots, hums)
    assert luck(first=True)[0] == shots
    assert luck(attacks='"other", "cast"') == (shots, hums)
    assert luck(attacks='"cast"')[0] == shots
    assert luck(cues=hum.format("buzz") + hum.format("hum")) == (shots, hums)


def test_a_shot_takes_its_share_of_its_owners_velocity() -> None:
    bout = field("side", "speed = 10, velocity_share = 0.5, gravity_share = 0, muzzle = [0, 1]")
    amber = bout.enter("caster", at=(0, 0))
    amber.order(move=1)
    steps(bout, 10)
    (released,) = only(events.Released, cast(bout, amber, 0.1))
    assert released.velocity == pytest.approx((12, 0))
    amber.place((5, 0), velocity=(-8, 2))
    bout.step()
    (released,) = only(events.Released, cast(bout, amber, 0.1, aim=(1, 0)))
    assert released.velocity == pytest.approx((6, 1))


@pytest.mark.parametrize("space", ["side", "top", "3d"])
def test_everything_mirrored_gives_the_mirrored_bout(space: str) -> None:
    def told(side: float) -> list[tuple[Any, ...]]:
        walls = "[arenas.field.walls]\npier = { at = [AT, 2], size = [1, 4], turn_deg = TURN }"
        if space == "3d":
            walls = walls.replace("[AT, 2]", "[AT, 2, 1]").replace("[1, 4]", "[1, 4, 3]")
        walls = walls.replace("AT", str(side * 14)).replace("TURN", str(side * 12))
        carrier = "speed = 12, drag = 0.1, velocity_share = 1, muzzle = [0.5, 1.0], on_wall = 'bounce', "
        carrier += "bounce = { restitution = 0.9, times = 4 }"
        bout = field(space, carrier, "hits_owner = true", walls)
        tail = (0.0,) if space == "3d" else ()
        amber = bout.enter("caster", seat="amber", at=(0, 0, *tail), facing="right" if side > 0 else "left")
        bout.enter("caster", seat="post", at=(side * 8, 0, *tail), facing="left" if side > 0 else "right")
        found = []
        for up in (0.1, 0.4, 0.8, 1.5):
            aim = {"side": (side, up), "top": (side, up), "3d": (side, up, up)}[space]
            amber.order(move=side * 0.5 if space == "side" else (side * 0.5, 0.1), aim=aim)
            found += cast(bout, amber, 1.5)
        return [
            (type(event).__name__, event.time, *(event.position[0] * side, *event.position[1:]))
            for event in found
            if isinstance(event, events.Released | events.Bounced | events.Wounded | events.ShotEnded)
        ]

    right, left = told(1.0), told(-1.0)
    assert len(right) > 8
    assert [each[0] for each in right] == [each[0] for each in left]
    for one, other in zip(right, left, strict=True):
        assert one[1:] == pytest.approx(other[1:], abs=1e-9)


def test_full_storage_refuses_aloud_and_is_recycled() -> None:
    text = BOOK.format(
        attack="", carrier=f"shot = {{ radius = 0.05, {STRAIGHT}, life = 0.5 }}", arena=ARENAS["side"], walls=""
    )
    bout = ew.Bout(ew.Rulebook.parse(text.replace("tick_rate = 60", "max_shots = 8")), arena="field")
    amber = bout.enter("caster", at=(0, 0))
    sizes, fired, refused = [], 0, 0
    for _ in range(3000):
        amber.order(press="cast")
        found = bout.step()
        fired += len(only(events.Released, found))
        refused += sum(event.reason is Reason.SHOTS_FULL for event in only(events.OrderRefused, found))
        sizes.append(len(bout.snapshot().state))
    assert fired + refused == 3000 and fired > 700
    assert bout.view().shot_count <= 8
    assert max(sizes[500:]) == max(sizes[:500]), "columns are used again"


@pytest.mark.parametrize("size", [0.02, 0.2, 4])
def test_a_curved_shot_meets_a_small_box_where_its_path_does_in_the_plane(size: float) -> None:
    """x = u t and z = 1 + w t - g t^2 / 2, up to the face of the box; the axis that is not there counts for nothing."""
    carrier = "speed = 12, muzzle = [0, 1], direction = 'facing', lift_deg = 20"
    bout = field("side", carrier, walls=f"walls.b = {{ at = [8, 9], size = [{size}, 30] }}")
    found = cast(bout, bout.enter("caster", at=(0, 0)), 2)
    (ended,), (released,) = only(events.ShotEnded, found), only(events.Released, found)
    assert released.velocity and ended.wall == "b"
    (u, w), radius = released.velocity, 0.05
    t = (8 - size / 2 - radius) / u
    off = 1e-6 * (radius + size / 2)
    assert ended.position == pytest.approx((u * t, 1 + w * t - 9.81 * t * t / 2), abs=off)


def test_a_ray_that_meets_a_hurtbox_and_a_wall_at_one_place_hits_the_hurtbox() -> None:
    bout = field(
        "side", "ray = { range = 40, muzzle = [0.3, 1] }", walls="walls.pier = { at = [5.5, 2], size = [1, 4] }"
    )
    rules = ew.Rulebook.of(bout.rules).edit(
        {"fighters.caster.hurtboxes": {"plate": {"from": [0, 1], "size": [1, 1, 1], "layer": "plate"}}}
    )
    bout = ew.Bout(rules, arena="field")
    amber = bout.enter("caster", seat="amber", at=(-3, 0))
    bout.enter("caster", seat="reed", at=(-6, 0)).place((5.5, 0), teleport=True)
    bout.step()
    (wounded,) = only(events.Wounded, cast(bout, amber, 0.2))
    assert wounded.seat == "reed" and wounded.position[0] == pytest.approx(5.0)
