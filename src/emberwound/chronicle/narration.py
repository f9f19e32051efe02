"""Events as sentences: what happened when, to whom, and what is left."""

from __future__ import annotations

from math import atan2, degrees, hypot
from typing import TYPE_CHECKING

import msgspec

from emberwound.rulebook.rules import carries_nothing
from emberwound.vocabulary.events import (
    WHOLE_BODY,
    AfflictionBegan,
    AfflictionEnded,
    AttackBegan,
    BodyRemoved,
    Bounced,
    BoutEnded,
    BoutRestarted,
    ChargeBegan,
    CheckpointReached,
    Died,
    Eliminated,
    Exploded,
    Grabbed,
    GrabEnded,
    GrabFailed,
    Guarded,
    Healed,
    Interrupted,
    KnockedBack,
    Landed,
    LifeLost,
    OrderRefused,
    PickedUp,
    PoolEmptied,
    PropPlaced,
    PropStruck,
    ReactionBegan,
    ReactionEnded,
    Released,
    Respawned,
    SeatEntered,
    SeatLeft,
    ShotEnded,
    ShotReflected,
    ShotStruck,
    StageBegan,
    StrikeBlocked,
    SwingEnded,
    Wounded,
)
from emberwound.vocabulary.ledger import amount
from emberwound.vocabulary.reasons import Reason

if TYPE_CHECKING:
    from collections.abc import Iterator, Mapping, Sequence

    from emberwound.chronicle.chronicle import Chronicle
    from emberwound.rulebook.models import Book
    from emberwound.vocabulary.events import Event


class Line(msgspec.Struct, frozen=True):
    """One sentence of the story; `left` and `most` are the vital points of `seat` where it lost some."""

    time: float
    """When, in seconds of the bout."""
    tick: int
    """In which tick."""
    event: str
    """Type of the event, as in files."""
    text: str
    """The sentence."""
    seat: str | None = None
    """Whom it happened to."""
    left: float | None = None
    """Vital points left, after a wound."""
    most: float | None = None
    """The most vital points."""


def tell_story(chronicle: Chronicle, whys: Mapping[int, str] | None = None) -> Iterator[Line]:
    """The story of a bout, a line for each event that a reader would miss, in order of time.

    `whys` are sentences that are added to events, by their `seq`, such as `run --why` adds.
    """
    added = whys or {}
    narrator = Narrator(chronicle.header.tick_rate, chronicle.rules.book)
    for event in sorted(chronicle.events, key=lambda each: each.time):
        text = narrator.sentence(event)
        if text:
            text += f"; {added[event.seq]}" if event.seq in added else ""
            name = str(event.__struct_config__.tag)
            wound = event if isinstance(event, Wounded) else None
            left, most = (wound.vital_left, wound.vital_max) if wound else (None, None)
            yield Line(event.time, event.tick, name, text, event.seat, left, most)


class Narrator:
    """Puts events of a book's bouts into sentences, at so many ticks a second."""

    def __init__(self, tick_rate: int, book: Book) -> None:
        self.rate = tick_rate
        self.units = book.settings.units
        self._book = book
        self._idle = {name for name, attack in book.attacks.items() if carries_nothing(attack)}

    def sentence(self, event: Event) -> str | None:
        """What a reader reads of an event; None where it follows from others."""
        parts = (
            self._of_shots,
            self._of_struck_shots,
            self._of_strikes,
            self._of_grabs,
            self._of_hits,
            self._of_knockback,
            self._of_afflictions,
            self._of_orders,
            self._of_bodies,
            self._of_areas,
            self._of_the_bout,
        )
        return next((text for part in parts if (text := part(event))), None)

    def _of_orders(self, event: Event) -> str | None:
        if isinstance(event, OrderRefused):
            wait = "a moment" if event.wait_ticks is None else self._seconds(event.wait_ticks)
            said = event.reason.say(wait=wait, pool=event.pool, needs=_figure(event.needs), has=_figure(event.has))
            return f"{event.seat}: {event.order} refused: {said}"
        if isinstance(event, ChargeBegan):
            return f"{event.seat} charges {event.attack}"
        if isinstance(event, AttackBegan) and event.attack in self._idle:
            return f"{event.seat} strikes with nothing: {event.attack} has no shot, ray, strike or blast"
        if isinstance(event, AttackBegan) and event.follows:
            return f"{event.seat}'s {event.attack} follows {event.follows}"
        if isinstance(event, Interrupted) and event.reason is not Reason.FOLLOWED:
            how = " by damage" if event.reason is Reason.WOUNDED else f": {event.reason.say()}"
            return f"{event.seat}'s {event.attack} is interrupted{how}"
        return None

    def _of_shots(self, event: Event) -> str | None:
        if isinstance(event, Released):
            return f"{event.by} fires {event.attack} {event.shot} from {_point(event.position)}"
        if isinstance(event, Bounced):
            what = f"the wall {event.wall}" if event.wall else "the floor"
            return f"{event.by}'s {event.attack} {event.shot} bounces off {what} at {_point(event.position)}"
        if isinstance(event, ShotEnded) and event.reason is not Reason.HIT:
            said = event.reason.say(place=_point(event.position), wall=event.wall)
            return f"{event.by}'s {event.attack} {event.shot} {said}"
        return None

    def _of_struck_shots(self, event: Event) -> str | None:
        if isinstance(event, ShotStruck) and event.left:
            return f"{self._hit(event)} hits {event.seat}'s {event.struck_attack} {event.struck}: {event.left:g} left"
        if isinstance(event, ShotReflected):
            return f"{event.by}'s {event.reflected_by} sends {event.seat}'s {event.attack} {event.shot} back"
        return None

    def _of_grabs(self, event: Event) -> str | None:
        if isinstance(event, Grabbed):
            return f"{event.by} holds {event.seat} with {event.attack}"
        if isinstance(event, GrabFailed):
            return f"{event.by}'s {event.attack} does not hold {event.seat}: {event.reason.say()}"
        if isinstance(event, GrabEnded):
            return f"{event.by} releases {event.seat}: {event.reason.say()}"
        return None

    def _of_strikes(self, event: Event) -> str | None:
        if isinstance(event, Exploded):
            whose = f"{event.by}'s {event.blast}" if event.by else f"the {event.blast}"
            return f"{whose} explodes at {_point(event.position)}"
        if isinstance(event, SwingEnded) and not event.touched:
            how = " (interrupted)" if event.cut_off else ""
            return f"{event.by} misses with {event.attack}{how}"
        if isinstance(event, StrikeBlocked):
            what = f"{event.by}'s {event.attack} ({event.hitbox})"
            return f"{what} is blocked by the wall {event.wall} before {event.seat}'s {event.hurtbox}"
        return None

    def _of_hits(self, event: Event) -> str | None:
        if isinstance(event, Wounded):
            return self._wounded(event)
        if isinstance(event, Guarded):
            return self._guarded(event)
        if isinstance(event, Healed):
            gains = ", ".join(amount(gain.after - gain.before, gain.pool) for gain in event.ledger.losses)
            healed = gains if gains and event.amount else "nothing"
            return f"{self._hit(event)} heals {event.seat}: {healed}"
        if isinstance(event, PropStruck):
            return f"{self._hit(event)} hits {event.seat}'s {event.hurtbox}"
        if isinstance(event, PoolEmptied):
            return f"{event.seat}'s {event.pool} is empty"
        return None

    def _of_afflictions(self, event: Event) -> str | None:
        if isinstance(event, AfflictionBegan):
            count = f", {event.count} at once" if event.count > 1 else ""
            by = f" by {event.by}" if event.by else ""
            return f"{event.seat} is {event.affliction}{by}{count}"
        if isinstance(event, AfflictionEnded):
            return f"{event.seat} is no longer {event.affliction}: {event.reason.say()}"
        return None

    def _of_knockback(self, event: Event) -> str | None:
        if isinstance(event, KnockedBack):
            speed = hypot(*event.velocity)
            way = _way(event.velocity) if speed else ""
            return f"{event.seat} is knocked back at {speed:.3g} {self.units}/s {way}" if speed else None
        if isinstance(event, Landed):
            return f"{event.seat} lands at {_point(event.position)}"
        if isinstance(event, ReactionBegan):
            how = event.reaction if event.variant == event.reaction else f"{event.reaction} ({event.variant})"
            side = f" from {event.side}" if event.side == "above" else f" from the {event.side}"
            return f"{event.seat} reacts{side}: {how} for {self._seconds(event.until_tick - event.tick - 1)}"
        if isinstance(event, ReactionEnded) and event.guarding:
            return f"{event.seat}'s guard is up again"
        return None

    def _guarded(self, event: Guarded) -> str:
        passes = "nothing passes" if event.share == 0.0 else f"{event.share:.0%} passes"
        how = "perfect guard, " if event.perfect else ""
        cost = f", {event.drained:g} drained" if event.drained else ""
        ends = ", the guard breaks" if event.broken else ""
        return f"{event.seat} guards against {self._hit(event)}: {how}{passes}{cost}{ends}"

    def _of_bodies(self, event: Event) -> str | None:  # noqa: PLR0911
        if isinstance(event, SeatEntered):
            looks = _facing(event.facing)
            many = "endless" if event.lives is None else str(event.lives)
            lives = "" if event.lives == 1 else f", {many} lives"
            side = f", of team {event.team}" if event.team else ""
            return f"{event.seat} ({event.fighter}) enters at {_point(event.position)}, facing {looks}{lives}{side}"
        if isinstance(event, PropPlaced):
            return f"{event.seat} ({event.prop}) stands at {_point(event.position)}"
        if isinstance(event, Died):
            wait = None if event.respawn_tick is None else self._seconds(event.respawn_tick - event.tick - 1)
            back = f"respawns in {wait}" if wait else "with no life left"
            what = f"{event.by}'s {event.attack}" if event.by else self._nobodys(event.attack)
            return f"{event.seat} dies to {what}, {back}"
        if isinstance(event, Respawned):
            return _of_respawn(event)
        if isinstance(event, StageBegan):
            return f"{event.seat}'s stage {event.stage} begins"
        if isinstance(event, BodyRemoved):
            why = "" if event.reason is Reason.CORPSE_TIME_OVER else f": {event.reason.say()}"
            return f"{event.seat}'s corpse is removed{why}"
        return None

    def _of_areas(self, event: Event) -> str | None:
        if isinstance(event, CheckpointReached):
            team = " for all its team" if event.whole_team else ""
            return f"{event.seat} reaches {event.checkpoint}{team}"
        if isinstance(event, PickedUp):
            gains = [amount(float(f"{points:.3g}"), pool) for pool, points in event.gained.items() if points]
            gains += [amount(points, counter) for counter, points in event.counted.items()]
            gains += [f"{event.lives} {'life' if event.lives == 1 else 'lives'}"] if event.lives else []
            return f"{event.seat} takes {event.pickup}: {', '.join(gains)}"
        return None

    def _of_the_bout(self, event: Event) -> str | None:
        if isinstance(event, LifeLost) and event.lives_left:
            return f"{event.seat} has {event.lives_left} {'life' if event.lives_left == 1 else 'lives'} left"
        if isinstance(event, SeatLeft):
            return f"{event.seat} leaves"
        if isinstance(event, Eliminated):
            return event.message
        if isinstance(event, BoutEnded):
            won = f": {event.winner} wins" if event.winner else ": nobody is left" if event.draw else ""
            return f"the bout is over{won}"
        if isinstance(event, BoutRestarted):
            return "the bout restarts"
        return None

    def _wounded(self, event: Wounded) -> str:
        lost = ", ".join(amount(loss.before - loss.after, loss.pool) for loss in event.ledger.losses) or "nothing"
        over = f", {event.ledger.overkill:g} overkill" if event.ledger.overkill else ""
        if event.hurtbox == WHOLE_BODY:
            what = f"{self._hit(event)} hurts {event.seat}"
        else:
            what = f"{self._hit(event)} hits {event.seat}'s {event.hurtbox}"
        return f"{what}{_reckoning(event)}: {lost} lost{over}"

    def _hit(self, event: Wounded | Guarded | Healed | PropStruck | ShotStruck) -> str:
        """What hit: somebody's shot by its id, somebody's strike by its hitbox, or a hazard."""
        which = f" {event.shot}" if event.shot else f" ({event.hitbox})" if event.hitbox else ""
        return f"{event.by}'s {event.attack}{which}" if event.by else self._nobodys(event.attack)

    def _nobodys(self, attack: str) -> str:
        """What hit that is nobody's: a hazard, or an affliction or a blast that somebody else's end left behind."""
        known = self._book.afflictions.keys() | self._book.blasts.keys() | self._book.attacks.keys()
        return f"the {attack}" if attack in known else f"the hazard {attack}"

    def _seconds(self, ticks: int) -> str:
        return f"{ticks / self.rate:.3g} s ({amount(ticks, 'ticks')})"


def _reckoning(event: Wounded) -> str:
    """How the points came about: the base times the hurtbox, or which steps made what of them."""
    base = event.ledger.steps[0].before
    steps = [step for step in event.ledger.steps if not step.rule.startswith(("pool ", "overkill", "lost"))]
    changed = [step.rule for step in steps if step.before != step.after]
    if not changed or not event.amount:
        return f" ({base:g} -> 0 by {', '.join(dict.fromkeys(changed))})" if changed else ""
    if changed == ["hurtbox"]:
        return f" ({base:g} × {event.amount / base:g})"
    return f" ({base:g} -> {event.amount:g} by {', '.join(dict.fromkeys(changed))})"


def _way(velocity: tuple[float, ...]) -> str:
    """A velocity's direction: along the first axis, and up or along the last."""
    return f"towards {_point(tuple(each / hypot(*velocity) for each in velocity))}"


def _figure(value: float | None) -> str:
    return "" if value is None else f"{value:g}"


def _facing(ahead: Sequence[float]) -> str:
    """The side somebody looks to, or degrees from +x for all other ways."""
    x, y = ahead[0], ahead[1] if len(ahead) > 1 else 0.0
    if y == 0.0:
        return "right" if x > 0.0 else "left"
    return f"{degrees(atan2(y, x)) % 360.0:.3g} degrees"


def _point(point: tuple[float, ...]) -> str:
    return f"({', '.join(f'{round(each, 2) + 0.0:g}' for each in point)})"


def _of_respawn(event: Respawned) -> str:
    if event.by:
        return f"{event.by} revives {event.seat} at {_point(event.position)}, life {event.life}"
    where = f" by {event.checkpoint}" if event.checkpoint else ""
    moved = ", the nearest free spot" if event.moved else ", no spot is free" if event.crowded else ""
    return f"{event.seat} respawns{where} at {_point(event.position)}{moved}, life {event.life}"
