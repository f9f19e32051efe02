"""Events as a pandas table. pandas is loaded when the first one is asked for."""

from __future__ import annotations

import types
from typing import TYPE_CHECKING, Any, Union, get_args, get_origin, get_type_hints

import msgspec

from emberwound.plan.space import SPACES
from emberwound.vocabulary.events import TYPES, Event, Point
from emberwound.vocabulary.ledger import Ledger

if TYPE_CHECKING:
    from collections.abc import Iterable

    import pandas as pd

COLUMNS = {bool: "boolean", int: "Int64", float: "Float64"}
"""Types of pandas that can say that a value is missing; all else is text."""


def events_table(events: Iterable[Event], space: str) -> pd.DataFrame:
    """One row an event, with a typed column for each field that events of any type have."""
    import pandas as pd

    axes = SPACES[space].axes
    kinds = _field_kinds()
    rows = [_row(event, kinds, axes) for event in events]
    columns: dict[str, Any] = {"type": "string"}
    for name, kind in kinds.items():
        if kind == Point:
            columns |= {f"{name}_{axis}": "Float64" for axis in axes}
        elif kind is not Ledger:
            columns[name] = COLUMNS.get(kind, "string")
    return pd.DataFrame({name: pd.array([row.get(name) for row in rows], dtype=kind) for name, kind in columns.items()})


def _field_kinds() -> dict[str, Any]:
    """The bare type of each field that events of any type have, those that all have first."""
    found: dict[str, Any] = {}
    kinds: list[type[Event]] = [Event, *TYPES.values()]
    for kind in kinds:
        hints = get_type_hints(kind)
        for name in kind.__struct_fields__:
            found.setdefault(name, _bare(hints[name]))
    return found


def _bare(hint: Any) -> Any:
    if get_origin(hint) in {Union, types.UnionType}:
        return next(part for part in get_args(hint) if part is not type(None))
    return hint


def _row(event: Event, kinds: dict[str, Any], axes: tuple[str, ...]) -> dict[str, Any]:
    row: dict[str, Any] = {"type": event.__struct_config__.tag}
    for name in event.__struct_fields__:
        value, kind = getattr(event, name), kinds[name]
        if value is None or kind is Ledger:
            continue
        if kind == Point:
            row |= {f"{name}_{axis}": along for axis, along in zip(axes, value, strict=True)}
        elif kind in COLUMNS or isinstance(value, str):
            row[name] = value
        else:
            plain = msgspec.to_builtins(value)
            row[name] = plain if isinstance(plain, str) else msgspec.json.encode(plain).decode()
    return row
