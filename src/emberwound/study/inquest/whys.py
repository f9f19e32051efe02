"""Why each shot and swing of a bout came to nothing, and why orders were refused: for a whole story at once."""

from __future__ import annotations

from typing import TYPE_CHECKING

from emberwound.study.inquest.attempts import of_attack
from emberwound.study.inquest.case import Case
from emberwound.study.inquest.orders import about_refusal
from emberwound.study.inquest.shots import about_shot
from emberwound.vocabulary.events import AttackBegan, OrderRefused, ShotEnded, SwingEnded

if TYPE_CHECKING:
    from collections.abc import Callable, Mapping

    from emberwound.chronicle import Chronicle
    from emberwound.study.inquest.answer import Answer


def whys(
    chronicle: Chronicle,
    *,
    tries: bool = False,
    progress: Callable[[int, int], None] | None = None,
) -> dict[int, Answer]:
    """The answers for what came to nothing in a bout, by the number of the event that tells of its end.

    That is the end of a shot or ray that hit nobody, of a swing that touched nobody, and a refused order. With `tries`
    changes are tried too, which takes a second or so for each.
    `progress` is called with the events seen and all.
    """
    case = Case(chronicle)
    begun = {event.seq: event for event in case.all(AttackBegan)}
    found: dict[int, Answer] = {}
    for number, event in enumerate(chronicle.events):
        if isinstance(event, ShotEnded) and event.hurtbox is None:
            found[event.seq] = about_shot(case, event.shot, tries=tries)
        elif isinstance(event, SwingEnded) and event.touched == 0 and event.cause in begun:
            found[event.seq] = of_attack(case, begun[event.cause], tries=tries)
        elif isinstance(event, OrderRefused):
            found[event.seq] = about_refusal(case, event)
        if progress:
            progress(number + 1, len(chronicle.events))
    return found


def lines_of(answers: Mapping[int, Answer]) -> dict[int, str]:
    """What a story adds to the end of a shot or a swing, by the event's number: how near it came, what it touched."""
    return {number: line for number, answer in answers.items() if (line := _in_a_line(answer)) is not None}


def _in_a_line(answer: Answer) -> str | None:
    cause = answer.cause
    if not cause.name.startswith("passed-over"):
        cause = next((each for each in answer.causes if each.gap is not None), cause)
        if cause.gap is None or answer.cause.name in ("hit", "interrupted"):
            return None
    return cause.brief
