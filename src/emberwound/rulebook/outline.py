"""Walks the models along a key path: what a key may hold, which keys a table has, and which values are names."""

from __future__ import annotations

import types
from functools import cache
from typing import TYPE_CHECKING, Annotated, Any, Union, get_args, get_origin

from pydantic import BaseModel

from emberwound.rulebook.fields import Allowed, NameOf

if TYPE_CHECKING:
    from collections.abc import Iterator, Mapping, Sequence

Key = tuple[str | int, ...]


@cache
def table_keys(model: type[BaseModel]) -> dict[str, Any]:
    """The keys of a table as a file writes them, with their full annotations."""
    keys = {}
    for name, field in model.model_fields.items():
        annotation = field.annotation
        if field.metadata:
            annotation = Annotated[(annotation, *field.metadata)]  # type: ignore[assignment]
        keys[field.alias or name] = annotation
    return keys


def unwrap(annotation: Any) -> tuple[Any, list[Any]]:
    """The bare type below `Annotated` and `| None`, and all metadata met on the way."""
    marks: list[Any] = []
    while True:
        if get_origin(annotation) is Annotated:
            annotation, *extra = get_args(annotation)
            marks += extra
            continue
        if get_origin(annotation) in {Union, types.UnionType}:
            rest = [each for each in get_args(annotation) if each is not type(None)]
            if len(rest) == 1:
                annotation = rest[0]
                continue
        return annotation, marks


def place_of(root: type[BaseModel], path: Sequence[str | int]) -> tuple[Key, str, type[BaseModel] | None]:
    """The deepest key of `path` that the models know, what is allowed there, and its table if it is one."""
    annotation: Any = root
    allowed = ""
    known: list[str | int] = []
    for step in path:
        bare = _as_table(unwrap(annotation)[0])
        if isinstance(bare, type) and issubclass(bare, BaseModel):
            keys = table_keys(bare)
            if step not in keys:
                break
            annotation = keys[str(step)]
        elif get_origin(bare) is dict:
            annotation = get_args(bare)[1]
        elif get_origin(bare) is tuple and not allowed:
            annotation = get_args(bare)[0]
        else:
            break
        known.append(step)
        allowed = next((mark.text for mark in unwrap(annotation)[1] if isinstance(mark, Allowed)), "")
    bare = _as_table(unwrap(annotation)[0])
    table = bare if isinstance(bare, type) and issubclass(bare, BaseModel) else None
    if not allowed and get_origin(bare) is tuple:
        allowed = "allowed: a list"
    return tuple(known), allowed or "allowed: a table", table


def _as_table(bare: Any) -> Any:
    """The table that a union of several types holds, if it holds one; else the type itself."""
    members = get_args(bare) if get_origin(bare) in {Union, types.UnionType} else ()
    found = [each for each in members if isinstance(each, type) and issubclass(each, BaseModel)]
    return found[0] if found else bare


def names_used(value: Any, key: Key = (), annotation: Any = None) -> Iterator[tuple[Key, str, str]]:
    """Every value below a model that must be the name of an entry: its key, the section, and the name."""
    bare, marks = unwrap(annotation) if annotation is not None else (type(value), [])
    section = next((mark.section for mark in marks if isinstance(mark, NameOf)), None)
    if section is not None:
        if isinstance(value, str):
            yield key, section, value
    elif isinstance(value, BaseModel):
        fields = type(value).model_fields
        for (written, inner), name in zip(table_keys(type(value)).items(), fields, strict=True):
            yield from names_used(getattr(value, name), (*key, written), inner)
    elif isinstance(value, dict) and get_origin(bare) is dict:
        keys, entries = get_args(bare)
        for name, entry in value.items():
            yield from names_used(name, (*key, name), keys)
            yield from names_used(entry, (*key, name), entries)
    elif isinstance(value, tuple) and get_origin(bare) is tuple:
        for index, entry in enumerate(value):
            yield from names_used(entry, (*key, index), get_args(bare)[0])


def value_at(raw: Mapping[str, Any], key: Sequence[str | int]) -> Any:
    """The raw value at `key`; None when the path ends before."""
    value: Any = raw
    for step in key:
        try:
            value = value[step]
        except (KeyError, IndexError, TypeError):
            return None
    return value


def dotted(key: Sequence[str | int]) -> str:
    """`("bouts", "crossing", "orders", 0)` as `bouts.crossing.orders[0]`; list places count from 0."""
    text = ""
    for step in key:
        text += f"[{step}]" if isinstance(step, int) else f".{step}" if text else step
    return text
