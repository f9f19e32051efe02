"""What a picture of the moment costs: `bout.view()` of two bodies and of a thousand, read in bulk and body by body.

Run with `python benchmarks/view.py`. Times are the least of several rounds.
"""

from __future__ import annotations

from time import perf_counter
from typing import TYPE_CHECKING

import emberwound as ew

if TYPE_CHECKING:
    from collections.abc import Callable

ROUNDS = 7

RULES = """
[settings]
max_seats = SEATS

[kinds.iron]

[fighters.walker]
body = { height = 1.8, radius = 0.4 }
pools.health = { max = 50, vital = true }
speed = 2
hurtboxes.body = { from = [0, 0.2], to = [0, 1.5], radius = 0.3 }

[arenas.field]
space = "top"
bounds = { low = [-100, -100], high = [100, 100] }
"""


def field(bodies: int) -> ew.Bout:
    """A bout of so many walkers, a tick old."""
    bout = ew.Bout(ew.Rulebook.parse(RULES.replace("SEATS", str(bodies)), "view.toml"), arena="field")
    for number in range(bodies):
        seat = bout.enter("walker", at=(-90 + 5 * (number % 36), -90 + 5 * (number // 36)), seat=f"w{number}")
        seat.order(move=(1, 0) if number % 2 else (0, 1))
    bout.step()
    return bout


def bulk(bout: ew.Bout) -> None:
    """A frame as arrays."""
    view = bout.view()
    _ = (view.seats, view.positions, view.velocities, view.headings, view.alive, view.pools)


def one_by_one(bout: ew.Bout) -> None:
    """A frame as objects: where each body is, where it looks, and what it does."""
    for body in bout.view().bodies:
        _ = (body.seat, body.position, body.heading, body.states, body.pools)


def least_microseconds(work: Callable[[ew.Bout], object], bout: ew.Bout, times: int) -> float:
    """The least time of one call, over several rounds of `times` calls."""
    work(bout)
    found = []
    for _ in range(ROUNDS):
        start = perf_counter()
        for _ in range(times):
            work(bout)
        found.append((perf_counter() - start) / times)
    return min(found) * 1e6


def main() -> None:
    """Print the table."""
    ew.prepare()
    print("bodies  view only µs  in bulk µs  body by body µs")
    for bodies, times in ((2, 2000), (1000, 20)):
        bout = field(bodies)
        only = least_microseconds(ew.Bout.view, bout, times)
        print(f"{bodies:6} {only:13.1f} {least_microseconds(bulk, bout, times):11.1f}", end="")
        print(f" {least_microseconds(one_by_one, bout, times):16.1f}")


if __name__ == "__main__":
    main()
