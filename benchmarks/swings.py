"""Do swings miss or invent touches, and what does one swing through a crowd cost?

    python benchmarks/swings.py [SWINGS]

Random swings (turning and carried, against capsules and boxes) are compared with looks at 300 moments of each. A swing
through 200 foes is timed against a plain loop that finds the same touches on ticks and takes points off a list.
"""

from __future__ import annotations

import sys
from math import atan2, cos, hypot, pi, sin
from pathlib import Path
from time import perf_counter

sys.path.insert(0, str(Path(__file__).parent.parent / "tests"))

import emberwound as ew
from scenes_of_swings import Swings, judge

FOES, RADIUS, ROUNDS = 200, 2.5, 15
BOOK = """
[settings]
max_seats = 201
[kinds.iron]
[fighters.hewer]
attacks = ["sweep"]
body = { radius = 0.3, height = 1.8 }
pools.health = { max = 1000, vital = true }
hurtboxes.trunk = { from = [0, 0.4], to = [0, 1.2], radius = 0.3 }
hurtboxes.brow = { from = [0, 1.6], radius = 0.18 }
[attacks.sweep]
kind = "iron"
damage = 8
windup = 0.2
active = 0.2
recovery = 0.3
[attacks.sweep.strike.hitboxes]
hook = { from = [0, 1], radius = 0.15, swing = { from_deg = -170, to_deg = 170, inner = 2, reach = 3, tilt_deg = 90 } }
pole = { from = [0, 1], radius = 0.06, swing = { from_deg = -170, to_deg = 170, reach = 2, tilt_deg = 90 } }
[arenas.yard]
space = "3d"
floor = 0
bounds = { low = [-9, -9, -1], high = [9, 9, 9] }
"""


def main() -> None:
    """Print both answers."""
    ew.prepare()
    count = int(sys.argv[1]) if len(sys.argv) > 1 else 40_000
    for turning in (True, False):
        for boxes in (True, False):
            compare(count // 4, turning=turning, boxes=boxes)
    crowd()


def compare(count: int, *, turning: bool, boxes: bool) -> None:
    """Print how so many random swings compare with many looks."""
    told = {"swings": 0.0, "touched": 0.0, "missed": 0.0, "invented": 0.0, "deepest": 0.0, "late": 0.0}
    seconds = 0.0
    for seed, first in enumerate(range(0, count, 10_000)):
        swings = Swings(min(10_000, count - first), 1000 + seed, turning=turning, boxes=boxes)
        start = perf_counter()
        swings.touches()
        seconds += perf_counter() - start
        for name, figure in judge(swings, 300).items():
            told[name] = max(told[name], figure) if name in ("deepest", "late") else told[name] + figure
    what = f"{'turning' if turning else 'carried'} hitboxes, {'boxes' if boxes else 'capsules'}"
    print(
        f"{what:28} {told['swings']:9.0f} swings, {told['touched']:.0f} touch: {told['missed']:.0f} missed, "
        f"{told['invented']:.0f} invented; deepest passed over {told['deepest']:.1e} of the radius, "
        f"a touch off by at most {told['late']:.0e}; {seconds / told['swings'] * 1e6:.1f} us each with its call"
    )


def crowd() -> None:
    """Print what the ticks of one swing through 200 foes cost, and what a plain loop over them does."""
    rules = ew.Rulebook.parse(BOOK)
    ours = min(swing(rules) for _ in range(ROUNDS))
    plain = min(plain_swing() for _ in range(ROUNDS))
    print(
        f"one swing through {FOES} foes: {ours * 1e3:.2f} ms in its ticks, {ours / FOES * 1e6:.1f} us a wound; "
        f"a plain loop without ledgers, events and exact times {plain * 1e3:.2f} ms; ratio {ours / plain:.1f}"
    )


def places() -> list[tuple[float, float, float]]:
    """Where the foes stand: round about the one who swings."""
    turns = [number * 2 * pi / FOES for number in range(FOES)]
    return [(RADIUS * cos(turn), RADIUS * sin(turn), 0.0) for turn in turns]


def swing(rules: ew.Rulebook) -> float:
    """Seconds spent in the ticks in which a swing wounds; each foe must be wounded once."""
    bout = ew.Bout(rules, arena="yard")
    hewer = bout.enter("hewer", at=(0, 0, 0))
    for place in places():
        bout.enter("hewer", at=place)
    bout.step()
    hewer.order(press="sweep")
    spent, wounded = 0.0, 0
    for _ in range(40):
        start = perf_counter()
        found = bout.step()
        took = perf_counter() - start
        wounds = sum(isinstance(event, ew.events.Wounded) for event in found)
        spent += took if wounds else 0.0
        wounded += wounds
    assert wounded == FOES, wounded
    return spent


def plain_swing() -> float:
    """The same by a loop over all foes a tick: who lies within the turn of the blade loses points."""
    health = [1000.0] * FOES
    struck = [False] * FOES
    angles = [(atan2(y, x), hypot(x, y)) for x, y, _ in places()]
    start = perf_counter()
    for tick in range(12):
        first, last = (-170 + 340 * tick / 12) * pi / 180, (-170 + 340 * (tick + 1) / 12) * pi / 180
        for foe, (angle, far) in enumerate(angles):
            near = 0.45 / far
            if not struck[foe] and far < 3.45 and first - near <= angle <= last + near:
                struck[foe] = True
                health[foe] -= 8.0
    spent = perf_counter() - start
    assert sum(struck) == FOES
    return spent


if __name__ == "__main__":
    main()
