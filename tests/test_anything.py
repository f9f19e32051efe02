"""Random rules, random fighters, random orders: what must hold whatever anybody writes or presses."""

from __future__ import annotations

import random
from typing import Any

import numpy as np
import pytest

import emberwound as ew
from emberwound import events
from emberwound.chronicle.files import to_lines

LAUNCH = (
    "muzzle = {muzzle}, spread_deg = {spread}, count = {count}, fan_deg = {fan}, pierce = {pierce}, "
    'direction = "{direction}", on_wall = "{on_wall}"'
)


def attack(luck: random.Random, name: str) -> str:
    """An attack of any sort."""
    kind = luck.choice(["shot", "ray", "none"])
    on_wall = luck.choice(["end", "pass", *(["bounce"] if kind == "shot" else [])])
    launch = LAUNCH.format(
        muzzle=luck.choice(["[0.5, 1.0]", "[0, 0]", '"hand"', "[-3, 0.2, 1]"]),
        spread=luck.choice([0, 5, 180]),
        count=luck.choice([1, 1, 3]),
        fan=luck.choice([0, 30, 360, -90]),
        pierce=luck.choice([0, 1, 5]),
        direction=luck.choice(["aim", "facing"]),
        on_wall=on_wall,
    )
    points = luck.choice(["damage = 1", "damage = 7", "damage = 0", "damage = 1e8", "heal = 5"])
    lines = [
        f'[attacks.{name}]\nkind = "salt"',
        "" if kind == "none" else points,
        f"windup = {luck.choice([0, 0.1])}\nrecovery = {luck.choice([0, 0.2])}",
        f"releases = {luck.choice(['[0]', '[0, 0.05, 0.3]'])}",
        luck.choice(["", "rate = 7", "cooldown = 0.3"]),
        luck.choice(["", "while = []", 'while = ["moving", "guarding"]']),
        luck.choice(["", "cost = { oil = 3 }"]),
        luck.choice(["", "charge = { seconds = 0.3, damage = 2, speed = 3 }"]),
        luck.choice(["", "own_team = true", "owner = true"]),
        luck.choice(["", 'afflicts = ["burning", "dazed"]']),
        luck.choice(["", "falloff = { near = 1, far = 9 }"]),
        luck.choice(["", "lunge = { speed = 9, lift_deg = 50, seconds = 0.2, at = 0.05 }", "lunge = { speed = 5 }"]),
        luck.choice(["", "poses.hand = [{ at = 0.05, offset = [-0.5, 1.5] }, { at = 0.2, offset = [1, 1] }]"]),
    ]
    if kind == "shot":
        flight = f"speed = {luck.choice([0.01, 8, 300, 1e6])}, gravity_share = {luck.choice([0, 1, 100])}"
        flight += f", radius = {luck.choice([0, 0.1, 2])}, drag = {luck.choice([0, 0.5, 50])}"
        flight += f", life = {luck.choice([0.01, 1, 50])}, velocity_share = {luck.choice([0, 1])}"
        flight += ", bounce = { keep = 0.7, times = 9 }" if on_wall == "bounce" else ""
        lines.append(f"shot = {{ {flight}{luck.choice(['', ', range = 6'])}, {launch} }}")
    elif kind == "ray":
        lines.append(f"ray = {{ range = {luck.choice([0.5, 30, 1e8])}, {launch} }}")
    return "\n".join(lines)


def book(luck: random.Random, plane: str) -> str:
    """A whole rulebook of any sort."""

    def point(*figures: float) -> str:
        return str(list(figures[: 3 if plane == "full" else 2]))

    fighter = f"""
speed = {luck.choice([1, 8])}
gravity_share = {luck.choice([1, 0])}
attacks = ["x", "y", "z"]
body = {{ radius = 0.3, height = {luck.choice([0.5, 1.8])} }}
route = ["shell", "health"]
soak = {luck.choice([0, 1])}
joints.hand = [0.4, 1.1]
corpse_seconds = {luck.choice([0, 1])}
respawn_seconds = {luck.choice([0, 0.5])}
guard = {{ damage_share = {luck.choice([0, 0.5])}, drain = {luck.choice([0, 2])}, pool = "oil", broken = 0.3 }}
pools.health = {{ max = 20, vital = true }}
pools.oil = {{ max = 10, refill = {luck.choice([0, 5])}, delay = 0.2 }}
pools.shell = {{ max = 5, share = {luck.choice([0, 1, 2])}, refill = 3, spill = {luck.choice(["true", "false"])} }}
hurtboxes.core = {{ from = [0, 0.3], to = [0, 1.2], radius = 0.3 }}
hurtboxes.arm = {{ from = [0, 1.2], to = "hand", radius = 0.1 }}
hurtboxes.plate = {{ from = [0.5, 0.7], size = [0.2, 0.8, 0.7], turn_deg = 20, layer = "plate" }}
"""
    low = -15 if plane == "top" else -2
    return f"""
[settings]
buffer = {luck.choice([0, 0.1, 1])}
max_shots = {luck.choice([4, 200])}
combo = {{ seconds = 0.3, shares = [1, 0.5] }}
[kinds.salt]
[afflictions.burning]
kind = "salt"
damage = 1
every = {luck.choice([0.05, 0.3])}
seconds = 0.9
stacking = "{luck.choice(["refresh", "add", "strongest"])}"
[afflictions.dazed]
seconds = 0.5
speed_share = 0.3
takes_share = 2
guardless = true
cured_by = ["salt"]
[fighters.a]{fighter}[fighters.b]{fighter}
{attack(luck, "x")}
{attack(luck, "y")}
{attack(luck, "z")}
[arenas.pit]
plane = "{plane}"
{"" if plane == "top" else luck.choice(["floor = 0", ""])}
bounds = {{ low = {point(-15, -15 if plane == "full" else low, -2)}, high = {point(15, 15, 12)} }}
walls.pier = {{ at = {point(5, 1, 1)}, size = {point(1, 4, 3)}, turn_deg = {luck.choice([0, 30])} }}
walls.step = {{ at = {point(-6, 0.5, 0.5)}, size = {point(4, 1, 1)} }}
paths.beat = {{ points = [{point(0, 0, 0)}, {point(3, 0, 0)}, {point(1, 0, 0)}] }}
"""


def order(luck: random.Random, plane: str) -> dict[str, Any]:
    """An order for anything."""
    told: dict[str, Any] = {}
    if luck.random() < 0.4:
        told["press"] = luck.choice("xyz")
    if luck.random() < 0.3:
        told["hold"] = luck.choice([(), "x", ("y", "guard"), "guard", ("z", "x")])
    if luck.random() < 0.3:
        told["aim"] = tuple(luck.uniform(-1, 1) for _ in range(3 if plane == "full" else 2))
    if luck.random() < 0.2:
        told["facing"] = luck.choice(["left", "right", "foe", *([] if plane == "side" else [luck.uniform(-360, 360)])])
    if luck.random() < 0.3:
        told["move"] = luck.uniform(-1, 1) if plane == "side" else (luck.uniform(-0.7, 0.7), luck.uniform(-0.7, 0.7))
    elif luck.random() < 0.2:
        told["patrol"] = "beat"
    return told or {"facing": "left"}


def place(luck: random.Random, plane: str) -> tuple[float, ...]:
    across, along, up = luck.uniform(-14, 14), luck.uniform(-14, 14), luck.choice([0.0, luck.uniform(0, 10)])
    return {"side": (across, up), "top": (across, along), "full": (across, along, up)}[plane]


def play(bout: ew.Bout, luck: random.Random, plane: str, frames: int) -> None:
    """Give five fighters any orders for a while."""
    for _ in range(frames):
        for seat in bout.seats:
            if luck.random() < 0.3:
                seat.order(**order(luck, plane))
            if luck.random() < 0.03:
                seat.place(place(luck, plane), teleport=luck.random() < 0.5)
            if luck.random() < 0.01 and seat.alive:
                seat.resize(luck.choice(["health", "shell"]), luck.choice([5, 50]))
        bout.advance(luck.uniform(0, 3) / bout.tick_rate)


@pytest.mark.parametrize("seed", range(18))
def test_whatever_is_written_and_pressed_the_promises_hold(seed: int) -> None:
    luck = random.Random(seed)
    plane, tick_rate = luck.choice(["side", "top", "full"]), luck.choice([7, 30, 60, 240])
    bout = ew.Bout(ew.Rulebook.parse(book(luck, plane)), arena="pit", tick_rate=tick_rate, seed=seed)
    recorder = ew.Recorder(bout)
    for number in range(5):
        team = luck.choice([None, "tide"])
        bout.enter(luck.choice("ab"), at=place(luck, plane), seat=f"s{number}", lives=luck.choice([1, 99]), team=team)
    play(bout, luck, plane, 80)
    fresh = ew.Bout(bout.rules, arena="pit", tick_rate=tick_rate)
    fresh.restore(bout.snapshot())
    state = luck.getstate()
    play(bout, luck, plane, 80)
    luck.setstate(state)
    play(fresh, luck, plane, 80)
    chronicle = recorder.chronicle()
    assert fresh.digest() == bout.digest() == chronicle.end.digest
    assert to_lines(ew.rerun(chronicle)) == to_lines(chronicle)
    promises(chronicle)


def promises(chronicle: ew.Chronicle) -> None:
    """What every record of a bout keeps."""
    told, rate = chronicle.events, chronicle.header.tick_rate
    assert [event.seq for event in told] == list(range(len(told)))
    released = [event.shot for event in told if isinstance(event, events.Released)]
    ended = [event.shot for event in told if isinstance(event, events.ShotEnded)]
    assert len(set(released)) == len(released) and len(set(ended)) == len(ended) and set(ended) <= set(released)
    assert len(released) - len(ended) == chronicle.tracks.live_shots[-1], "every shot ends once, or still flies"
    lives = [(event.seat, event.life) for event in told if isinstance(event, events.Died)]
    assert len(set(lives)) == len(lives), "nobody dies twice in a life"
    for event in told:
        assert event.tick / rate - 1e-9 <= event.time <= (event.tick + 1) / rate + 1e-9, "exact times lie in their tick"
        assert event.cause is None or event.cause < event.seq, "nothing follows from what comes later"
        if isinstance(event, events.Wounded | events.Healed):
            assert 0 <= event.vital_left <= event.vital_max
            assert event.amount >= 0
        if isinstance(event, events.Wounded | events.ShotEnded | events.Bounced):
            assert np.isfinite(event.position).all()
    tracks = chronicle.tracks
    assert np.nanmin(tracks.pools) >= 0
    assert np.nanmax(np.abs(tracks.positions)) <= 15, "nobody leaves the arena"
