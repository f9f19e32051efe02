"""The reference of the code: every public name with its arguments, defaults and fields, from the code itself."""

from __future__ import annotations

import dataclasses
import importlib
import inspect
import re
from types import UnionType
from typing import TYPE_CHECKING, Any, get_origin

import msgspec

from emberwound import events as event_types
from emberwound.rulebook.schema import field_texts
from emberwound.study.check.survey import FINDINGS
from emberwound.study.inquest.answer import CAUSES

if TYPE_CHECKING:
    from collections.abc import Callable, Iterator


def events() -> str:
    """Every type of event with its fields; those that all events have stand first."""
    base = event_types.Event
    parts = ["### `Event`", "", "What every event has.", "", *_field_table(base, set())]
    for kind in sorted(base.__subclasses__(), key=lambda kind: kind.__name__):
        tag = kind.__struct_config__.tag
        parts += ["", f"### `{kind.__name__}`", "", f"`{tag}` in files. {_doc(kind)}", ""]
        parts += _field_table(kind, set(base.__struct_fields__))
    return "\n".join(parts)


def findings() -> str:
    """Every name that a check may find something by."""
    head = ["| name | severity | why it matters |", "| --- | --- | --- |"]
    return "\n".join([*head, *(f"| `{name}` | {severity} | {why} |" for name, (severity, why) in FINDINGS.items())])


def causes() -> str:
    """Every cause that an inquest may give."""
    head = ["| cause | what it says |", "| --- | --- |"]
    return "\n".join([*head, *(f"| `{name}` | {said} |" for name, said in CAUSES.items())])


def room(module: str, *left_out: str) -> str:
    """Every public name of a module."""
    home = importlib.import_module(module)
    prefix = "ew" + module.removeprefix("emberwound")
    names = [name for name in home.__all__ if name not in left_out and not name.startswith("__")]
    parts: list[str] = []
    for name in sorted(names, key=str.lower):
        value = getattr(home, name)
        if not inspect.ismodule(value):
            parts += [*_entry(f"{prefix}.{name}", name, value), ""]
    return "\n".join(parts)


def _entry(path: str, name: str, value: Any) -> list[str]:
    if inspect.isclass(value):
        return _class(path, value)
    if inspect.isfunction(value):
        return [f"### `{path}`", "", *_call(name, value)]
    if not _is_type_alias(value):
        return [f"### `{path}`", "", _doc(value)]
    said = re.sub(r"\b(?:[a-z_]+\.)+", "", repr(value))
    return [f"### `{path}`", "", f"A type: `{said}`."]


def _is_type_alias(value: Any) -> bool:
    return get_origin(value) is not None or isinstance(value, UnionType)


def _class(path: str, kind: type) -> list[str]:
    name = kind.__name__
    parts = [f"### `{path}`", "", _doc(kind)]
    fields = _fields(kind)
    if issubclass(kind, Exception):
        return parts
    if not fields and _is_made_by_users(kind):
        parts += ["", "```python", _signature(name, kind.__init__, skip_self=True), "```"]
    if fields:
        parts += ["", *_field_table(kind, set())]
    members = list(_members(kind, {field for field, *_ in fields}))
    properties = [(key, member) for key, member in members if isinstance(member, property)]
    if properties:
        parts += ["", "| property | type | |", "|---|---|---|"]
        parts += [f"| `{key}` | {_type(_returns(member.fget))} | {_line(member)} |" for key, member in properties]
    for key, member in members:
        if not isinstance(member, property):
            parts += ["", f"#### `{name}.{key}`", "", *_call(f"{name}.{key}", member)]
    return parts


def _is_made_by_users(kind: type) -> bool:
    """Whether a class is constructed by whoever uses it, and not given by a bout."""
    own = kind.__init__ is not object.__init__ and not getattr(kind, "_is_protocol", False)  # type: ignore[misc]
    return own and bool(inspect.signature(kind).parameters) and kind.__name__ != "Reason"


def _call(name: str, call: Callable[..., Any]) -> list[str]:
    return ["```python", _signature(name, call, skip_self="." in name), "```", "", _doc(call)]


def member_names(kind: type) -> list[str]:
    """The fields, properties and methods of a class that its part of the reference tells."""
    fields = [name for name, *_ in _fields(kind)]
    return [*fields, *(name for name, _ in _members(kind, set(fields)))]


def _members(kind: type, fields: set[str]) -> Iterator[tuple[str, Any]]:
    """The public methods and properties of a class, with those of its bases in this package."""
    seen = set(fields)
    for part in kind.__mro__:
        if not part.__module__.startswith("emberwound"):
            continue
        for key, member in vars(part).items():
            plain = getattr(kind, key) if isinstance(member, classmethod | staticmethod) else member
            is_told = isinstance(plain, property) or (callable(plain) and not inspect.isclass(plain))
            if key not in seen and not key.startswith("_") and is_told:
                seen.add(key)
                yield key, plain


def _fields(kind: type) -> list[tuple[str, str, str]]:
    """The fields of a struct or dataclass: name, type, default."""
    if issubclass(kind, msgspec.Struct):
        found = []
        for name, default in zip(
            kind.__struct_fields__,
            [
                *[msgspec.NODEFAULT] * (len(kind.__struct_fields__) - len(kind.__struct_defaults__)),
                *kind.__struct_defaults__,
            ],
            strict=True,
        ):
            found.append((name, _annotation(kind, name), "" if default is msgspec.NODEFAULT else repr(default)))
        return found
    if dataclasses.is_dataclass(kind):
        return [
            (field.name, str(field.type), "" if field.default is dataclasses.MISSING else repr(field.default))
            for field in dataclasses.fields(kind)
            if not field.name.startswith("_")
        ]
    return []


def _annotation(kind: type, name: str) -> str:
    return next(str(part.__annotations__[name]) for part in kind.__mro__ if name in part.__annotations__)


def _field_table(kind: type, without: set[str]) -> list[str]:
    texts = field_texts(kind)
    fields = [field for field in _fields(kind) if field[0] not in without]
    if not fields:
        return ["It has the fields of every event alone."]
    rows = [
        f"| `{name}` | {_type(kind_)} | {_cell(default)} | {_cell(texts.get(name, ''))} |"
        for name, kind_, default in fields
    ]
    return ["| field | type | default | |", "|---|---|---|---|", *rows]


def _cell(text: str) -> str:
    return text.replace("|", "\\|")


def _type(text: str) -> str:
    return f"`{_plain(text)}`".replace("|", "\\|")


def _plain(text: str) -> str:
    return re.sub(r"<class '(.+)'>", r"\1", text).replace("emberwound.", "").replace("typing.", "")


def _returns(call: Any) -> str:
    return str(inspect.signature(call).return_annotation)


def _signature(name: str, call: Callable[..., Any], *, skip_self: bool) -> str:
    """A call as one would write it, an argument a line where it is long."""
    found = inspect.signature(call)
    parts: list[str] = []
    starred = False
    for key, each in found.parameters.items():
        if skip_self and key in ("self", "cls"):
            continue
        if each.kind is each.KEYWORD_ONLY and not starred:
            parts.append("*")
            starred = True
        star = "*" if each.kind is each.VAR_POSITIONAL else "**" if each.kind is each.VAR_KEYWORD else ""
        starred = starred or star == "*"
        kind = f": {_plain(str(each.annotation))}" if each.annotation is not each.empty else ""
        default = f" = {each.default!r}" if each.default is not each.empty else ""
        parts.append(f"{star}{key}{kind}{default}")
    back = (
        "" if found.return_annotation in (found.empty, "None", None) else f" -> {_plain(str(found.return_annotation))}"
    )
    line = f"{name}({', '.join(parts)}){back}"
    if len(line) <= 100:
        return line
    return "\n".join([f"{name}(", *[f"    {part}," for part in parts], f"){back}"])


def _line(value: Any) -> str:
    return " ".join(_doc(value).split()).replace("|", "\\|")


def _doc(value: Any) -> str:
    return inspect.cleandoc(value.__doc__ or "")
