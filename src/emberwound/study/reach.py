"""How far an attack comes, and whom it touches first: two who stand face to face, tried in bouts on open ground."""

from __future__ import annotations

from fractions import Fraction
from functools import lru_cache
from math import inf
from typing import TYPE_CHECKING, NamedTuple

import msgspec
import numpy as np

from emberwound.bout import Bout
from emberwound.plan.compile import compile_plan
from emberwound.plan.solids import extent
from emberwound.plan.stances import at_rest, hitbox_solid
from emberwound.rulebook.attack_timeline import AttackTimeline
from emberwound.rulebook.models.arenas import Arena, Bounds
from emberwound.rulebook.outline import known_name, refuse
from emberwound.rulebook.rules import Rules
from emberwound.vocabulary.clock import ticks_in
from emberwound.vocabulary.events import Guarded, Healed, Wounded

if TYPE_CHECKING:
    from collections.abc import Iterable, Iterator

    from emberwound.bout import Seat
    from emberwound.vocabulary.orders import Facing

GROUND, OWNER, FOE = "open ground", "owner", "foe"

WIDE = 100_000.0
"""Lengths from the middle of the open ground to its edges; nothing is tried further away than a tenth of that."""

STEPS = 24
"""Distances from the furthest to the nearest that are tried one after the other."""

HALVINGS = 12
"""How often the step between the last miss and the first hit is halved."""

SHARES = np.linspace(0.0, 1.0, 9)
"""Moments of a hitbox's time at which it is looked how far it comes at the most."""

HARDY = 1000.0
"""By so much the vital pool of a foe is larger that is to outlive a hit."""

HEIGHTS = 4.0
"""Who stands before somebody who shoots is no further away than so many of its heights."""

LONGEST = 5
"""Seconds for which what an attack sends out is followed."""


class Reach(msgspec.Struct, frozen=True, kw_only=True):
    """How far an attack comes: to whom, standing face to face with its owner on open, level ground, unguarded.

    It is pressed once, uncharged, with an aim straight ahead; what it sends out is followed for five seconds. Distances
    are between the middles of the two bodies. It is tried at 25 of them, from the furthest inwards, and refined between
    a miss and the first hit.
    """

    attack: str
    """Which attack."""
    by: str
    """Which fighter does it."""
    victim: str
    """Which fighter stands before it."""
    touching: float
    """How far apart they stand body against body."""
    distance: float | None
    """How far away the victim can stand and is hit still; none if it is hit nowhere."""
    hurtbox: str | None
    """Hurtbox that is met first at that distance."""


class Touch(NamedTuple):
    """That an attack met a body on open ground: in which tick, which hurtbox, by which hitbox."""

    tick: int
    hurtbox: str
    hitbox: str | None


def owner_of(rules: Rules, attack: str, by: str | None = None) -> str:
    """The fighter that does an attack: the one named, else the first that has it.

    Raises RulebookError for names that the book does not have, and for an attack that it does not have, or nobody.
    """
    known_name("attack", attack, rules.book.attacks)
    fighters = rules.book.fighters
    owners = [name for name, each in fighters.items() if attack in each.all_attacks]
    if by is not None and known_name("fighter", by, fighters) not in owners:
        raise refuse("by", by, f"it does not have {attack}; known: {', '.join(owners)}")
    if not owners:
        raise refuse("attack", attack, "no fighter has it; give it to one")
    return by or owners[0]


@lru_cache(maxsize=64)
def on_open_ground(rules: Rules, arena: str) -> Rules:
    """The rules with one arena alone: open and level, with the space and the gravity of one of the book's."""
    like = rules.book.arenas[arena]
    axes = len(like.bounds.low)
    ground = Arena(
        space=like.space,
        gravity=like.gravity,
        floor=None if like.space == "top" else 0.0,
        body_contact=like.body_contact,
        bounds=Bounds(low=(-WIDE,) * axes, high=(WIDE,) * axes),
    )
    settings = rules.book.settings.model_copy(update={"max_seats": max(rules.book.settings.max_seats, 2)})
    book = rules.book.model_copy(update={"arenas": {GROUND: ground}, "bouts": {}, "settings": settings})
    return Rules(book, rules.source, rules.steps, ())


class Stand(NamedTuple):
    """Where a victim stands before an attacker, the hurtbox with which it meets the attack first, and the hitbox."""

    distance: float
    hurtbox: str
    hitbox: str | None


class FaceToFace:
    """A bout of two on open ground, so far apart: the owner of an attack, and before it a foe who looks at it.

    Who is `hardy` has a vital pool that no usual wound empties.
    """

    def __init__(self, rules: Rules, arena: str, by: str, victim: str, distance: float, *, hardy: bool = False) -> None:
        self.bout = Bout(on_open_ground(rules, arena), arena=GROUND)
        there = [0.0] * len(rules.book.arenas[arena].bounds.low)
        away: Facing = "left" if rules.book.arenas[arena].space == "side" else 180.0
        self.owner = self.bout.enter(by, at=there, seat=OWNER, lives="endless")
        there[0] = distance
        table = rules.book.fighters[victim].pools
        pools = {name: HARDY * pool.max for name, pool in table.items() if pool.vital and hardy}
        self.foe = self.bout.enter(victim, at=there, seat=FOE, facing=away, lives="endless", pools=pools)

    def press(self, seat: Seat, attack: str) -> None:
        """Let one of the two attack straight at the other."""
        ahead = [0.0] * len(self.owner.position or ())
        ahead[0] = 1.0 if seat == self.owner else -1.0
        seat.order(press=attack, aim=ahead)

    def distance(self) -> float:
        """How far apart the middles of the two are along the ground."""
        here, there = self.owner.position, self.foe.position
        return inf if here is None or there is None else abs(there[0] - here[0])

    def guard(self) -> None:
        """Let the foe hold its guard for a second, so that it is no perfect one."""
        self.foe.order(hold="guard")
        for _ in range(self.bout.tick_rate):
            self.bout.step()

    def first_touch(self, by: Seat, attack: str, ticks: int) -> Touch | None:
        """Run on until an attack of one, or its blast, meets the other; at the most for so many ticks."""
        return next(self._touches(by, attack, ticks), None)

    def until_last_touch(self, by: Seat, attack: str, ticks: int) -> list[Touch]:
        """Run on until an attack of one has met the other for the last time within so many ticks; each of its touches.

        Without any it stands where those ticks end.
        """
        found: list[Touch] = []
        for touch in self._touches(by, attack, ticks):
            found.append(touch)
            saved = self.bout.snapshot()
        if found:
            self.bout.restore(saved)
        return found

    def _touches(self, by: Seat, attack: str, ticks: int) -> Iterator[Touch]:
        """Run ticks until an attack is over with all that it sent out, and each of its touches, as it comes."""
        for _ in range(ticks):
            touch = self._touch(by, attack)
            if touch is not None:
                yield touch
            if attack not in by.states and not self.bout.shots:
                return

    def _touch(self, by: Seat, attack: str) -> Touch | None:
        """Run one tick; the first touch of an attack of one, or of its blast, in it."""
        names = (attack, self.bout.rules.book.attacks[attack].blast)
        for event in self.bout.step():
            if not isinstance(event, Wounded | Healed | Guarded):
                continue
            if event.attack in names and event.by == by.name and event.seat != by.name:
                return Touch(event.tick, event.hurtbox, event.hitbox)
        return None


def reach_of(rules: Rules, attack: str, victim: str, *, by: str | None = None, arena: str | None = None) -> Reach:
    """How far an attack comes; by the first fighter that has it, with the space and gravity of the first arena.

    Raises RulebookError for names that the book does not have, an attack that nobody has, and a book without arenas.
    """
    book, owner = rules.book, owner_of(rules, attack, by)
    known_name("fighter", victim, book.fighters)
    if not book.arenas:
        raise refuse("arena", "none in the book", "an attack is tried in the space of an arena; give the book one")
    where = known_name("arena", next(iter(book.arenas)) if arena is None else arena, book.arenas)
    return _reach(rules, attack, victim, owner, where)


@lru_cache(maxsize=1024)
def _reach(rules: Rules, attack: str, victim: str, owner: str, arena: str) -> Reach:
    near = _touching(rules, owner, victim)
    far = max(near + _furthest(rules, attack, victim, owner, arena), near)
    ticks = longest(rules, attack)
    touch, last, missed = None, near, near
    for share in np.linspace(1.0, 0.0, STEPS + 1).tolist():
        last = near + share * (far - near)
        touch = _touch_at(rules, attack, victim, owner, arena, last, ticks)
        if touch is not None:
            break
        missed = last
    for _ in range(HALVINGS if touch and missed > last else 0):
        between = (last + missed) / 2.0
        found = _touch_at(rules, attack, victim, owner, arena, between, ticks)
        touch, last, missed = (touch, last, between) if found is None else (found, between, missed)
    return Reach(
        attack=attack,
        by=owner,
        victim=victim,
        touching=near,
        distance=last if touch else None,
        hurtbox=touch.hurtbox if touch else None,
    )


PLACES = (0.5, 0.0, 0.25, 0.75)
"""Where a victim stands in front, as shares of the way from body against body to the end of a reach, in this order."""


def stands_before(rules: Rules, attack: str, victim: str) -> Stand | None:
    """What an attack meets first of a fighter who stands in front, halfway into its reach; None if it hits nowhere.

    The reach is that of a strike's hitboxes as they stand, and of what is shot no more than a few heights of its owner.
    Where it passes there, other places are tried. None too of a prop, an attack that nobody has, and a book without
    arenas. One bout is enough for most attacks, where the exact `reach_of` takes some thirty.
    """
    is_owned = any(attack in each.all_attacks for each in rules.book.fighters.values())
    arena = next(iter(rules.book.arenas), None)
    if arena is None or not is_owned or victim not in rules.book.fighters:
        return None
    return _stands_before(rules, attack, victim, owner_of(rules, attack), arena)


@lru_cache(maxsize=1024)
def _stands_before(rules: Rules, attack: str, victim: str, owner: str, arena: str) -> Stand | None:
    near = _touching(rules, owner, victim)
    table, foe = rules.book.attacks[attack], rules.book.fighters[victim].body
    far = _extent(rules, attack, owner, arena) + foe.radius if table.strike is not None else near
    if table.strike is None or table.lunge is not None:
        sent = _furthest(rules, attack, victim, owner, arena)
        far = max(far, min(near + sent, near + HEIGHTS * rules.book.fighters[owner].body.height))
    distances = (near + share * max(far - near, 0.0) for share in PLACES)
    return _first_stand(rules, attack, victim, owner, arena, distances)


def nearest_stand(rules: Rules, told: Reach, arena: str) -> Stand | None:
    """The same of a fighter who stands body against body; where the attack passes there, halfway into its reach."""
    if told.distance is None:
        return None
    halfway = (told.touching + told.distance) / 2.0
    places = (told.touching, halfway, told.distance)
    return _first_stand(rules, told.attack, told.victim, told.by, arena, places)


def _first_stand(
    rules: Rules, attack: str, victim: str, owner: str, arena: str, distances: Iterable[float]
) -> Stand | None:
    """The first of some distances at which an attack meets its victim."""
    for distance in distances:
        touch = _touch_at(rules, attack, victim, owner, arena, distance, longest(rules, attack))
        if touch is not None:
            return Stand(distance, touch.hurtbox, touch.hitbox)
    return None


def _touching(rules: Rules, owner: str, victim: str) -> float:
    """How far apart two fighters stand body against body."""
    return rules.book.fighters[owner].body.radius + rules.book.fighters[victim].body.radius


def _touch_at(
    rules: Rules, attack: str, victim: str, owner: str, arena: str, distance: float, ticks: int
) -> Touch | None:
    """What an attack meets of somebody who stands so far away."""
    pair = FaceToFace(rules, arena, owner, victim, distance)
    pair.press(pair.owner, attack)
    return pair.first_touch(pair.owner, attack, ticks)


def longest(rules: Rules, attack: str) -> int:
    """The ticks after its press in which an attack may meet somebody, from its windup to the end of its last shot."""
    table, settings = rules.book.attacks[attack], rules.book.settings
    seconds = AttackTimeline.of(table, settings.frame_rate).whole
    seconds += table.shot.life.seconds(settings.frame_rate) if table.shot else 0
    return ticks_in(min(seconds, Fraction(LONGEST)), settings.tick_rate) + 2


def _furthest(rules: Rules, attack: str, victim: str, owner: str, arena: str) -> float:
    """A distance beyond which an attack meets nobody, measured from body against body."""
    table, rate = rules.book.attacks[attack], rules.book.settings.frame_rate
    launch, far = table.shot or table.ray, 0.0
    if table.strike is not None:
        far = _extent(rules, attack, owner, arena)
    if launch is not None:
        speed = table.shot.speed * max(table.charge.speed if table.charge else 1.0, 1.0) if table.shot else inf
        life = min(float(table.shot.life.seconds(rate)), LONGEST) if table.shot else 1.0
        far = min(speed * life, inf if launch.range is None else launch.range)
    far += rules.book.blasts[table.blast].radius if table.blast else 0.0
    if table.lunge is not None:
        far += table.lunge.speed * float(AttackTimeline.of(table, rate).whole)
    body, foe = rules.book.fighters[owner].body, rules.book.fighters[victim].body
    return min(far + 2.0 * (body.radius + foe.radius) + body.height, WIDE / 10.0)


def _extent(rules: Rules, attack: str, owner: str, arena: str) -> float:
    """How far ahead of its owner's middle the hitboxes of a strike come."""
    plan = compile_plan(on_open_ground(rules, arena), GROUND, rules.book.settings.tick_rate)
    body = plan.fighter(owner)
    planned = next((each for each in body.attacks if each.name == attack), None) if body else None
    if body is None or planned is None or planned.strike is None:
        return 0.0
    rest = at_rest(plan, body, (0.0, 0.0, 0.0), (1.0, 0.0))
    boxes = [hitbox_solid(plan, each.entry, rest, share) for each in planned.strike.windows for share in SHARES]
    return max(float(extent(box).high[0]) for box in boxes)
