"""What does one blast over a crowd cost?

    python benchmarks/blasts.py [BODIES]

A blast that reaches everybody goes off among bodies of two hurtboxes each: once with wounds and pushes, once with
pushes alone, on props. It is timed against a plain loop that finds the same distances and takes the same points.
"""

from __future__ import annotations

import sys
from dataclasses import dataclass
from math import dist
from statistics import median
from time import perf_counter

import emberwound as ew

ROUNDS = 9
BOOK = """
[settings]
max_seats = {seats}
[kinds.ember]
[fighters.thrower]
attacks = ["slam"]
body = {{ radius = 0.3, height = 1.8 }}
pools.health = {{ max = 100, vital = true }}
hurtboxes.trunk = {{ from = [0, 0.4], to = [0, 1.2], radius = 0.3 }}
hurtboxes.brow = {{ from = [0, 1.6], radius = 0.18, multiplier = 1.5 }}
[props.crate]
body = {{ radius = 0.3, height = 0.6 }}
hurtboxes.boards = {{ from = [0, 0.3], size = [0.6, 0.6, 0.6] }}
[blasts.burst]
radius = 60
kind = "ember"
damage = 30
push = {{ speed = 6, heading = "radial", lift_deg = 20 }}
[attacks.slam]
blast = "burst"
blast_at = [0, 1]
[arenas.field]
space = "3d"
floor = 0
bounds = {{ low = [-25, -25, -1], high = [25, 25, 20] }}
[arenas.field.props]
{props}
"""


@dataclass
class Body:
    """A body of the plain loop."""

    at: tuple[float, float, float]
    health: float = 100.0
    velocity: tuple[float, float, float] = (0.0, 0.0, 0.0)


def main() -> None:
    """Print the cost of both blasts, and of the plain loop."""
    ew.prepare()
    count = int(sys.argv[1]) if len(sys.argv) > 1 else 1_000
    spots = [(-24 + 48 * (n % 32) / 32, -24 + 48 * (n // 32) / 32) for n in range(count)]
    plain = median(_plain(spots) for _ in range(ROUNDS))
    print(f"plain loop, {count} bodies           {1e3 * plain:7.2f} ms   1.0 x")
    for what in ("wounds and pushes", "pushes of props"):
        took = median(_blast(spots, props=what == "pushes of props") for _ in range(ROUNDS))
        print(f"{what:20}, {count} bodies {1e3 * took:7.2f} ms {took / plain:5.1f} x")


def _blast(spots: list[tuple[float, float]], *, props: bool) -> float:
    stands = "\n".join(f'p{n} = {{ prop = "crate", at = [{x}, {y}, 0] }}' for n, (x, y) in enumerate(spots))
    rules = ew.Rulebook.parse(BOOK.format(seats=1 if props else len(spots) + 1, props=stands if props else ""))
    bout = ew.Bout(rules, arena="field")
    thrower = bout.enter("thrower", at=(0, 0, 0))
    for number, (x, y) in enumerate(() if props else spots):
        bout.enter("thrower", seat=f"s{number}", at=(x, y, 0))
    bout.step()
    bout.step()
    thrower.order(press="slam")
    started = perf_counter()
    events = bout.step()
    took = perf_counter() - started
    assert sum(isinstance(event, ew.events.KnockedBack) for event in events) == len(spots)
    return took


def _plain(spots: list[tuple[float, float]]) -> float:
    bodies = [Body((x, y, 1.0)) for x, y in spots]
    centre = (0.0, 0.0, 1.0)
    started = perf_counter()
    for body in bodies:
        gap = max(dist(body.at, centre) - 0.3, 0.0)
        if gap <= 60:
            share = 1 - gap / 60
            x, y, z = body.at
            body.health -= 30 * share
            body.velocity = (6 * share * x, 6 * share * y, 6 * share * (z - 1))
    return perf_counter() - started


if __name__ == "__main__":
    main()
