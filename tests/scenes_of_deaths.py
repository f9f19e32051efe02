"""Random deaths of ragdolls, and what must hold of each, for the tests and the benchmark."""

from __future__ import annotations

from importlib import resources
from typing import TYPE_CHECKING, NamedTuple

import numpy as np

import emberwound as ew
from conftest import ragdoll_of

if TYPE_CHECKING:
    from collections.abc import Iterator

    from numpy.typing import NDArray

    from emberwound import Rulebook, Seat

    Array = NDArray[np.float64]

SORTS = ("husk", "lamplighter", "wader")
FLOCK = 10
SECONDS = 5
FASTEST = 1000.0

SCENES = """
[fighters.knacker]
attacks = ["cull"]
body = { radius = 0.3, height = 1.8 }
pools.health = { max = 1, vital = true }
hurtboxes.trunk = { from = [0, 1], radius = 0.2 }
[fighters.husk]
slide_deceleration = 8
corpse_seconds = 99
body = { radius = 0.3, height = 1.8 }
pools.health = { max = 30, vital = true }
hurtboxes.head = { from = [0, 1.6], radius = 0.2 }
hurtboxes.trunk = { from = [0, 0.9], to = [0, 1.3], radius = 0.25 }
hurtboxes.legs = { from = [0, 0.3], to = [0, 0.6], radius = 0.15 }
[fighters.husk.ragdoll]
radius = 0.09
points.head = [0, 1.6]
points.chest = [0, 1.2]
points.hips = [0, 0.8]
points.knee = [0.05, 0.45, 0.1]
points.foot = [0, 0.1, 0.1]
points.other = [0, 0.4, -0.1]
points.hand = [0.4, 1]
links = [["head", "chest"], ["chest", "hips"], ["hips", "knee"], ["knee", "foot"], ["hips", "other"], ["chest", "hand"]]
[blasts.cull]
radius = 200
falloff = "even"
kind = "iron"
damage = 100
push = { speed = 1000, heading = "radial" }
[attacks.cull]
blast = "cull"
blast_at = [0, 0]
[arenas.maze]
floor = 0
bounds = { low = [-12, -2], high = [12, 12] }
[arenas.maze.walls]
slope = { at = [4, 0], size = [8, 1.5], turn_deg = 25 }
pillar = { at = [-4, 2], size = [0.2, 4] }
lintel = { at = [-7, 2.6], size = [3, 0.4], turn_deg = -15 }
[arenas.well]
space = "3d"
floor = 0
gravity = 30
bounds = { low = [-6, -6, -1], high = [6, 6, 15] }
[arenas.well.walls]
block = { at = [0, 2, 0.5], size = [2, 1, 1], turn_deg = 40 }
plate = { at = [-3, -2, 0.8], size = [0.1, 3, 1.6] }
"""


class Fall(NamedTuple):
    """What one bout of deaths came to; depths are shares of a body's height, the others of what they should be."""

    died: int
    still: int
    unreal: int
    deepest: float
    stretched: float
    gained: float


class Walls:
    """The walls and the floor of an arena, to ask how deep a ball is in them."""

    def __init__(self, rules: Rulebook, arena: str) -> None:
        self.arena = rules.book.arenas[arena]
        self.flat = self.arena.space == "top"
        self.floor = -np.inf if self.flat or self.arena.floor is None else self.arena.floor

    def depth(self, points: Array) -> Array:
        """How deep points (n, axes) are in the nearest wall or the floor; below 0 outside."""
        deep = self.floor - points[:, -1]
        for wall in self.arena.walls.values():
            turn = np.radians(wall.turn_deg)
            away = points - np.array(wall.at)
            x, y = away[:, 0], away[:, 1]
            away[:, 0], away[:, 1] = x * np.cos(turn) + y * np.sin(turn), y * np.cos(turn) - x * np.sin(turn)
            out = np.abs(away) - np.array(wall.size) / 2
            outside = np.linalg.norm(np.maximum(out, 0), axis=1)
            deep = np.maximum(deep, np.where(outside > 0, -outside, -out.max(axis=1)))
        return deep


class Fallen:
    """A ragdoll, looked at tick by tick."""

    def __init__(self, rules: Rulebook, walls: Walls, victim: Seat) -> None:
        self.victim, self.walls = victim, walls
        self.fighter = rules.book.fighters[victim.fighter]
        self.gravity = 0.0 if walls.flat else walls.arena.gravity
        self.energy: float | None = None
        self.unreal, self.still = False, False
        self.deepest = self.gained = 0.0
        self.low = -np.inf

    def look(self) -> None:
        """Take note of how it lies now."""
        view = ragdoll_of(self.victim)
        assert view is not None and self.fighter.ragdoll is not None
        points, speeds = np.array(list(view.points.values())), np.array(list(view.velocities.values()))
        self.view, self.still = view, view.still
        self.unreal |= not (np.isfinite(points).all() and np.isfinite(speeds).all())
        deep = float(self.walls.depth(points).max() + self.fighter.ragdoll.radius)
        self.deepest = max(self.deepest, deep / self.fighter.body.height)
        height = 0.0 if self.walls.flat else float(points[:, -1].sum())
        energy = 0.5 * float((speeds**2).sum()) + self.gravity * height
        if self.energy is not None:
            self.gained = max(self.gained, (energy - self.energy) / max(abs(self.energy), 1.0))
        self.energy = min(energy, np.inf if self.energy is None else self.energy)

    def stretched(self, rest: dict[tuple[str, str], float]) -> float:
        """By which share of its length the worst link is off."""
        points = {name: np.array(place) for name, place in self.view.points.items()}
        return max(
            abs(float(np.linalg.norm(points[a] - points[b])) - rest[a, b]) / max(rest[a, b], 1e-3)
            for a, b in self.view.links
        )


def books() -> Rulebook:
    """The demo's rules with husks to kill and two more arenas; corpses lie long."""
    demo = (resources.files("emberwound.demo") / "saltglass.toml").read_text()
    rules = ew.Rulebook.parse(demo + SCENES, "deaths.toml")
    return rules.edit({f"fighters.{each}.corpse_seconds": 99 for each in SORTS})


def lengths(rules: Rulebook, fighter: str, space: str) -> dict[tuple[str, str], float]:
    """How long each link of a fighter is, in a plane."""
    made = rules.book.fighters[fighter]
    assert made.ragdoll is not None
    points = {}
    for name, place in made.ragdoll.points.items():
        ahead, up, left = (*(made.joints[place] if isinstance(place, str) else place), 0.0)[:3]
        points[name] = np.array({"side": (ahead, up), "top": (ahead, left), "3d": (ahead, up, left)}[space])
    return {(a, b): float(np.linalg.norm(points[a] - points[b])) for a, b in made.ragdoll.links}


def falls(rules: Rulebook, count: int, seed: int) -> Iterator[Fall]:
    """Kill so many fighters, some in each arena, and tell of each flock what came of it."""
    rng = np.random.default_rng(seed)
    arenas = list(rules.book.arenas)
    for number in range(-(-count // FLOCK)):
        yield _flock(rules, arenas[number % len(arenas)], rng)


def _flock(rules: Rulebook, arena: str, rng: np.random.Generator) -> Fall:
    speed = FASTEST * rng.uniform() ** 3
    changed = rules.edit({"blasts.cull.push.speed": speed, "settings.max_seats": FLOCK + 1})
    bout = ew.Bout(changed, arena=arena, tick_rate=int(rng.choice([30, 60, 144])))
    walls = Walls(rules, arena)
    low, high = np.array(walls.arena.bounds.low, float), np.array(walls.arena.bounds.high, float)
    low[-1] = max(low[-1], walls.floor)

    def spot() -> list[float]:
        while True:
            at = low + (high - low) * rng.uniform(0.1, 0.8, len(low))
            if walls.depth(at[None, :] + 1e-3).max() < -0.5:
                return [float(each) for each in at]

    knacker = bout.enter("knacker", seat="knacker", at=spot())
    victims = [bout.enter(SORTS[number % len(SORTS)], seat=f"v{number}", at=spot()) for number in range(FLOCK)]
    for victim in victims[::2]:
        victim.place(spot(), (rng.normal(size=len(low)) * 5).tolist())
    knacker.order(press="cull")
    bout.step()
    while any(victim.alive for victim in victims):
        bout.step()
    fallen = [Fallen(rules, walls, victim) for victim in victims]
    for _ in range(SECONDS * bout.tick_rate):
        bout.step()
        for each in fallen:
            each.look()
    rest = {sort: lengths(rules, sort, walls.arena.space) for sort in SORTS}
    return Fall(
        died=len(fallen),
        still=sum(each.still for each in fallen),
        unreal=sum(each.unreal for each in fallen),
        deepest=max(each.deepest for each in fallen),
        stretched=max((each.stretched(rest[each.victim.fighter]) for each in fallen if each.still), default=0.0),
        gained=max(each.gained for each in fallen),
    )
