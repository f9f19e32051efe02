"""A hundred seats that join, die, stand again and leave: does anything grow?

    python benchmarks/seats.py [TICKS]

Every ten ticks one seat leaves and another of a new name enters, with listeners for its first life and for one death;
every five seconds a hazard kills all that stand in it.
"""

from __future__ import annotations

import sys
from time import perf_counter

import emberwound as ew
from emberwound.vocabulary.clock import NEVER
from emberwound.vocabulary.events import Died, Event, Respawned, SeatEntered, SeatLeft
from soak import resident_kilobytes

SEATS = 100
BOOK = """
[settings]
max_seats = 100
[kinds.salt]
[counters.falls]
death = 1
[counters.stood]
per_second = 1
[cues.cry]
on = ["died"]
audience = "victim"
[fighters.husk]
corpse_seconds = 1
respawn_seconds = 1
respawn_protection = 0.5
body = { radius = 0.1, height = 1 }
pools.health = { max = 9, vital = true }
hurtboxes.trunk = { from = [0, 0.5], radius = 0.1 }
[arenas.field]
space = "top"
bounds = { low = [-30, -30], high = [30, 30] }
hazards.frost = { at = [0, 0], half_space = [1, 0], fatal = true, schedule = { on = 0.1, off = 4.9, first = 4 } }
checkpoints.stone = { at = [1, 0], radius = 40, order = 1, respawn_at = [-5, 0], whole_team = true }
"""


def main() -> None:
    """Print a line for each tenth of the run."""
    ew.prepare()
    ticks = int(sys.argv[1]) if len(sys.argv) > 1 else 1_000_000
    bout = ew.Bout(ew.Rulebook.parse(BOOK), arena="field")
    world, made, told = bout._world, 0, dict.fromkeys((SeatEntered, Died, Respawned, SeatLeft), 0)
    waiting: list[str] = []
    heard = [0]

    def hear(_event: Event) -> None:
        heard[0] += 1

    def enter() -> None:
        nonlocal made
        name = f"seat-{made}"
        at = (-28 + made * 7 % 56, -28 + made * 11 % 56)
        bout.enter("husk", seat=name, at=at, lives="endless" if made % 3 else 2, team=f"team-{made % 40}")
        bout.on(Died, seat=name, life=1)(hear)
        bout.on(Died, seat=name, once=True)(hear)
        waiting.append(name)
        made += 1

    for _ in range(SEATS):
        enter()
    start = perf_counter()
    heads = (
        "ticks",
        "seat_entered",
        "died",
        "respawned",
        "left",
        "names",
        "teams",
        "due",
        "listeners",
        "block",
        "kB",
        "s",
    )
    print("".join(f"{head:>10}" for head in heads))
    for tick in range(ticks):
        if tick % 10 == 9:
            name = waiting.pop((tick // 10 * 37) % SEATS)
            bout.seat(name).leave()
        for event in bout.step():
            if type(event) in told:
                told[type(event)] += 1
        if tick % 10 == 9:
            enter()
        if (tick + 1) % (ticks // 10) == 0:
            due = int((world.block.due < NEVER).sum())
            figures = (tick + 1, *told.values(), len(world.names), len(world.teams), due, len(bout._listeners),
                       world.block.memory.nbytes, resident_kilobytes(), int(perf_counter() - start))  # fmt: skip
            print("".join(f"{figure:>10,}" for figure in figures), flush=True)


if __name__ == "__main__":
    main()
