"""Why a body was not knocked back, or not as far as meant: no push, a share of it, its weight, a wall."""

from __future__ import annotations

from math import hypot
from typing import TYPE_CHECKING

from emberwound.study.inquest.answer import Answer, Cause
from emberwound.study.inquest.attempts import about_attempts
from emberwound.study.inquest.settings_of import lines_of
from emberwound.study.inquest.walks import wall_ahead
from emberwound.vocabulary.errors import ChronicleError
from emberwound.vocabulary.events import Guarded, KnockedBack, Wounded

if TYPE_CHECKING:
    from emberwound.study.inquest.case import Case

LITTLE = 0.1
"""Shares of its height: who moved less by a push seems not to have moved."""

WATCHED = 2.0
"""Seconds for which a push is followed."""


def about_push(case: Case, by: str, victim: str) -> Answer:
    """Why the hits of one seat did not knock another back, or how far they did."""
    if case.known_seat(by) == victim:
        raise ChronicleError(f"push: {by} and {victim} are one seat; give who pushes and who is pushed")
    question = f"why was {case.known_seat(victim)} not knocked back by {by}?"
    hits: list[Wounded | Guarded] = [*case.all(Wounded, seat=victim, by=by), *case.all(Guarded, seat=victim, by=by)]
    if not hits:
        answer = about_attempts(case, by, victim, None)
        return Answer(question=question, causes=answer.causes, attempts=answer.attempts)
    pushes = [each for each in case.all(KnockedBack, seat=victim) if each.by == by]
    if not pushes:
        return Answer(question=question, causes=(_none(case, victim, hits[0]),))
    return Answer(question=question, causes=tuple(_told(case, victim, each, hits) for each in pushes))


def _none(case: Case, victim: str, hit: Wounded | Guarded) -> Cause:
    """That a hit pushed nobody."""
    key, fighter = f"attacks.{hit.attack}", case.fighter_of(victim, hit.tick)
    told = f"{hit.attack} hit {victim} at {hit.time:.3f} s, and has no push"
    keys = lines_of(case, f"{key}.push")
    table = case.book.attacks.get(hit.attack)
    if table is not None and table.push is not None:
        boxes = case.book.fighters[fighter].hurtboxes
        share = boxes[hit.hurtbox].push_share if hit.hurtbox in boxes else 1.0
        box = f"fighters.{fighter}.hurtboxes.{hit.hurtbox}.push_share"
        keys = lines_of(case, box if share == 0.0 else f"fighters.{fighter}.guard.push_share", f"{key}.push")
        told = f"{hit.attack} hit {victim} at {hit.time:.3f} s, and nothing of its push was left"
        if share == 0.0:
            told += f": the push_share of its {hit.hurtbox} is 0"
        return Cause(name="zero", told=told, time=hit.time, tick=hit.tick, seat=victim, set_by=keys)
    return Cause(name="no-push", told=told, time=hit.time, tick=hit.tick, seat=victim, set_by=keys)


def _told(case: Case, victim: str, push: KnockedBack, hits: list[Wounded | Guarded]) -> Cause:
    """How far a push took its victim, and what kept it from going further."""
    fighter = case.fighter_of(victim, push.tick)
    table = case.book.fighters[fighter]
    speed = hypot(*push.velocity)
    play = case.play_at(push.tick + 1)
    start = at = _place(case, victim)
    for _ in range(round(WATCHED * case.rate)):
        play.step()
        place = _place(case, victim)
        if place is None or play.bout.over:
            break
        at = place
    far = hypot(*(a - b for a, b in zip(at, start, strict=True))) if at and start else 0.0
    whole = (
        f"{victim} was knocked back at {push.time:.3f} s with {speed:.3g} {case.units}/s and came {case.length(far)}"
    )
    guarded = [each for each in hits if isinstance(each, Guarded) and each.tick == push.tick]
    hit = next((each for each in hits if each.tick == push.tick), hits[0])
    box = table.hurtboxes.get(hit.hurtbox)
    way = push.velocity[0] if case.plan.space.name == "side" else push.velocity[:2]
    wall = wall_ahead(case, fighter, at, way) if at else None
    keys = [f"fighters.{fighter}.weight"] if table.weight != 1.0 else []
    keys += [f"fighters.{fighter}.guard.push_share"] if guarded else []
    keys += (
        [f"fighters.{fighter}.hurtboxes.{hit.hurtbox}.push_share"] if box is not None and box.push_share != 1.0 else []
    )
    keys += [f"attacks.{hit.attack}.push"]
    name, why = ("hit", "") if far > LITTLE * table.body.height else ("zero", "")
    if wall is not None:
        keys.insert(0, f"arenas.{case.chronicle.header.arena}.walls.{wall}")
        name, why = "blocked", f": the wall {wall} stopped it"
    elif table.weight > 1.0 and name == "zero":
        why = f": its weight is {table.weight:g}"
    return Cause(name=name, told=whole + why, time=push.time, tick=push.tick, seat=victim, set_by=lines_of(case, *keys))


def _place(case: Case, seat: str) -> tuple[float, ...] | None:
    view = case.play_now().bout.view()
    return next((each.position for each in (*view.bodies, *view.corpses) if each.seat == seat), None)
