"""How a fighter would react to an attack, and who of the two can act first then."""

from __future__ import annotations

from math import hypot
from typing import TYPE_CHECKING, Any, NamedTuple

import msgspec

from emberwound.combat.reaction import HitSummary, Side, choose
from emberwound.rulebook.outline import known_name, refuse
from emberwound.rulebook.terms import reaction_terms
from emberwound.study.asked_hit import asked_hit, is_prop, pool_values
from emberwound.study.reach import FaceToFace, Reach, longest, nearest_stand, owner_of, reach_of
from emberwound.vocabulary.clock import ticks_in
from emberwound.vocabulary.events import AttackBegan

if TYPE_CHECKING:
    from collections.abc import Mapping

    from emberwound.bout import Seat
    from emberwound.rulebook.rules import Rules


SIDES: tuple[Side, ...] = ("front", "back", "left", "right", "above")


class ReactionReport(msgspec.Struct, frozen=True, kw_only=True):
    """What a standing victim does after a hit: nothing, or a row of its table; its lock and hit stop in ticks.

    What kills leads to a row of the dying. `locked_ticks` is how long it cannot attack, hit stop not counted; `broken`
    says that its guard broke.
    """

    attack: str
    """Which attack."""
    victim: str
    """Which fighter."""
    hitbox: str | None
    """Hitbox of a strike."""
    blast: str | None
    """Blast, if it is by that."""
    guarded: bool
    """Whether a guard takes the hit."""
    broken: bool
    """Whether that breaks the guard."""
    kills: bool
    """Whether the hit kills."""
    reaction: str | None
    """Row of the table that fits; none: it does not react."""
    variants: tuple[str, ...]
    """Its variants."""
    seconds: float
    """How long it lasts."""
    ticks: int
    """The same in ticks."""
    locked_ticks: int
    """Ticks in which the victim cannot attack, hit stop not counted."""
    hit_stop: float
    """Seconds of hit stop before that."""
    hit_stop_ticks: int
    """The same in ticks."""
    blend_in: float
    """Seconds in which it grows to full strength."""
    blend_out: float
    """Seconds in which it fades."""


def reaction_report(
    rules: Rules,
    attack: str,
    victim: str,
    *,
    side: Side = "front",
    pools: Mapping[str, float] | None = None,
    survives: bool = False,
    **how: Any,
) -> ReactionReport:
    """The report behind `Rulebook.reaction`; `how` is as `asked_hit` takes it, and who `survives` is not killed.

    Raises RulebookError for names the book does not have.
    """
    settings = rules.book.settings
    known_name("side", side, SIDES)
    if is_prop(rules, victim):
        raise refuse("victim", victim, "a prop does not react; ask for its knockback_path")
    known_name("fighter", victim, rules.book.fighters)
    hit = asked_hit(rules, attack, victim, **how)
    result = hit.resolve(pool_values(hit, pools or {}))
    arena = next(iter(rules.book.arenas), None)
    impact = HitSummary(
        guarded=result.guard is not None,
        breaks=result.guard is not None and result.guard.breaks,
        side=side,
        hurtbox=hit.hurtbox.name,
        kind=hit.way.wound.kind,
        damage=result.amount,
        push=0.0 if arena is None else hypot(*hit.push(result, arena)),
        airborne=False,
        dying=result.kills and not survives,
    )
    fighter = rules.book.fighters[victim]
    rows = reaction_terms(fighter, settings.frame_rate)
    index = choose(rows, impact) if (result.staggers or impact.dying) and not hit.way.wound.heals else None
    terms = None if index is None else rows[index]
    stop = hit.way.options.hit_stop.seconds(settings.frame_rate)
    lasts = None if index is None else fighter.reactions[index].seconds.seconds(settings.frame_rate)
    ticks = 0 if lasts is None else ticks_in(lasts, settings.tick_rate)
    return ReactionReport(
        attack=attack,
        victim=victim,
        hitbox=hit.way.hitbox,
        blast=hit.way.blast,
        guarded=impact.guarded,
        broken=impact.breaks,
        kills=impact.dying,
        reaction=terms.name if terms else None,
        variants=terms.variants if terms else (),
        seconds=terms.seconds if terms else 0.0,
        ticks=ticks,
        locked_ticks=ticks if terms is not None and "attack" in terms.locks else 0,
        hit_stop=float(stop),
        hit_stop_ticks=ticks_in(stop, settings.tick_rate),
        blend_in=terms.blend_in if terms else 0.0,
        blend_out=terms.blend_out if terms else 0.0,
    )


MOST_SECONDS = 10
"""So long somebody waits for an attack to begin."""


class NextAttack(msgspec.Struct, frozen=True, kw_only=True):
    """An attack that one of the two can begin after a hit, pressed until it begins; the other does nothing more.

    Ticks count from the tick after the last touch.
    """

    attack: str
    """Which attack."""
    begins: int
    """Ticks until it begins."""
    lands: int | None
    """Ticks until it meets the other; none if it misses, or is not meant to meet anybody."""
    distance: float
    """Distance between the middles of the two when it lands, or after it if it does not."""
    reach: float | None
    """How far away the other can be and is still met by it, as `Rulebook.reach` gives it; none if it meets nobody."""


class Exchange(msgspec.Struct, frozen=True, kw_only=True):
    """What comes of one hit in a bout on open ground: who can attack first, and what each can then land on the other.

    The two stand body against body, or where the attack passes there, halfway into its reach. The victim does nothing
    until the last touch of the attack, and outlives it.
    """

    hit_ticks: tuple[int, ...]
    """Ticks in which it touches, counted from its start."""
    reaction: str | None
    """The victim's reaction after the last touch; none if it does not react."""
    answers: tuple[NextAttack, ...]
    """The victim's next attacks, those that land first, the soonest of them first."""
    follows: tuple[NextAttack, ...]
    """The owner's next attacks, in the same order."""
    victim_free: int
    """Ticks until the victim can begin an attack, or is free again if none of its attacks begins within ten seconds."""
    owner_free: int
    """Ticks until the owner can."""
    advantage: int
    """Ticks by which the owner can attack first; below 0 the victim."""

    @property
    def answer_lands(self) -> NextAttack | None:
        """The victim's attack that lands first; none if none does."""
        return _first_to_land(self.answers)

    @property
    def follow_lands(self) -> NextAttack | None:
        """The owner's attack that lands first; none if none does."""
        return _first_to_land(self.follows)


def _first_to_land(attacks: tuple[NextAttack, ...]) -> NextAttack | None:
    return next((each for each in attacks if each.lands is not None), None)


class Advantage(msgspec.Struct, frozen=True, kw_only=True):
    """Who can attack first after an attack has hit, and what each of the two can then land on the other.

    Reactions are those of its first hit. What comes of it is tried in a bout, so that cooldowns, windows in which an
    attack may follow, hit stop, costs, second touches, the way of a push and the reach of every attack count.
    """

    attack: str
    """Which attack."""
    by: str
    """Which fighter does it."""
    victim: str
    """Which fighter it hits."""
    reach: Reach | None
    """How far it comes; none in a book without arenas."""
    on_hit: ReactionReport
    """How the victim reacts, not guarded."""
    on_guard: ReactionReport | None
    """How the victim reacts, guarded; none without a guard."""
    after_hit: Exchange | None
    """What comes of it; none where it meets nobody who stands in front."""
    after_guard: Exchange | None
    """What comes of it when it is guarded."""


def advantage_of(rules: Rules, attack: str, victim: str, *, by: str | None = None) -> Advantage:
    """Who can attack first after an attack hits, and the victim survives; by the first fighter that has it, or `by`.

    Raises RulebookError.
    """
    on_hit = reaction_report(rules, attack, victim, survives=True)
    guards = rules.book.fighters[victim].guard is not None and not rules.book.attacks[attack].throw
    arena = next(iter(rules.book.arenas), None)
    owner = owner_of(rules, attack, by)
    told = None if arena is None else reach_of(rules, attack, victim, by=owner, arena=arena)
    stand = None if told is None or arena is None else nearest_stand(rules, told, arena)
    setting = None if stand is None or told is None or arena is None else _Setting(rules, arena, told, stand.distance)
    return Advantage(
        attack=attack,
        by=owner,
        victim=victim,
        reach=told,
        on_hit=on_hit,
        on_guard=reaction_report(rules, attack, victim, guarded=True, survives=True) if guards else None,
        after_hit=_exchange(setting, guarded=False) if setting else None,
        after_guard=_exchange(setting, guarded=True) if setting and guards else None,
    )


class _Setting(NamedTuple):
    """Who does what to whom, in which arena's space, how far apart."""

    rules: Rules
    arena: str
    reach: Reach
    distance: float


def _exchange(setting: _Setting, *, guarded: bool) -> Exchange | None:
    """What comes of a hit; None if it does not come, or kills whatever it meets."""
    rules, told = setting.rules, setting.reach
    for hardy in (False, True):
        pair = FaceToFace(rules, setting.arena, told.by, told.victim, setting.distance, hardy=hardy)
        if guarded:
            pair.guard()
        begun = pair.bout.tick
        pair.press(pair.owner, told.attack)
        hits = pair.until_last_touch(pair.owner, told.attack, longest(rules, told.attack))
        if hits and pair.foe.alive:
            reaction = pair.foe.body.reaction if pair.foe.body else None
            pair.foe.order(hold=())
            answers = _next_attacks(setting, pair, pair.foe, told.victim, told.by)
            follows = _next_attacks(setting, pair, pair.owner, told.by, told.victim)
            free = [
                min((each.begins for each in found), default=_free(pair, seat))
                for found, seat in ((answers, pair.foe), (follows, pair.owner))
            ]
            return Exchange(
                hit_ticks=tuple(each.tick - begun for each in hits),
                reaction=reaction.name if reaction else None,
                answers=answers,
                follows=follows,
                victim_free=free[0],
                owner_free=free[1],
                advantage=free[0] - free[1],
            )
    return None


def _next_attacks(setting: _Setting, pair: FaceToFace, seat: Seat, fighter: str, other: str) -> tuple[NextAttack, ...]:
    """Each attack of one of the two, pressed from now on until it begins."""
    saved, now = pair.bout.snapshot(), pair.bout.tick
    found: list[NextAttack] = []
    for name in setting.rules.book.fighters[fighter].attacks:
        begun = _begun(pair, seat, name)
        if begun is not None and begun not in [(each.attack, each.begins) for each in found]:
            attack, begins = begun
            touch = pair.first_touch(seat, attack, longest(setting.rules, attack))
            found.append(
                NextAttack(
                    attack=attack,
                    begins=begins,
                    lands=None if touch is None else touch.tick - now,
                    distance=pair.distance(),
                    reach=reach_of(setting.rules, attack, other, by=fighter, arena=setting.arena).distance,
                )
            )
        pair.bout.restore(saved)
    return tuple(sorted(found, key=lambda each: (each.lands is None, each.lands or 0, each.begins)))


def _begun(pair: FaceToFace, seat: Seat, attack: str) -> tuple[str, int] | None:
    """Press an attack until it begins, or one that follows; which, in how many ticks. None within ten seconds."""
    for ticks in range(MOST_SECONDS * pair.bout.tick_rate):
        pair.press(seat, attack)
        for event in pair.bout.step():
            if isinstance(event, AttackBegan) and event.seat == seat.name:
                return event.attack, ticks
    return None


def _free(pair: FaceToFace, seat: Seat) -> int:
    """In how many ticks one who has no attack to begin could begin one: no reaction, attack or hit stop holds it."""
    saved, ticks = pair.bout.snapshot(), 0
    busy = {"frozen", *pair.bout.rules.book.attacks}
    while ticks < MOST_SECONDS * pair.bout.tick_rate and (
        (seat.body and seat.body.reaction) or busy.intersection(seat.states)
    ):
        pair.bout.step()
        ticks += 1
    pair.bout.restore(saved)
    return max(ticks - 1, 0)  # what ends in a tick ends before attacks begin in it
