"""Changes that would have been enough: each is tried by running the bout again; the smallest that was is reported."""

from __future__ import annotations

from functools import partial
from math import asin, atan2, cos, degrees, hypot, radians, sin
from typing import TYPE_CHECKING, Any

from emberwound.study.inquest.answer import Trial, said, what_allows
from emberwound.study.inquest.case import Play, played
from emberwound.study.inquest.outcomes import outcome
from emberwound.vocabulary.errors import BoutError, RulebookError
from emberwound.vocabulary.events import Healed, PropStruck, Released, Wounded
from emberwound.vocabulary.orders import Order

if TYPE_CHECKING:
    from collections.abc import Callable

    from emberwound.rulebook.models import Attack
    from emberwound.study.inquest.answer import Cause
    from emberwound.study.inquest.approach import Near
    from emberwound.study.inquest.case import Case
    from emberwound.vocabulary.events import Event

WIDEST_DEG = 45.0
"""An aim is not turned further than this."""

FEW = 5.0
"""A shot that missed by more of its radii than this would not do with a larger one."""

MOST_SECONDS = 30
"""A shot is followed for so many seconds."""

HALVINGS = 7
"""How often a change that was enough is halved towards one that was not."""

GROWTH = (1.25, 1.5, 2.0, 3.0, 5.0, 10.0)
"""Factors by which a number of the book is tried, until one is enough."""


def trial_of_shot(case: Case, released: Released, cause: Cause, near: Near | None) -> Trial | None:
    """The smallest change with which a shot hits whom it missed, or takes points where it took none."""
    attack = case.book.attacks[released.attack]
    victim = cause.seat
    if cause.name.startswith("passed-over"):
        return _allow(case, released, cause)
    if cause.name in ("ended:life", "ended:range"):
        key = f"attacks.{released.attack}.{'shot' if attack.shot else 'ray'}.{cause.name[6:]}"
        return _grow(case, released, key, victim) or _aim(case, released, attack, near)
    if cause.name in ("out-of-reach", "ended:floor", "ended:wall", "ended:bounds"):
        return (
            _aim(case, released, attack, near)
            or _lift(case, released, attack, near)
            or _facing(case, released, attack, near)
            or _larger(case, released, attack, near)
        )
    return None


def seen(case: Case, events: list[Event], shot: int, victim: str | None) -> str | None:
    """What a shot then did to its victim, as a sentence; None if it did not hit it."""
    for event in events:
        if isinstance(event, Wounded | Healed | PropStruck) and event.shot == shot and victim in (None, event.seat):
            text = outcome(case, event)
            return text.text if text else None
    return None


def _until_over(play: Play, case: Case, shot: int, victim: str | None) -> str | None:
    """Run on until a shot has hit its victim, or is over."""
    first = len(play.events)
    for _ in range(MOST_SECONDS * case.rate):
        found = seen(case, play.step(), shot, victim)
        if found:
            return found
        released = any(isinstance(event, Released) and event.shot == shot for event in play.events[first:])
        if play.bout.over or (released and not any(each.id == shot for each in play.bout.shots)):
            return None
    return None


class _AimTrial:
    """A shot tried again with other aims, from the tick of its release on; `runs` counts them."""

    def __init__(self, case: Case, released: Released, near: Near) -> None:
        self.case, self.released, self.near = case, released, near
        self.play = case.play_at(released.tick)
        self.saved, self.runs = self.play.save(), 0
        space = case.plan.space.name
        self.level = space == "top" or (space == "3d" and near.side not in ("above", "below"))

    def hits(self, aim: tuple[float, ...], turn: float) -> str | None:
        """What it then does to whom it missed, with an aim turned by so many degrees; None if it misses again."""
        self.runs += 1
        self.play.restore(self.saved)
        self.play.take_due()
        try:
            self.play.bout.seat(self.released.by or "").order(aim=_turned(aim, turn, level=self.level))
        except BoutError:
            return None
        return _until_over(self.play, self.case, self.released.shot, self.near.seat)

    def straight(self) -> tuple[float, ...] | None:
        """The aim that leads straight to whom it missed."""
        self.play.restore(self.saved)
        return _straight_at(self.play, self.released, self.near.seat)


def _aim(case: Case, released: Released, attack: Attack, near: Near | None) -> Trial | None:
    """The smallest turn of the aim that hits, if the shot goes by an aim; else the turn of a straight one."""
    launch = attack.shot or attack.ray
    if near is None or launch is None or launch.direction != "aim":
        return None
    tried = _AimTrial(case, released, near)
    found = _smallest_turn(partial(tried.hits, _aim_of(case, released)))
    if found is not None:
        change = f"aim {abs(found[0]):.1f} degrees {_way(found[0], level=tried.level)}"
        return Trial(change=change, then=found[1], runs=tried.runs)
    straight = tried.straight()
    found = None if straight is None else _smallest_turn(partial(tried.hits, straight), first=0.0)
    if straight is None or found is None:
        return None
    at = ", ".join(f"{each:.2f}" for each in _turned(straight, found[0], level=tried.level))
    return Trial(change=f"aim = [{at}]", then=found[1], runs=tried.runs)


def _straight_at(play: Play, released: Released, victim: str) -> tuple[float, ...] | None:
    """The aim from a muzzle to the middle of a seat's hurtboxes, as an aim is written; None if it is not there."""
    body = next((each for each in play.bout.view().bodies if each.seat == victim), None)
    if body is None or not body.hurtboxes:
        return None
    middles = [[(a + b) / 2.0 for a, b in zip(box.a, box.b, strict=True)] for box in body.hurtboxes.values()]
    middle = [sum(each) / len(middles) for each in zip(*middles, strict=True)]
    way = [to - at for to, at in zip(middle, released.position, strict=True)]
    far = hypot(*way)
    return tuple(each / far for each in way) if far else None


def _lift(case: Case, released: Released, attack: Attack, near: Near | None) -> Trial | None:
    """The smallest change of the angle at which what goes by its facing leaves, where it passed above or below."""
    launch = attack.shot or attack.ray
    if near is None or launch is None or launch.direction != "facing" or near.side not in ("above", "below"):
        return None
    key, runs = f"attacks.{released.attack}.{'shot' if attack.shot else 'ray'}.lift_deg", 0

    def hits(turn: float) -> str | None:
        nonlocal runs
        runs += 1
        return _edited(case, released, {key: round(launch.lift_deg + turn, 2)}, near.seat)

    found = _smallest_turn(hits, sides=(-1.0,) if near.side == "above" else (1.0,))
    if found is None:
        return None
    return Trial(
        change=f"{key} = {launch.lift_deg + found[0]:.1f} instead of {launch.lift_deg:g}", then=found[1], runs=runs
    )


def _facing(case: Case, released: Released, attack: Attack, near: Near | None) -> Trial | None:
    """The smallest turn of its owner with which what goes by its facing hits; where none does, one with a lift.

    The facing is ordered in the tick of the press, as a turn of an attack under way may come too late.
    """
    launch = attack.shot or attack.ray
    if near is None or launch is None or launch.direction != "facing" or not case.plan.space.looks_around:
        return None
    begun = case.attack_at(released.by or "", released.tick).tick
    straight = _straight_at(case.play_at(released.tick), released, near.seat)
    play = case.play_at(begun)
    body = next(each for each in play.bout.view().bodies if each.seat == released.by)
    now, runs = degrees(atan2(body.heading[1], body.heading[0])), 0

    def hits(turn: float, lifted: Play | None = None) -> str | None:
        nonlocal runs
        runs += 1
        turned = lifted or case.play_at(begun)
        turned.take_due()
        turned.bout.seat(released.by or "").order(facing=(now + turn) % 360.0)
        return _until_over(turned, case, released.shot, near.seat)

    found = _smallest_turn(hits)
    if found is not None:
        text = f"facing = {(now + found[0]) % 360.0:.1f}, {abs(found[0]):.1f} degrees {_way(found[0], level=True)}"
        return Trial(change=text, then=found[1], runs=runs)
    if straight is None or case.plan.space.name != "3d":
        return None
    key = f"attacks.{released.attack}.{'shot' if attack.shot else 'ray'}.lift_deg"
    turn, lift = degrees(atan2(straight[1], straight[0])) - now, degrees(asin(straight[2]))
    lifted = Play(case.chronicle, case.rules.edit({key: round(lift, 2)}), as_given=True)
    lifted.until(begun)
    then = hits(turn, lifted)
    return (
        Trial(change=f"facing = {(now + turn) % 360.0:.1f} and {key} = {lift:.2f}", then=then, runs=runs)
        if then
        else None
    )


def _way(turn: float, *, level: bool) -> str:
    if level:
        return "to the left" if turn > 0.0 else "to the right"
    return "higher" if turn > 0.0 else "lower"


def _aim_of(case: Case, released: Released) -> tuple[float, ...]:
    """The aim that a shot left by: the last one ordered, else where it went."""
    aims = [
        each.aim
        for each in case.chronicle.inputs
        if isinstance(each, Order) and each.seat == released.by and each.aim is not None and each.tick <= released.tick
    ]
    return aims[-1] if aims else (released.velocity or released.direction or (1.0, 0.0))


def _turned(aim: tuple[float, ...], turn: float, *, level: bool) -> tuple[float, ...]:
    """An aim turned by degrees: to the left where it is level, else upwards."""
    if len(aim) == 2 and not level:
        ahead, up = aim
        side = -1.0 if ahead < 0.0 else 1.0
        angle = atan2(up, abs(ahead)) + radians(turn)
        length = hypot(*aim)
        return (side * length * cos(angle), length * sin(angle))
    x, y, *up_of = aim
    if level:
        angle, far = atan2(y, x) + radians(turn), hypot(x, y)
        return (far * cos(angle), far * sin(angle), *up_of)
    flat, height = hypot(x, y), up_of[0]
    angle, length = atan2(height, flat) + radians(turn), hypot(flat, height)
    return (x / flat * length * cos(angle), y / flat * length * cos(angle), length * sin(angle))


def _smallest_turn(
    hits: Callable[[float], str | None], sides: tuple[float, ...] = (1.0, -1.0), first: float = 0.5
) -> tuple[float, str] | None:
    """The least turn to one of the sides, in tenths of a degree, that was seen to hit."""
    turn, step = first, 0.5
    while turn <= WIDEST_DEG:
        for side in sides:
            if hits(side * turn):
                return _halved(hits, side * turn, max(turn - step, 0.0))
        step = max(step, turn * 0.25)
        turn += step
    return None


def _halved(hits: Callable[[float], str | None], enough: float, too_little: float) -> tuple[float, str] | None:
    side, much = (1.0 if enough > 0.0 else -1.0), abs(enough)
    while much - too_little > 0.05:
        middle = (much + too_little) / 2.0
        if hits(side * middle):
            much = middle
        else:
            too_little = middle
    for tenths in (-(-much * 10 // 1) / 10.0, much):
        then = hits(side * tenths)
        if then:
            return side * tenths, then
    return None


def _edited(case: Case, released: Released, changes: dict[str, Any], victim: str | None) -> str | None:
    """What the shot did in the bout under changed rules; None if it did not hit, or was no longer the same."""
    try:
        rules = case.rules.edit(changes)
    except RulebookError:
        return None
    play = played(case.chronicle, rules, released.tick)
    if play is None:
        return None
    then = _until_over(play, case, released.shot, victim)
    same = any(
        isinstance(event, Released) and event.shot == released.shot and event.attack == released.attack
        for event in play.events
    )
    return then if same else None


def _grow(case: Case, released: Released, key: str, victim: str | None) -> Trial | None:
    """The least value of a number of the book that is enough, by halving."""
    value = _value(case, key)
    if value is None:
        return None
    runs, enough, too_little, then = 0, None, value, None
    for factor in GROWTH:
        runs += 1
        then = _edited(case, released, {key: value * factor}, victim)
        if then:
            enough = value * factor
            break
        too_little = value * factor
    if enough is None:
        return None
    for _ in range(HALVINGS):
        middle = float(f"{(enough + too_little) / 2.0:.3g}")
        if middle in (enough, too_little):
            break
        runs += 1
        better = _edited(case, released, {key: middle}, victim)
        if better:
            enough, then = middle, better
        else:
            too_little = middle
    return Trial(change=f"{key} = {enough:.3g} instead of {value:g}", then=then or "", runs=runs)


def _value(case: Case, key: str) -> float | None:
    """A number of the book by its key; a time is in seconds."""
    at: Any = case.book
    for part in key.split("."):
        at = at[part] if isinstance(at, dict) else getattr(at, part)
        if at is None:
            return None
    return float(at.seconds(case.book.settings.frame_rate)) if hasattr(at, "seconds") else float(at)


def _larger(case: Case, released: Released, attack: Attack, near: Near | None) -> Trial | None:
    """A larger shot, where it only just missed and does not go by an aim."""
    if attack.shot is None or near is None or attack.shot.direction == "aim":
        return None
    if not 0.0 < near.gap <= FEW * attack.shot.radius:
        return None
    return _grow(case, released, f"attacks.{released.attack}.shot.radius", near.seat)


def _allow(case: Case, released: Released, cause: Cause) -> Trial | None:
    """What lets a touch count that was passed over."""
    changes = what_allows(case, released.attack, cause, released.tick)
    then = _edited(case, released, changes, cause.seat) if changes else None
    text = ", ".join(f"{name} {said(value)}" for name, value in changes.items())
    return Trial(change=text, then=then, runs=1) if then else None
