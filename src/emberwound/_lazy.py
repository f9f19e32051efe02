"""Names of a module that load when they are first used, so that importing it costs next to nothing.

The names stand once, in the stub (`.pyi`) beside the module: type checkers read them there, and so does `attach`.
"""

from __future__ import annotations

import ast
import sys
from importlib import import_module
from pathlib import Path
from typing import TYPE_CHECKING, Any

if TYPE_CHECKING:
    from collections.abc import Callable


def attach(module: str, file: str, *own: str) -> tuple[Callable[[str], Any], Callable[[], list[str]], list[str]]:
    """`__getattr__`, `__dir__` and `__all__` of a module, from the imports of the stub beside its `file`.

    `from place import name as name` gives a name; from the module itself, a module within it. `from place import *`
    gives all that a place defines and does not begin with an underscore. The module has its `own` names besides.
    """
    homes: dict[str, str] = {}
    for node in ast.parse(Path(file).with_suffix(".pyi").read_text(encoding="utf-8")).body:
        if isinstance(node, ast.ImportFrom) and node.module:
            for each in node.names:
                names = _defined(node.module) if each.name == "*" else [each.name]
                homes.update(dict.fromkeys(names, node.module))
    names = sorted([*homes, *own])

    def load(name: str) -> Any:
        if name not in homes:
            raise AttributeError(f"module {module!r} has no attribute {name!r}")
        home = homes[name]
        found = import_module(f"{home}.{name}") if home == module else getattr(import_module(home), name)
        setattr(sys.modules[module], name, found)
        return found

    return load, lambda: names, names


def _defined(place: str) -> list[str]:
    found = vars(import_module(place))
    return [name for name, value in found.items() if name[0] != "_" and getattr(value, "__module__", "") == place]
