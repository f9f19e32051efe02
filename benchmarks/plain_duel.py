"""The baseline of the duel benchmark: the same rules as plain objects in a plain Python loop, no arrays, no library.

Every tick it asks every object. It reads the rulebook's tables, and lists what happens as (tick, what, who, figure).
"""

from __future__ import annotations

from dataclasses import dataclass, field
from math import ceil, hypot, inf, sqrt
from typing import TYPE_CHECKING

if TYPE_CHECKING:
    from emberwound import Rulebook
    from emberwound.rulebook.models import Arena, Attack, Fighter, Hurtbox, SeatEntry
    from emberwound.vocabulary.clock import Duration

Happening = tuple[int, str, str, float]
CHORDS = 24


@dataclass
class Body:
    """One fighter on its seat."""

    seat: str
    table: Fighter
    x: float
    z: float
    ahead: float
    lives: int
    health: float = 0.0
    aim: tuple[float, float] = (1.0, 0.0)
    alive: bool = True
    attack: Attack | None = None
    attack_name: str = ""
    release: int = -1
    free: int = -1
    ready: dict[str, int] = field(default_factory=dict)
    kept: str = ""
    kept_until: int = -1
    back: int = -1
    corpse_until: int = -1


@dataclass
class Flying:
    """One shot in the air."""

    owner: Body
    attack: Attack
    born: int
    ends: int
    x: float
    z: float
    vx: float
    vz: float
    gravity: float


class PlainDuel:
    """A scripted bout of a rulebook, object by object."""

    def __init__(self, rules: Rulebook, bout: str) -> None:
        self.book = rules.book
        self.table = self.book.bouts[bout]
        self.arena: Arena = self.book.arenas[self.table.arena]
        self.rate = self.book.settings.tick_rate
        self.ticks = self.in_ticks(self.table.seconds)
        self.bodies = [self.enter(seat, entry) for seat, entry in self.table.seats.items()]
        self.shots: list[Flying] = []
        self.told: list[Happening] = []
        self.orders = [(self.in_ticks(order.time), order) for order in self.table.orders]
        self.tick = 0

    def in_ticks(self, *spans: Duration) -> int:
        """Whole ticks of a sum of durations."""
        return ceil(sum(span.seconds(self.book.settings.frame_rate) for span in spans) * self.rate)

    def enter(self, seat: str, entry: SeatEntry) -> Body:
        """A body at its entry."""
        where = self.arena.entries[str(entry.at)]
        table = self.book.fighters[entry.fighter]
        ahead = 1.0 if where.facing == "right" else -1.0
        return Body(seat, table, where.at[0], where.at[1], ahead, int(entry.lives), health=table.pools["health"].max)

    def tell(self, what: str, who: str, figure: float = 0.0) -> None:
        """Note something that happened."""
        self.told.append((self.tick, what, who, figure))

    def step(self) -> None:
        """One tick: what is due, orders, releases, flight and contact, deaths."""
        for body in self.bodies:
            self.due(body)
        for shot in self.shots[:]:
            if self.tick == shot.ends:
                self.shots.remove(shot)
                self.tell("ended", shot.owner.seat, self.tick / self.rate)
        for tick, order in self.orders:
            if tick == self.tick:
                body = next(each for each in self.bodies if each.seat == order.seat)
                if order.aim:
                    length = hypot(*order.aim)
                    body.ahead = 1.0 if order.aim[0] > 0 else -1.0
                    body.aim = (abs(order.aim[0]) / length, order.aim[1] / length)
                if order.press:
                    self.press(body, order.press)
        for body in self.bodies:
            if body.kept:
                self.try_kept(body)
            if body.alive and body.attack and body.release == self.tick:
                self.release(body)
        hits = sorted((hit for shot in self.shots if (hit := self.first_contact(shot))), key=lambda hit: hit[0])
        fallen: list[Body] = []
        for time, shot, struck, hurtbox in hits:
            self.shots.remove(shot)
            if struck is None or hurtbox is None:
                self.tell("ended", shot.owner.seat, time)
                continue
            amount = shot.attack.damage * hurtbox.multiplier
            self.tell("wounded", struck.seat, amount)
            struck.health = max(struck.health - amount, 0.0)
            if struck.health == 0.0 and struck not in fallen:
                fallen.append(struck)
            self.tell("ended", shot.owner.seat, time)
        for body in fallen:
            self.die(body)
        self.tick += 1

    def due(self, body: Body) -> None:
        """What the clock brings to one body."""
        if body.corpse_until == self.tick:
            self.tell("removed", body.seat)
        if body.back == self.tick:
            body.alive, body.health, body.attack = True, body.table.pools["health"].max, None
            body.ready.clear()
            self.tell("respawned", body.seat)
        if body.attack and body.free <= self.tick and body.release < self.tick:
            body.attack = None

    def press(self, body: Body, name: str) -> None:
        """Begin an attack, or keep the press for a while."""
        if body.kept:
            self.tell("refused", body.seat)
        body.kept, body.kept_until = name, self.tick + self.in_ticks(self.book.settings.buffer)

    def try_kept(self, body: Body) -> None:
        """Begin what was pressed if nothing hinders it; give it up when its time is over."""
        attack = self.book.attacks[body.kept]
        if body.alive and not body.attack and self.tick >= body.ready.get(body.kept, 0):
            body.attack, body.attack_name = attack, body.kept
            body.release = self.tick + self.in_ticks(attack.windup)
            body.free = self.tick + self.in_ticks(attack.windup, attack.recovery)
            body.kept = ""
            self.tell("began", body.seat)
        elif self.tick >= body.kept_until or not body.alive:
            body.kept = ""
            self.tell("refused", body.seat)

    def release(self, body: Body) -> None:
        """Let a shot fly."""
        attack = body.attack
        assert attack is not None
        shot = attack.shot
        assert shot is not None
        cooldown = (self.in_ticks(attack.cooldown) if attack.cooldown else 0) - self.in_ticks(attack.windup)
        body.ready[body.attack_name] = self.tick + cooldown
        vx, vz = body.ahead * body.aim[0] * shot.speed, body.aim[1] * shot.speed
        assert isinstance(shot.muzzle, str | tuple)
        ahead, up = place(shot.muzzle, body.table, attack)[:2]
        x, z = body.x + body.ahead * ahead, body.z + up
        gravity = shot.gravity_share * self.arena.gravity
        self.shots.append(Flying(body, attack, self.tick, self.tick + self.in_ticks(shot.life), x, z, vx, vz, gravity))
        self.tell("released", body.seat)

    def first_contact(self, shot: Flying) -> tuple[float, Flying, Body | None, Hurtbox | None] | None:
        """What a shot meets first in this tick, chord by chord."""
        begin, end = (self.tick - shot.born) / self.rate, (self.tick + 1 - shot.born) / self.rate
        until = min(self.floor_time(shot), self.bounds_time(shot))
        found: tuple[float, Flying, Body | None, Hurtbox | None] | None = None
        if until <= end:
            end = until
            found = (shot.born / self.rate + until, shot, None, None)
        best = inf
        part = (end - begin) / CHORDS
        left, right = sorted((self.place(shot, begin)[0], self.place(shot, end)[0]))
        for body in self.bodies:
            if not body.alive or body is shot.owner:
                continue
            for hurtbox in body.table.hurtboxes.values():
                reach = radius_of(shot) + (hurtbox.radius or 0.0)
                if not left - reach <= body.x + body.ahead * place(hurtbox.from_, body.table)[0] <= right + reach:
                    continue
                for chord in range(CHORDS):
                    t = begin + chord * part
                    x0, z0 = self.place(shot, t)
                    x1, z1 = self.place(shot, t + part)
                    fraction = touch(x0, z0, x1, z1, body, hurtbox, reach)
                    if fraction is not None:
                        if t + fraction * part < best:
                            best = t + fraction * part
                            found = (shot.born / self.rate + best, shot, body, hurtbox)
                        break
        return found

    def place(self, shot: Flying, t: float) -> tuple[float, float]:
        """Where a shot is, t seconds after its birth."""
        return shot.x + shot.vx * t, shot.z + shot.vz * t - shot.gravity * t * t / 2

    def floor_time(self, shot: Flying) -> float:
        """Seconds from birth to the floor."""
        drop = shot.z - radius_of(shot) - (self.arena.floor or 0.0)
        return (shot.vz + sqrt(shot.vz**2 + 2 * shot.gravity * drop)) / shot.gravity

    def bounds_time(self, shot: Flying) -> float:
        """Seconds from birth to the arena's left or right end, or its top."""
        side = self.arena.bounds.high[0] if shot.vx > 0 else self.arena.bounds.low[0]
        square = shot.vz**2 - 2 * shot.gravity * (self.arena.bounds.high[1] - shot.z)
        up = (shot.vz - sqrt(square)) / shot.gravity if square >= 0 and shot.vz > 0 else inf
        return min(up, (side - shot.x) / shot.vx)

    def die(self, body: Body) -> None:
        """A death and what follows from it."""
        body.alive = False
        body.lives -= 1
        body.attack = None
        self.tell("died", body.seat, float(body.lives))
        body.corpse_until = self.tick + 1 + self.in_ticks(body.table.corpse_seconds)
        if body.lives:
            body.back = self.tick + 1 + self.in_ticks(body.table.respawn_seconds)


def place(written: str | tuple[float, ...], table: Fighter, attack: Attack | None = None) -> tuple[float, ...]:
    """An offset; a joint is where its fighter holds it, or has it at the release of an attack that poses it."""
    if isinstance(written, tuple):
        return written
    keys = attack.poses.get(written, ()) if attack else ()
    at_release = [key.offset for key in keys if attack and key.at == attack.windup]
    return at_release[0] if at_release else table.joints[written]


def radius_of(shot: Flying) -> float:
    """The radius of what flies."""
    return shot.attack.shot.radius if shot.attack.shot else 0.0


def touch(x0: float, z0: float, x1: float, z1: float, body: Body, hurtbox: Hurtbox, reach: float) -> float | None:
    """Fraction of the straight path at which it first comes within `reach` of an upright or pointlike hurtbox."""
    ax, az = body.x + body.ahead * place(hurtbox.from_, body.table)[0], body.z + place(hurtbox.from_, body.table)[1]
    top = place(hurtbox.to or hurtbox.from_, body.table)
    bz = body.z + top[1]
    low, high = min(az, bz), max(az, bz)
    dx, dz = x1 - x0, z1 - z0
    found = []
    if dx:
        for side in (-reach, reach):
            t = (ax + side - x0) / dx
            if 0 <= t <= 1 and low <= z0 + t * dz <= high:
                found.append(t)
    for cz in (low, high):
        a, b, c = dx * dx + dz * dz, (x0 - ax) * dx + (z0 - cz) * dz, (x0 - ax) ** 2 + (z0 - cz) ** 2 - reach * reach
        if c <= 0:
            return 0.0
        if b * b >= a * c:
            t = (-b - sqrt(b * b - a * c)) / a
            if 0 <= t <= 1:
                found.append(t)
    return min(found, default=None)
