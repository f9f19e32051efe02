"""Walks the models along a key path, and finds the nearest known name for one that is not there."""

from __future__ import annotations

import re
import types
from functools import cache
from typing import TYPE_CHECKING, Annotated, Any, NamedTuple, TypeAlias, Union, get_args, get_origin

from pydantic import BaseModel

from emberwound.rulebook.fields import LONGEST_NAME, NAME, Allowed, NameOf
from emberwound.vocabulary.errors import Problem, RulebookError, nearest_name, shortened
from emberwound.vocabulary.limits import listed

if TYPE_CHECKING:
    from collections.abc import Iterable, Iterator, Mapping, Sequence


Key = tuple[str | int, ...]
Annotation: TypeAlias = object
"""A type as a field is annotated with it: a class, a union, an alias, or `Annotated`."""


@cache
def table_keys(model: type[BaseModel]) -> dict[str, Annotation]:
    """The keys of a table as a file writes them, with their full annotations."""
    keys: dict[str, Annotation] = {}
    for name, field in model.model_fields.items():
        annotation = field.annotation
        if field.metadata:
            annotation = Annotated[(annotation, *field.metadata)]  # type: ignore[assignment]
        keys[field.alias or name] = annotation
    return keys


def unwrap(annotation: Annotation) -> tuple[Annotation, list[object]]:
    """The bare type below `Annotated` and `| None`, and all metadata met on the way."""
    marks: list[object] = []
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
    annotation: Annotation = root
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


def _as_table(bare: Annotation) -> Annotation:
    """The table that a union of several types holds, if it holds one; else the type itself."""
    members = get_args(bare) if get_origin(bare) in {Union, types.UnionType} else ()
    found = [each for each in members if isinstance(each, type) and issubclass(each, BaseModel)]
    return found[0] if found else bare


class Holder(NamedTuple):
    """What may hold names of entries: a section if it is one itself, and what its keys and its entries hold."""

    section: str | None
    keys: Holder | None
    entries: Holder | None


@cache
def _fields_with_names(model: type[BaseModel]) -> tuple[tuple[str, str, Holder], ...]:
    """The fields of a table in which names of entries may stand: the key written, the field, and what it holds."""
    written = zip(table_keys(model).items(), model.model_fields, strict=True)
    held = [(key, name, _holder(annotation)) for (key, annotation), name in written]
    return tuple((key, name, holder) for key, name, holder in held if holder is not None)


def _holder(annotation: Annotation) -> Holder | None:
    """What an annotation may hold; None where no name of an entry can be."""
    bare, marks = unwrap(annotation)
    section = next((mark.section for mark in marks if isinstance(mark, NameOf)), None)
    if section is not None:
        return Holder(section, None, None)
    parts = get_args(bare)
    if get_origin(bare) is dict:
        keys, entries = (_holder(each) for each in parts)
        return Holder(None, keys, entries) if keys or entries else None
    if get_origin(bare) is tuple:
        entries = _holder(parts[0])
        return Holder(None, None, entries) if entries else None
    tables = [each for each in (bare, *parts) if isinstance(each, type) and issubclass(each, BaseModel)]
    return Holder(None, None, None) if any(_fields_with_names(each) for each in tables) else None


def names_used(value: BaseModel, key: Key = ()) -> Iterator[tuple[Key, str, str]]:
    """Every value below a model that must be the name of an entry: its key, the section, and the name."""
    for written, name, holder in _fields_with_names(type(value)):
        yield from _names_in(getattr(value, name), (*key, written), holder)


def _names_in(value: object, key: Key, holder: Holder | None) -> Iterator[tuple[Key, str, str]]:
    if holder is None:
        return
    if holder.section is not None:
        if isinstance(value, str):
            yield key, holder.section, value
    elif isinstance(value, BaseModel):
        yield from names_used(value, key)
    elif isinstance(value, dict):
        for name, entry in value.items():
            yield from _names_in(name, (*key, name), holder.keys)
            yield from _names_in(entry, (*key, name), holder.entries)
    elif isinstance(value, tuple):
        for index, entry in enumerate(value):
            yield from _names_in(entry, (*key, index), holder.entries)


def value_at(raw: Mapping[str, object], key: Sequence[str | int]) -> Any:
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


def known_name(what: str, name: object, known: Iterable[str]) -> str:
    """The name, if it is one of those known. Raises RulebookError with the nearest one."""
    names = list(known)
    if isinstance(name, str) and name in names:
        return name
    nearest = nearest_name(name, names) if isinstance(name, str) else None
    seen = f"there is no {what} {shortened(name)}"
    raise RulebookError([Problem("", "", seen, f"known: {listed(names)}", nearest)], asked=True)


def refuse(what: str, seen: object, allowed: str) -> RulebookError:
    """The error for an argument of a question, with what was seen and what is allowed."""
    return RulebookError([Problem("", "", f"{what}: {shortened(seen)}", allowed)], asked=True)


def is_name(text: str) -> bool:
    """Whether a text may be the name of an entry."""
    return len(text) <= LONGEST_NAME and re.fullmatch(NAME, text) is not None
