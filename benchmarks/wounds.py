"""What a wound costs: among a hundred of one tick, and alone, after other work has taken the caches.

    python benchmarks/wounds.py

The judgement of one tick is repeated from the same state. A plain loop that takes points from objects, without events,
ledgers and exact times, is timed in turn with it.
"""

from __future__ import annotations

from dataclasses import dataclass
from importlib.resources import files
from statistics import median
from time import perf_counter
from typing import TYPE_CHECKING

import numpy as np

import emberwound as ew
from crowd import FIELD
from emberwound.bout.phases import PHASES
from emberwound.bout.phases.hits_and_after import judgement

if TYPE_CHECKING:
    from collections.abc import Callable

    from emberwound.bout.state.world import World

BEFORE = PHASES[: PHASES.index(judgement)]


@dataclass
class Body:
    """A body of the plain loop."""

    health: float = 1e9
    last: str = ""


def crowd() -> World:
    """A thousand fighters who shoot, in a tick with about a hundred contacts, judged as far as contact."""
    bout = ew.Bout(ew.Rulebook.parse(FIELD), arena="field", seed=1)
    rng = np.random.default_rng(1)
    for _ in range(1000):
        bout.enter("caster", at=tuple(rng.uniform(1, 169, 2)), facing=float(rng.uniform(0, 360))).order(hold="spray")
    bout.advance(4.0)
    return _up_to_contact(bout)


def duel() -> World:
    """Two fighters in a small world, in the tick in which the one shot meets the other."""
    small = FIELD.replace("max_seats = 1000", "max_seats = 4").replace("max_shots = 12000", "max_shots = 64")
    bout = ew.Bout(ew.Rulebook.parse(small.replace("count = 15, fan_deg = 360", "count = 1")), arena="field", seed=1)
    bout.enter("caster", at=(50, 50), facing=0).order(press="spray")
    bout.enter("caster", at=(60, 50), facing=180)
    return _up_to_contact(bout)


def _up_to_contact(bout: ew.Bout) -> World:
    world = bout._world
    while True:
        for phase in BEFORE:
            phase(world)
        if world.contacts:
            return world
        for phase in PHASES[len(BEFORE) :]:
            phase(world)
        world.events, world.inputs = [], []


def measure(world: World, between: Callable[[], object]) -> float:
    """Median microseconds of judging the tick, with something else done between any two times."""
    memory, contacts, spent = world.block.memory.copy(), world.contacts, []
    for _ in range(150):
        world.block.memory[:], world.contacts, world.events = memory, contacts, []
        between()
        started = perf_counter()
        judgement(world)
        spent.append(1e6 * (perf_counter() - started))
    world.contacts = contacts
    return median(spent)


def plain(count: int) -> float:
    """Median microseconds of so many wounds of the plain loop."""
    bodies, spent = [Body() for _ in range(count)], []
    for _ in range(150):
        started = perf_counter()
        for body in bodies:
            body.health -= 1.0
            body.last = "caster"
        spent.append(1e6 * (perf_counter() - started))
    return median(spent)


def main() -> None:
    """Print both costs."""
    ew.prepare()
    text = files("emberwound.demo").joinpath("saltglass.toml").read_text(encoding="utf-8")
    other = ew.Bout.scripted(ew.Rulebook.parse(text), "crossing")
    other.advance(1.6)
    saved = other.snapshot()

    def quiet_ticks() -> None:
        other.restore(saved)
        for _ in range(30):
            other.step()

    many, one = crowd(), duel()
    count, base = many.contacts, plain(100) / 100
    print(f"a contact among {count} of a tick {measure(many, lambda: None) / count:7.1f} µs")
    print(f"alone, again and again        {measure(one, lambda: None):7.1f} µs")
    print(f"alone, after 30 quiet ticks   {measure(one, quiet_ticks):7.1f} µs")
    print(f"a wound of a plain loop       {base:7.2f} µs")


if __name__ == "__main__":
    main()
