"""Names of a package that load when they are first used, so that importing the package costs next to nothing."""

from __future__ import annotations

import sys
from importlib import import_module
from typing import TYPE_CHECKING, Any

if TYPE_CHECKING:
    from collections.abc import Callable, Mapping


def loader(package: str, homes: Mapping[str, str], modules: Mapping[str, str] | None = None) -> Callable[[str], Any]:
    """A `__getattr__` for `package`: `homes` has the module that defines each name, `modules` whole ones."""
    modules = modules or {}

    def load(name: str) -> Any:
        if name in modules:
            found: Any = import_module(modules[name])
        elif name in homes:
            found = getattr(import_module(homes[name]), name)
        else:
            raise AttributeError(f"module {package!r} has no attribute {name!r}")
        setattr(sys.modules[package], name, found)
        return found

    return load
