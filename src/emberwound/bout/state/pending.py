"""What a tick gathers on its way and settles before it ends: hits, contacts, blasts, knockback, deaths."""

from __future__ import annotations

from typing import TYPE_CHECKING, Any, NamedTuple, Protocol

if TYPE_CHECKING:
    from emberwound.combat.reaction import HitSummary, Side
    from emberwound.plan.attack_plans import AttackPlan, HitPlan, StrikePlan
    from emberwound.plan.fighter_plans import FighterPlan
    from emberwound.plan.space import Vector


class Flight(NamedTuple):
    """What leaves a muzzle: of which body and seat, of which attack, from where, which way, and how charged."""

    body: int
    seat: int
    fighter: FighterPlan
    slot: int
    muzzle: Vector
    direction: Vector
    charge: float
    began: int

    @property
    def attack(self) -> AttackPlan:
        """The attack it is of."""
        return self.fighter.attacks[self.slot]


class Ray(NamedTuple):
    """A ray that has left and is not yet judged: its flight, its id, and the `seq` of its release."""

    flight: Flight
    shot: int
    released: int

    @property
    def attack(self) -> AttackPlan:
        """The attack it is of."""
        return self.flight.attack


class Hit(NamedTuple):
    """What hits: whose (below 0 nobody's), called what, what it does, and from which event.

    Then by which shot (0 for none) or hitbox, the factor of its charge-up and from how far; where it comes from, or
    else how it moves and where it left; how strong its push is; the body that strikes; whether it is fatal, and whether
    it is an affliction's, which asks no guard and moves nobody; the seat credited before its own; its blast; and
    whether a host gave it, or it is a throw, which asks no guard and hits the whole body.
    """

    by: int
    name: str
    plan: HitPlan
    cause: int | None
    shot: int = 0
    hitbox: str | None = None
    charge: float | None = None
    distance: float = 0.0
    source: Vector | None = None
    travel: Vector = (0.0, 0.0, 0.0)
    origin: Vector = (0.0, 0.0, 0.0)
    strength: float = 1.0
    striker: int = -1
    fatal: bool = False
    lingers: bool = False
    credit: int = -1
    blast: PendingBlast | None = None
    hosted: bool = False
    throws: bool = False


class Contact(NamedTuple):
    """What a hit touches: the index of the hurtbox among the shapes, the place, and the exact time in seconds."""

    shape: int
    position: Vector
    time: float


class VolumeContact(NamedTuple):
    """What a strike or an area touches: at which fraction of the tick, and where; the indexes of both shapes."""

    share: float
    position: Vector
    volume: int
    shape: int


class HitLocation(NamedTuple):
    """Where and when a hit landed: the body, its hurtbox's index, the place, and the exact time in seconds."""

    body: int
    part: int
    position: Vector
    time: float


class Judged(Protocol):
    """A contact that knows how it is judged."""

    def judge(self, world: Any) -> list[QueuedContact]:
        """Let it take effect in a world; the entries that follow from it in the same tick."""


class QueuedContact(NamedTuple):
    """An entry of the queue of a tick, and what decides when its turn comes.

    That is the fraction of the tick, then at one instant the attacker's seat, the id of the shot, the hitbox,
    and the victim's body. `shape` is what it touches, among the shapes: a hurtbox, a wall, or -1 for none of them.
    """

    order: tuple[float, int, int, int, int]
    contact: Judged
    shape: int = -1


class PendingGrab(NamedTuple):
    """That a strike of a body held another, by an attack of its slot, when, and by which event."""

    holder: int
    victim: int
    slot: int
    time: float
    cause: int


class PendingReaction(NamedTuple):
    """A hit of this tick as reactions see it: what it was like, when, by whom, its event, and if the body may react."""

    summary: HitSummary
    time: float
    by: str | None
    cause: int
    staggers: bool


class AfflictionTick(NamedTuple):
    """A wound that an affliction deals in this tick: to which body, which affliction, whose, how strong, its event."""

    body: int
    affliction: int
    by: int
    strength: float
    cause: int


class Swing:
    """What the contacts of one swing in a tick share: whose it is, its attack, and where its owner is.

    `body` is where its owner is at the start and at the end of the tick, `hits` what was made of its hitboxes already.
    """

    __slots__ = ("attack", "body", "by", "cause", "charge", "hits", "strike", "striker")

    def __init__(
        self,
        striker: int,
        by: int,
        attack: AttackPlan,
        strike: StrikePlan,
        cause: int,
        charge: float | None,
        body: list[float],
    ) -> None:
        self.striker = striker
        self.by = by
        self.attack = attack
        self.strike = strike
        self.cause = cause
        self.charge = charge
        self.body = body
        self.hits: dict[int, Hit] = {}

    @property
    def moves(self) -> bool:
        """Whether its owner moves in this tick."""
        return self.body[:3] != self.body[3:]

    def place(self, share: float) -> Vector:
        """Where its owner is at a fraction of the tick."""
        ax, ay, az, bx, by, bz = self.body
        return (ax + (bx - ax) * share, ay + (by - ay) * share, az + (bz - az) * share)


class PendingBlast(NamedTuple):
    """A blast about to go off: which, whose, at which fraction of the tick and where, from which event.

    `spared` is a body it leaves out, or -1; `shot` the id of the shot it comes from, or 0; `credit` the seat that the
    death which set it off is credited to, or -1.
    """

    blast: int
    by: int
    share: float
    place: Vector
    cause: int | None
    spared: int = -1
    shot: int = 0
    credit: int = -1


class PendingKnockback(NamedTuple):
    """A push of this tick: its velocity, whether it replaces, when it came, from which event, by whom, and where."""

    velocity: Vector
    replaces: bool
    time: float
    cause: int | None
    by: str | None
    place: Vector
    blast: PendingBlast | None = None


class Reached(NamedTuple):
    """A touch of a checkpoint or pickup, by its place among them: by which seat's body, at which exact tick."""

    place: int
    seat: int
    body: int
    tick: float


class LethalHit:
    """The hit that brought a body's vital pool to zero in this tick; `by` is None for a hazard's."""

    __slots__ = ("attack", "body", "by", "hurtbox", "overkill", "side", "time", "wound")

    def __init__(
        self,
        body: int,
        wound: int,
        time: float,
        by: str | None,
        attack: str,
        hurtbox: str,
        side: Side | None = None,
    ) -> None:
        self.body = body
        self.wound = wound
        self.time = time
        self.by = by
        self.attack = attack
        self.hurtbox = hurtbox
        self.side = side
        self.overkill = 0.0
