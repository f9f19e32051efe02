"""The inquest of a bout: why something did not happen, and the smallest change with which it does."""

from __future__ import annotations

from typing import TYPE_CHECKING

import msgspec

from emberwound.study.inquest import looking
from emberwound.study.inquest.attempts import about_attempts, of_attack
from emberwound.study.inquest.case import Case
from emberwound.study.inquest.lives import about_alive, about_death
from emberwound.study.inquest.looking import trial_of_rules
from emberwound.study.inquest.missing import about_missing
from emberwound.study.inquest.orders import about_order
from emberwound.study.inquest.shots import about_shot
from emberwound.study.inquest.walks import about_push
from emberwound.vocabulary.errors import ChronicleError

if TYPE_CHECKING:
    from emberwound.chronicle import Chronicle
    from emberwound.study.inquest.answer import Answer
    from emberwound.study.inquest.looking import Happens


def inquest(  # noqa: PLR0911, PLR0913 (each is a question of its own, by name)
    chronicle: Chronicle,
    *,
    shot: int | None = None,
    swing: tuple[str, int] | None = None,
    order: tuple[str, int] | None = None,
    attempts: tuple[str, str] | None = None,
    between: tuple[float, float] | None = None,
    death: str | None = None,
    alive: str | None = None,
    missing: tuple[str, str] | None = None,
    push: tuple[str, str] | None = None,
) -> Answer:
    """Why something did not happen in a bout, or how it did; ask one question.

    `shot` asks what became of a shot or ray, by its id. `swing` and `order` ask about a seat and a tick: the attack
    it was then at, and what it was then ordered to press, hold or walk. `attempts` asks for every attack of one seat on
    another, `between` two times in seconds. `death` asks how a seat died, `alive` why it did not, and `missing` why
    there is no "respawn", "cue", "checkpoint" or "pickup" of a seat: `("respawn", "reed")`. `push` asks why the hits of
    one seat did not knock another back.

    The bout is run again, with observers that keep what it normally does not, and with changes that are tried.
    Raises ChronicleError for none or several questions, and for names, numbers and ticks that the record does not have.
    """
    asked = {
        "shot": shot,
        "swing": swing,
        "order": order,
        "attempts": attempts,
        "death": death,
        "alive": alive,
        "missing": missing,
        "push": push,
    }
    given = [name for name, value in asked.items() if value is not None]
    if len(given) != 1:
        got = ", ".join(given) or "none"
        raise ChronicleError(f"inquest: ask one question: {', '.join(asked)}; got {got}")
    if between is not None and attempts is None:
        raise ChronicleError("inquest: between goes with attempts; leave it out")
    case = Case(chronicle)
    if shot is not None:
        shot_id = _whole("shot", shot)
        return _tried(case, about_shot(case, shot_id), looking.shot_takes(case, case.released(shot_id)))
    if swing is not None:
        began = case.attack_at(*_seat_and_tick("swing", swing))
        return _tried(case, of_attack(case, began), looking.attack_takes(case, began))
    if order is not None:
        seat, tick = _seat_and_tick("order", order)
        return _tried(case, about_order(case, seat, tick), looking.order_begins(case, seat, tick))
    if attempts is not None:
        return about_attempts(case, *_two("attempts", attempts), _span(between))
    if push is not None:
        by, whom = _two("push", push)
        return _tried(case, about_push(case, by, whom), looking.pushed(case, by, whom))
    if missing is not None:
        what, seat = _two("missing", missing)
        return _tried(case, about_missing(case, what, seat), looking.comes(case, what, seat))
    if death is not None:
        return about_death(case, str(death))
    return _tried(case, about_alive(case, str(alive)), looking.dies(str(alive)))


SETTLED = ("hit", "killed", "happened", "carried-out", "never-entered", "never-ordered")
"""Causes for which nothing in the book is to be changed."""


def _tried(case: Case, answer: Answer, happens: Happens) -> Answer:
    """The answer, with a change of the lines that set its first cause, where none was tried yet."""
    if answer.trial is not None or (answer.cause.name in SETTLED and not _is_vain(answer)):
        return answer
    return msgspec.structs.replace(answer, trial=trial_of_rules(case, answer.cause, happens))


def _is_vain(answer: Answer) -> bool:
    """Whether what was done came to nothing all the same, such as a seat that left too early."""
    return answer.cause.name == "never-entered" and bool(answer.cause.set_by)


def _whole(what: str, value: object) -> int:
    if isinstance(value, bool) or not isinstance(value, int):
        raise ChronicleError(f"{what}: {value!r}; give a whole number")
    return value


def _two(what: str, value: object) -> tuple[str, str]:
    if isinstance(value, tuple | list) and len(value) == 2 and all(isinstance(each, str) for each in value):
        return value[0], value[1]
    example = '("respawn", "reed")' if what == "missing" else '("amber", "reed")'
    raise ChronicleError(f"{what}: {value!r}; give two names, such as {example}")


def _seat_and_tick(what: str, value: object) -> tuple[str, int]:
    if isinstance(value, tuple | list) and len(value) == 2 and isinstance(value[0], str):
        return value[0], _whole(f"{what} tick", value[1])
    raise ChronicleError(f'{what}: {value!r}; give a seat and a tick, such as ("amber", 120)')


def _span(value: object) -> tuple[float, float] | None:
    if value is None:
        return None
    if isinstance(value, tuple | list) and len(value) == 2:
        numbers = [each for each in value if isinstance(each, int | float) and not isinstance(each, bool)]
        if len(numbers) == 2 and numbers[0] <= numbers[1]:
            return float(numbers[0]), float(numbers[1])
    raise ChronicleError(f"between: {value!r}; give two times in seconds, the earlier first")
