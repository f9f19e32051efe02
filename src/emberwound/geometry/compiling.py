"""Compiling kernels with Numba, and keeping them. Only what compiles or loads a kernel imports this."""

# Numba's own classes carry no types.
# mypy: disable-error-code="no-untyped-call,misc"

from __future__ import annotations

from contextlib import suppress
from pathlib import Path
from typing import TYPE_CHECKING, Any

import numba
from numba.core.caching import CompileResultCacheImpl, FunctionCache

import emberwound.geometry.jit_constants  # noqa: F401 (it teaches Numba what the columns are called)
from emberwound.geometry.kernel_folder import kernel_folder
from emberwound.geometry.said_once import say_once

if TYPE_CHECKING:
    from types import FunctionType


def compiled(function: FunctionType) -> Any:
    """The dispatcher of a function, whose compiled forms are loaded from the folder of kernels and kept there."""
    dispatcher: Any = numba.njit(function)
    if kernel_folder() is None:
        say_once("no folder for compiled kernels can be written: set NUMBA_CACHE_DIR to one, or wait every time")
    else:
        dispatcher._cache = _Cache(function)  # noqa: SLF001 (Numba's own way in takes no folder)
    return dispatcher


class _Locator:
    """Where one kernel is kept, as Numba asks for it: all in one folder, named after all sources."""

    def __init__(self, function: FunctionType, file: str) -> None:
        self._line = function.__code__.co_firstlineno
        self._py_file = file

    @classmethod
    def from_function(cls, function: FunctionType, file: str) -> _Locator:
        return cls(function, file)

    def ensure_cache_path(self) -> None:
        Path(self.get_cache_path()).mkdir(parents=True, exist_ok=True)

    def get_cache_path(self) -> str:
        return str(kernel_folder())

    def get_source_stamp(self) -> str:
        return Path(self.get_cache_path()).name

    def get_disambiguator(self) -> str:
        return str(self._line)


class _Impl(CompileResultCacheImpl):
    _locator_classes = [_Locator]  # noqa: RUF012 (as its base has it)


class _Cache(FunctionCache):
    """A cache of which a broken file is a missing one, and a full or read-only disk no reason to stop."""

    _impl_class = _Impl

    def load_overload(self, signature: Any, context: Any) -> Any:
        """The compiled form for a signature, or None; another one's may lie there when two processes compiled."""
        try:
            found = super().load_overload(signature, context)
        except Exception:  # noqa: BLE001 (whatever a broken file makes of reading it)
            with suppress(Exception):
                self.flush()
            return None
        asked = getattr(signature, "args", signature)
        return found if found is None or tuple(found.signature.args) == tuple(asked) else None

    def save_overload(self, signature: Any, made: Any) -> None:
        """Keep a compiled form if that is possible."""
        try:
            super().save_overload(signature, made)
        except Exception as error:  # noqa: BLE001 (as above, or a full or read-only disk)
            say_once(f"compiled kernels cannot be kept ({error}); they are compiled again in every process")
