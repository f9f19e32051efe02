"""Which lines of the book decided something: their dotted keys with their values, as an author finds them."""

from __future__ import annotations

import json
import re
from collections.abc import Mapping
from typing import TYPE_CHECKING, Any

from pydantic import BaseModel

if TYPE_CHECKING:
    from emberwound.study.inquest.answer import Cause
    from emberwound.study.inquest.case import Case

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
    return {each: told for each, told in value.items() if each not in plain}


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
        told = ", ".join(f"{key} = {_written(each)}" for key, each in value.items())
        text = f"{{ {told} }}"
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
    for number, order in enumerate(case.book.bouts[script].orders):
        time = float(order.time.seconds(case.book.settings.frame_rate))
        if order.seat == seat and getattr(order, part) is not None and newest <= time <= (tick + 1) / rate:
            found, newest = f"bouts.{script}.orders[{number}].{part}", time
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
    """How a changed value is told."""
    if value is None:
        return "left out"
    if isinstance(value, bool):
        return f"= {str(value).lower()}"
    if isinstance(value, list):
        return f"= [{', '.join(f'{each:g}' for each in value)}]"
    return f'= "{value}"' if isinstance(value, str) else f"= {value:g}"
