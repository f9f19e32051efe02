"""What an inquest answers: causes by name, the lines of the book that decided, and the change that would do."""

from __future__ import annotations

import json
import re
from collections.abc import Mapping
from typing import TYPE_CHECKING, Any

import msgspec
from pydantic import BaseModel

if TYPE_CHECKING:
    from emberwound.study.inquest.case import Case


CAUSES: dict[str, str] = {
    "hit": "it hit and took points",
    "killed": "the seat died",
    "happened": "what was asked for did happen",
    "carried-out": "it was done, and touches nobody by itself",
    "no-damage": "it hit, and its attack has no damage or healing",
    "no-push": "it hit, and its attack has no knockback",
    "refused": "the order was refused, for the reason named",
    "held-behind": "another held attack goes first for as long as it is held",
    "out-of-reach": "it touched no hurtbox; the answer says how near it came",
    "passed-over": "it touched a hurtbox and left it alone: because of its layer, an ally, its owner, the dead, "
    "protection, a touch before, a window or a posture in which the hurtbox was off, or a wall between",
    "guarded": "a guard took all of it",
    "immune": "its victim takes no damage of that kind",
    "zero": "the points, or the knockback, came to 0 on the way",
    "absorbed": "the pool named took all of it before the vital one",
    "healed": "it was healed again",
    "still-alive": "what hit it was not enough",
    "ended": "the shot was over before: its life, its range, the bounds, a wall, the floor, or no room among the shots",
    "too-late": "it comes later than the record goes, or later than anybody waits",
    "wrong-order": "a checkpoint further on was reached before",
    "taken": "another took it before",
    "full": "it would have given nothing",
    "below-threshold": "it asks for more than there was",
    "filtered": "it asks for something else than what happened",
    "never-happened": "nothing of the sort happened",
    "out-of-lives": "no life is left",
    "no-free-spot": "there was no free place to stand",
    "interrupted": "its attack was broken off before",
    "blocked": "a wall, the bounds or a lock kept the body from moving",
    "switched-off": "the hazard was not on, or not ready to wound again",
    "never-ordered": "nobody was ordered to",
    "never-entered": "the seat was not there",
}
"""The closed list of causes; what stands behind a colon in an answer says which layer, pool, reason or end."""


class Cause(msgspec.Struct, frozen=True, kw_only=True):
    """Why something did not happen: a name of the closed list, a sentence with figures, and when."""

    name: str
    """The cause, such as `out-of-reach` or `passed-over:ally`."""
    text: str
    """The sentence."""
    brief: str | None = None
    """The same in a line of the story, which says already what it is about, and when."""
    time: float | None = None
    """When, in seconds of the bout."""
    tick: int | None = None
    """In which tick."""
    seat: str | None = None
    """The seat that it is about."""
    hurtbox: str | None = None
    """The hurtbox that it is about."""
    gap: float | None = None
    """How far it was from touching, where that is the cause."""
    place: tuple[float, ...] | None = None
    """Where it then was."""
    set_by: tuple[str, ...] = ()
    """The lines of the book that decided it, each `key = value`, the most telling first."""


class Trial(msgspec.Struct, frozen=True, kw_only=True):
    """A change with which the bout was run again, the smallest that was enough, and what then happened."""

    change: str
    """What was changed."""
    then: str
    """What then happened, as it was seen."""
    runs: int
    """How often the bout was run again to find it."""


class Attempt(msgspec.Struct, frozen=True, kw_only=True):
    """One attack of a seat on another, and what became of it."""

    time: float
    """When it began, or was refused, in seconds of the bout."""
    tick: int
    """In which tick."""
    attack: str
    """Which attack."""
    shot: int
    """Number of its shot or ray; 0 for a strike, and for what was refused."""
    cause: Cause
    """What became of it."""


class Answer(msgspec.Struct, frozen=True, kw_only=True):
    """The answer to one question: its causes, the first true one first, and what would have been enough.

    As text it is the first cause, what set it, the trial, and what else there is, a line each.
    """

    question: str
    """What was asked."""
    causes: tuple[Cause, ...]
    """Why, the first true cause first."""
    trial: Trial | None = None
    """The smallest change that was enough; none if there was none to try, or nothing tried was."""
    attempts: tuple[Attempt, ...] = ()
    """Every attempt of one seat on another, where that was asked."""
    lines: tuple[str, ...] = ()
    """What else belongs to it, a sentence each, such as the wounds before a death."""

    @property
    def cause(self) -> Cause:
        """The first true cause."""
        return self.causes[0]

    def __str__(self) -> str:
        lines = [self.cause.text, *([f"set by {', '.join(self.cause.set_by)}"] if self.cause.set_by else [])]
        lines += [f"{self.trial.change}: {self.trial.then}"] if self.trial else []
        rows = [f"{each.time:.3f} s {each.attack}: {each.cause.text}" for each in self.attempts]
        return "\n".join([*lines, *(each.text for each in self.causes[1:]), *rows, *self.lines])


LONGEST = 60
STEPS = {
    "base": "attacks.{attack}.falloff",
    "charge": "attacks.{attack}.charge",
    "scaling": "settings.combo",
    "hurtbox": "fighters.{victim}.hurtboxes.{hurtbox}.multiplier",
    "labels": "attacks.{attack}.against",
    "guard": "fighters.{victim}.guard.damage_share",
    "damage_taken": "fighters.{victim}.damage_taken",
    "marked": "afflictions",
    "flat_reduction": "fighters.{victim}.flat_reduction",
    "damage_dealt": "{seat}.damage_dealt",
    "stage": "fighters.{striker}.stages",
    "rounding": "settings.rounding",
}
"""The key behind each step of a ledger."""


def lines_of(case: Case, *keys: str) -> tuple[str, ...]:
    """The keys with their values in the book, such as `attacks.flare.shot.range = 4`; a sphere has no second end."""
    said = {key: _said_at(case, key) for key in keys if key}
    return tuple(f"{key} = {_written(value)}" for key, value in said.items() if value is not None or key[-3:] != ".to")


def _said_at(case: Case, key: str) -> Any:
    """What the book says at a key; of a table what differs from its defaults, as an author would have written it."""
    at: Any = case.book
    value = value_at(case, key)
    if not isinstance(value, dict):
        return value
    for step in re.findall(r"[^.\[\]]+", key):
        if isinstance(at, BaseModel):
            names = {field.alias or name: name for name, field in type(at).model_fields.items()}
            at = getattr(at, names.get(step, step), None)
        elif isinstance(at, tuple):
            at = at[int(step)]
        else:
            at = at.get(step) if isinstance(at, Mapping) else None
    if not isinstance(at, BaseModel):
        return value
    fields = {field.alias or name: (name, field) for name, field in type(at).model_fields.items()}
    plain = {each for each, (name, field) in fields.items() if getattr(at, name) == field.get_default()}
    return {each: kept for each, kept in value.items() if each not in plain}


def value_at(case: Case, key: str) -> Any:
    """What the book says at a dotted key, its defaults included; None for what is left out."""
    at: Any = case.tables
    for step in re.findall(r"[^.\[\]]+", key):
        if isinstance(at, list):
            at = at[int(step)] if step.isdigit() and int(step) < len(at) else None
        else:
            at = at.get(step) if isinstance(at, dict) else None
    return at


def _written(value: Any) -> str:
    if value is None:
        return "(left out)"
    if isinstance(value, dict):
        parts = ", ".join(f"{key} = {_written(each)}" for key, each in value.items())
        text = f"{{ {parts} }}"
    elif isinstance(value, list):
        text = f"[{', '.join(_written(each) for each in value)}]"
    elif isinstance(value, float):
        text = f"{value:g}"
    else:
        text = json.dumps(value)
    return text if len(text) <= LONGEST else f"{text[: LONGEST - 3]}..."


def seat_key(case: Case, seat: str | None) -> str:
    """The key of a scripted seat; nothing for a host's."""
    script = case.chronicle.header.script
    return f"bouts.{script}.seats.{seat}" if script and seat in case.book.bouts[script].seats else ""


def place_keys(case: Case, seat: str | None) -> tuple[str, ...]:
    """The keys that put a scripted seat where it enters."""
    key = seat_key(case, seat)
    if not key:
        return ()
    at = case.book.bouts[case.chronicle.header.script or ""].seats[seat or ""].at
    return (f"{key}.at", *([f"arenas.{case.chronicle.header.arena}.entries.{at}.at"] if isinstance(at, str) else []))


def order_key(case: Case, seat: str | None, tick: int, part: str) -> str:
    """The key of the part of the newest scripted order of a seat up to a tick; nothing where there is none."""
    script = case.chronicle.header.script
    if not script:
        return ""
    found = ""
    rate, newest = case.rate, -1.0
    for index, order in enumerate(case.book.bouts[script].orders):
        time = float(order.time.seconds(case.book.settings.frame_rate))
        if order.seat == seat and getattr(order, part) is not None and newest <= time <= (tick + 1) / rate:
            found, newest = f"bouts.{script}.orders[{index}].{part}", time
    return found


def aim_keys(case: Case, seat: str | None, attack: str, tick: int) -> tuple[str, ...]:
    """The keys that say where a shot or ray of an attack went."""
    table = case.book.attacks[attack]
    launch, sort = table.shot or table.ray, "shot" if table.shot else "ray"
    if launch is None:
        return ()
    key = f"attacks.{attack}.{sort}"
    if launch.direction == "aim":
        return (order_key(case, seat, tick, "aim"), f"{key}.muzzle")
    if launch.direction == "facing":
        return (f"{key}.direction", f"{key}.lift_deg", f"{key}.muzzle")
    return (f"{key}.direction", f"{key}.muzzle")


def flight_keys(case: Case, attack: str) -> tuple[str, ...]:
    """The keys that bend the flight of a shot."""
    shot = case.book.attacks[attack].shot
    if shot is None:
        return ()
    key = f"attacks.{attack}.shot"
    falls = [f"{key}.gravity_share"] if shot.gravity_share and case.plan.space.has_heights else []
    return (f"{key}.speed", *falls, *([f"{key}.drag"] if shot.drag else []))


def what_allows(case: Case, attack: str, cause: Cause, tick: int) -> dict[str, Any]:
    """What would let a touch count that was passed over, as an author would change it; nothing where that is unclear.

    An ally gets a team of its own, but for what heals, and for seats that no script has.
    """
    key, why = f"attacks.{attack}", cause.name.partition(":")[2]
    if not cause.name.startswith("passed-over") or cause.seat is None:
        return {}
    fighter, theirs = case.fighter_or_none(cause.seat, tick), seat_key(case, cause.seat)
    if why == "ally" and theirs and case.book.attacks[attack].heal == 0.0:
        return {f"{theirs}.team": None}
    changes: dict[str, dict[str, Any]] = {
        "ally": {f"{key}.hits_allies": True},
        "owner": {f"{key}.hits_owner": True},
        "layer": {f"{key}.layers": None},
        "protected": {f"fighters.{fighter}.respawn_protection": 0} if fighter else {},
    }
    return changes.get(why, {})


def said(value: object) -> str:
    """How a changed value is written."""
    if value is None:
        return "left out"
    if isinstance(value, bool):
        return f"= {str(value).lower()}"
    if isinstance(value, list):
        return f"= [{', '.join(f'{each:g}' for each in value)}]"
    return f'= "{value}"' if isinstance(value, str) else f"= {value:g}"
