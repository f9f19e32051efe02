"""Hundreds of fighters who strike, walk, turn to foes and make room: milliseconds a tick, and how they grow.

python benchmarks/melee.py [FIGHTERS ...]
"""

from __future__ import annotations

import random
import statistics
import sys
from time import perf_counter

import emberwound as ew
from emberwound.events import Wounded

BOOK = """
[settings]
max_seats = {seats}
[kinds.iron]
[fighters.hewer]
attacks = ["hew"]
speed = 1
body = {{ radius = 0.3, height = 1.8 }}
pools.health = {{ max = 100000, vital = true }}
hurtboxes.trunk = {{ from = [0, 0.4], to = [0, 1.2], radius = 0.3 }}
hurtboxes.brow = {{ from = [0, 1.6], radius = 0.18 }}
[attacks.hew]
kind = "iron"
damage = 1
windup = 0.2
active = 0.2
recovery = 0.3
strike.hitboxes.blade = {{ from = [0, 1], radius = 0.1, swing = {{ from_deg = -80, to_deg = 80, reach = 1.2, tilt_deg = 90 }} }}
[arenas.yard]
space = "3d"
floor = 0
body_contact = "{contact}"
bounds = {{ low = [-90, -90, -1], high = [90, 90, 9] }}
"""  # noqa: E501


def field(count: int, contact: str, *, walking: bool, seats: int | None = None) -> ew.Bout:
    """So many fighters on a square of a constant density, each of one of two teams."""
    rng, half = random.Random(5), 0.75 * count**0.5  # noqa: S311 (no secret)
    bout = ew.Bout(ew.Rulebook.parse(BOOK.format(seats=seats or count, contact=contact)), arena="yard")
    for number in range(count):
        at = (rng.uniform(-half, half), rng.uniform(-half, half), 0.0)
        seat = bout.enter("hewer", seat=f"s{number}", at=at, team=("tide", "lamps")[number % 2])
        if walking:
            seat.order(facing="foe", move=(rng.uniform(-0.7, 0.7), rng.uniform(-0.7, 0.7)))
    bout.step()
    return bout


def measure(bout: ew.Bout, ticks: int, *, striking: bool) -> tuple[float, float]:
    """The mean milliseconds of a tick, and the mean number of wounds in one."""
    if striking:
        for number, seat in enumerate(bout.seats):
            if number % 3 == bout.tick % 3:
                seat.order(hold="hew")
    spent, wounds = [], 0
    for _ in range(ticks):
        begun = perf_counter()
        found = bout.step()
        spent.append(perf_counter() - begun)
        wounds += sum(isinstance(event, Wounded) for event in found)
    return 1000 * statistics.fmean(spent), wounds / ticks


def main() -> None:
    """A line for each number of fighters."""
    ew.prepare()
    counts = [int(each) for each in sys.argv[1:]] or [100, 300, 1000, 2000]
    print("fighters  walk and turn to foes, ms  and make room, ms  and strike, ms  wounds a tick  snapshot, MB")
    for count in counts:
        walk, _ = measure(field(count, "none", walking=True), 30, striking=False)
        room, _ = measure(field(count, "separate", walking=True), 30, striking=False)
        melee = field(count, "none", walking=True)
        strike, wounds = measure(melee, 60, striking=True)
        size = len(melee.snapshot().state) / 1e6
        print(f"{count:8,}  {walk:25.2f}  {room:17.2f}  {strike:14.2f}  {wounds:13.1f}  {size:12.1f}", flush=True)
    for seats in (16, 2000):
        walk, _ = measure(field(10, "none", walking=True, seats=seats), 300, striking=False)
        print(f"ten walkers of {seats:,} seats: {1000 * walk:.1f} microseconds a tick")


if __name__ == "__main__":
    main()
