"""Compiling kernels with Numba, and keeping them. Only what compiles or loads a kernel imports this."""

from __future__ import annotations

from contextlib import suppress
from pathlib import Path
from typing import TYPE_CHECKING, Any, Protocol

import numba
from numba.core import types
from numba.core.caching import CompileResultCacheImpl, FunctionCache
from numba.core.imputils import lower_constant, lower_getattr_generic
from numba.core.typing.templates import AttributeTemplate, infer_getattr
from numba.extending import models, register_model, typeof_impl

from emberwound.geometry.kernel_folder import kernel_folder, say_once
from emberwound.geometry.layout import NamedNumbers

if TYPE_CHECKING:
    from types import FunctionType


# Numba's extension calls carry no types that fit.
# mypy: disable-error-code="no-untyped-call,untyped-decorator,override,misc"


class _ConstantsOf(types.Dummy):
    """What Numba sees of a class of named numbers: nothing at run time, and each name as a whole number."""

    def __init__(self, named: NamedNumbers) -> None:
        self.named = named
        super().__init__(name=named.__name__)


register_model(_ConstantsOf)(models.OpaqueModel)


@typeof_impl.register(NamedNumbers)
def _type_of_constants(named: NamedNumbers, _context: object) -> _ConstantsOf:
    return _ConstantsOf(named)


@infer_getattr
class _ConstantsNames(AttributeTemplate):
    """Any whole number: as literals they would compile each kernel that takes one once for each of its values."""

    key = _ConstantsOf

    def generic_resolve(self, _of: _ConstantsOf, _name: str) -> object:
        return types.int64


@lower_constant(_ConstantsOf)
def _lower_constants(context: Any, _builder: object, _of: object, _value: object) -> object:
    return context.get_dummy_value()


@lower_getattr_generic(_ConstantsOf)
def _lower_name(context: Any, _builder: object, of: _ConstantsOf, _value: object, name: str) -> Any:
    return context.get_constant(types.int64, getattr(of.named, name))


# Numba's own classes carry no types.
# mypy: disable-error-code="no-untyped-call,misc"


class Dispatcher(Protocol):
    """A function as Numba compiles it, one form for each signature."""

    signatures: list[object]
    _numba_type_: object

    def __call__(self, *arguments: object) -> object:
        """What the function gives."""


def compiled(function: FunctionType) -> Dispatcher:
    """The dispatcher of a function, whose compiled forms are loaded from the folder of kernels and kept there."""
    dispatcher: Any = numba.njit(function)
    if kernel_folder() is None:
        say_once("no folder for compiled kernels can be written: set NUMBA_CACHE_DIR to one, or wait every time")
    else:
        dispatcher._cache = _Cache(function)  # noqa: SLF001 (Numba's own way in takes no folder)
    found: Dispatcher = dispatcher
    return found


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

    def load_overload(self, signature: Any, context: object) -> object:
        """The compiled form for a signature, or None; another one's may lie there when two processes compiled."""
        try:
            found = super().load_overload(signature, context)
        except Exception:  # noqa: BLE001 (whatever a broken file makes of reading it)
            with suppress(Exception):
                self.flush()
            return None
        asked = getattr(signature, "args", signature)
        return found if found is None or tuple(found.signature.args) == tuple(asked) else None

    def save_overload(self, signature: object, made: object) -> None:
        """Keep a compiled form if that is possible."""
        try:
            super().save_overload(signature, made)
        except Exception as error:  # noqa: BLE001 (as above, or a full or read-only disk)
            say_once(f"compiled kernels cannot be kept ({error}); they are compiled again in every process")
