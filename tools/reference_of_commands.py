"""The reference of the command line: every command with its arguments and options, from the functions behind them."""

from __future__ import annotations

import inspect
import types
from dataclasses import dataclass
from functools import cache
from pathlib import Path
from typing import TYPE_CHECKING, Any, Literal, Union, get_args, get_origin, get_type_hints

import typer

from emberwound.cli.main import app

if TYPE_CHECKING:
    from collections.abc import Callable, Iterator

KINDS = {int: "N", float: "X", str: "TEXT", Path: "FILE", tuple: "A B"}


@dataclass(frozen=True, slots=True)
class Parameter:
    """An argument or an option: what it is called, what it takes, its default and its help."""

    called: str
    takes: str
    default: str
    help: str
    is_option: bool


def commands() -> str:
    """A part for each command."""
    parts: list[str] = []
    for name, call in every_command():
        rows = [
            f"| `{' '.join(filter(None, (each.called, each.takes)))}` | {each.default} | {each.help} |"
            for each in parameters(call)
        ]
        parts += [f"## `{name}`", "", inspect.cleandoc(call.__doc__ or ""), "", f"    {_usage(name, call)}", ""]
        parts += ["| argument or option | default | |", "|---|---|---|", *rows, ""] if rows else []
    return "\n".join(parts)


def every_command() -> Iterator[tuple[str, Callable[..., Any]]]:
    """Every command with its whole name."""
    for command in app.registered_commands:
        if command.callback is not None:
            yield f"emberwound {command.callback.__name__}", command.callback
    for group in app.registered_groups:
        for command in group.typer_instance.registered_commands if group.typer_instance else ():
            if command.callback is not None:
                yield f"emberwound {group.name} {command.name or command.callback.__name__}", command.callback


def parameters(call: Callable[..., Any]) -> list[Parameter]:
    """What a command takes, in order: arguments first."""
    hints = get_type_hints(call, include_extras=True)
    found = [_parameter(call, each, hints[name]) for name, each in inspect.signature(call).parameters.items()]
    return sorted(found, key=lambda each: each.is_option)


def _spelt(call: Callable[..., Any], parameter: str) -> str:
    """How the parser takes an option of a command."""
    taken = next(each for each in _parsed(call) if each.name == parameter).opts
    return str(next(name for name in taken if name.startswith("--")))


@cache
def _parsed(call: Callable[..., Any]) -> list[Any]:
    """What the parser takes for a command."""
    groups: list[Any] = [typer.main.get_command(app)]
    groups += [each for each in groups[0].commands.values() if hasattr(each, "commands")]
    name = next(name for name, other in every_command() if other is call)
    group = next((each for each in groups[1:] if name.startswith(f"emberwound {each.name} ")), groups[0])
    command = group.commands[name.rpartition(" ")[2]]
    return list(command.params)


def _parameter(call: Callable[..., Any], each: inspect.Parameter, hint: Any) -> Parameter:
    kind, info = get_args(hint)
    bare = next((part for part in get_args(kind) if part is not type(None)), kind) if _is_union(kind) else kind
    is_option = type(info).__name__ == "OptionInfo"
    called = _spelt(call, each.name) if is_option else info.metavar or each.name.upper()
    takes = "" if not is_option or bare is bool else info.metavar or _takes(bare)
    default = "required" if each.default is each.empty else _default(each.default)
    return Parameter(called, takes, default, (info.help or "").replace("|", "\\|"), is_option)


def _is_union(kind: Any) -> bool:
    return get_origin(kind) in {Union, types.UnionType}


def _takes(kind: Any) -> str:
    if get_origin(kind) is Literal:
        return "|".join(map(str, get_args(kind)))
    if get_origin(kind) is list:
        return f"{_takes(get_args(kind)[0])} ..."
    return KINDS.get(get_origin(kind) or kind, "TEXT")


def _default(value: Any) -> str:
    if value is False:
        return "off"
    return "none" if value in (None, (), []) else f"`{value}`"


def _usage(name: str, call: Callable[..., Any]) -> str:
    told = parameters(call)
    words = [each.called if each.default == "required" else f"[{each.called}]" for each in told if not each.is_option]
    return " ".join([name, *words, *(["[OPTIONS]"] if any(each.is_option for each in told) else [])])
