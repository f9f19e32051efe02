"""What an answer looks like: the way of a shot or a swing, who stood there, and the nearest approach."""

from __future__ import annotations

from typing import TYPE_CHECKING, NamedTuple

from emberwound.study.inquest.approach import nearest
from emberwound.study.inquest.attempts import of_attack
from emberwound.study.inquest.case import Case
from emberwound.study.inquest.shots import about_shot, flight
from emberwound.study.inquest.swings import sweep
from emberwound.vocabulary.errors import ChronicleError
from emberwound.vocabulary.events import Released

if TYPE_CHECKING:
    from emberwound.chronicle import Chronicle
    from emberwound.study.inquest.answer import Answer
    from emberwound.study.inquest.approach import Moment, Near
    from emberwound.vocabulary.events import AttackBegan


class Scene(NamedTuple):
    """An answer with the moments that it tells of; `near` is the nearest approach to the seat of its first cause."""

    answer: Answer
    owner: str
    moments: list[Moment]
    near: Near | None

    @property
    def at(self) -> Moment:
        """The moment of the nearest approach, or the last one."""
        time = self.near.time if self.near else self.moments[-1].time
        return min(self.moments, key=lambda each: abs(each.time - time))


def scene_of_shot(chronicle: Chronicle, number: int) -> Scene:
    """The scene of a shot or ray. Raises ChronicleError for a number that none had."""
    case = Case(chronicle)
    answer, released = about_shot(case, number), case.released(number)
    moments, _ = flight(case, released)
    return Scene(answer, released.by or "", moments, _near(answer, moments))


def scene_of_swing(chronicle: Chronicle, seat: str, tick: int) -> Scene:
    """The scene of the attack that a seat was at in a tick. Raises ChronicleError where there was none."""
    case = Case(chronicle)
    began = case.attack_at(seat, tick)
    answer = of_attack(case, began)
    moments, _ = sweep(case, began)
    if not moments:
        return _without_strike(case, began)
    return Scene(answer, seat, moments, _near(answer, moments))


def _without_strike(case: Case, began: AttackBegan) -> Scene:
    """The scene of the first shot that an attack released."""
    for each in case.all(Released, by=began.seat):
        if case.follows(each, began.seq):
            return scene_of_shot(case.chronicle, each.shot)
    raise ChronicleError(
        f"{began.seat}'s {began.attack} has no hitbox and released nothing: nothing of it can be drawn"
    )


def _near(answer: Answer, moments: list[Moment]) -> Near | None:
    found = nearest(moments)
    return next((each for each in found if each.seat == answer.cause.seat), found[0] if found else None)
