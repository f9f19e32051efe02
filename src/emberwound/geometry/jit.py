"""Kernels: functions over arrays of numbers that run as they are written until it pays to compile them.

Compiling a kernel takes seconds, and a short bout costs less than that in interpreted kernels: so a program begins at
once. A kernel is loaded when its compiled form lies in the cache and the process has spent `LOAD_AFTER` on kernels, and
compiled when it alone has cost `COMPILE_AFTER`, about what compiling costs. Both forms give the same bits, so it does
not matter when the change comes.
"""

from __future__ import annotations

import os
from contextlib import contextmanager
from time import perf_counter
from types import FunctionType
from typing import TYPE_CHECKING, Final, TypeVar, cast

import numpy as np

from emberwound.geometry.kernel_folder import is_kept, say_once

if TYPE_CHECKING:
    from collections.abc import Callable, Iterator

    from emberwound.geometry.compiling import Dispatcher

LOAD_AFTER: Final = 0.6
"""Seconds that kernels may cost in a process before compiled ones are loaded, for which Numba must be imported."""

WORTH_LOADING: Final = 0.02
"""Seconds that a kernel must have cost before it is loaded, about what loading costs."""

COMPILE_AFTER: Final = 4.0
"""Seconds that a kernel must have cost before it is compiled, about what compiling costs."""

WORTH_SAYING: Final = 1.0
"""Seconds that a process must have lost to interpreted kernels before it is told how to save them."""

Function = TypeVar("Function", bound="Callable[..., object]")


class Tiers:
    """What all kernels of a process share: what they cost so far, and whether they may be compiled."""

    def __init__(self) -> None:
        self.kernels: list[Kernel] = []
        self.seconds = 0.0
        self.is_off = os.environ.get("NUMBA_DISABLE_JIT", "0") not in ("", "0")
        self.may_compile = not self.is_off
        self.is_patient = True
        self._told: Callable[[int, int], None] | None = None
        self._interpreted: dict[str, dict[str, object]] = {}

    @contextmanager
    def at_once(self, progress: Callable[[int, int], None] | None) -> Iterator[None]:
        """Compile or load every kernel that is called meanwhile; `progress` hears how many are, and of how many."""
        self.is_patient, self._told = False, progress
        try:
            yield
        finally:
            self.is_patient, self._told = True, None
        if progress:
            progress(len(self.kernels), len(self.kernels))

    @property
    def would_gain(self) -> bool:
        """Whether this process would have gained `WORTH_SAYING` if its kernels had lain compiled in the cache."""
        slow = [each for each in self.kernels if each.seconds > WORTH_LOADING and not each.is_ready]
        return self.may_compile and sum(each.seconds for each in slow) > WORTH_SAYING

    def tell(self) -> None:
        """Tell whoever wants to hear it how many kernels are compiled or loaded."""
        if self._told:
            self._told(sum(each.is_ready for each in self.kernels), len(self.kernels))

    def names_for(self, function: FunctionType) -> dict[str, object]:
        """The names that an interpreted kernel sees: those of its module, other kernels interpreted too."""
        names = self._interpreted.get(function.__module__)
        if names is None:
            names = self._interpreted[function.__module__] = dict(function.__globals__)
            names.update((name, each.interpreted) for name, each in names.items() if isinstance(each, Kernel))
        return names


TIERS: Final = Tiers()


class Kernel:
    """A function in its two forms; calling it calls whichever pays."""

    def __init__(self, function: FunctionType) -> None:
        self.py_func = function
        self.__name__, self.__doc__, self.__module__ = function.__name__, function.__doc__, function.__module__
        self.seconds = 0.0
        self._next_look = WORTH_LOADING
        self._interpreted: FunctionType | None = None
        self._compiled: Dispatcher | None = None
        self._call: Callable[..., object] = self._weigh
        TIERS.kernels.append(self)

    def __call__(self, *arguments: object) -> object:
        """What the function gives."""
        return self._call(*arguments)

    @property
    def interpreted(self) -> FunctionType:
        """The function as it is written, which calls other kernels as they are written."""
        if self._interpreted is None:
            function, names = self.py_func, TIERS.names_for(self.py_func)
            self._interpreted = FunctionType(
                function.__code__, names, function.__name__, function.__defaults__, function.__closure__
            )
        return self._interpreted

    @property
    def compiled(self) -> Dispatcher:
        """The function as Numba compiles it; each signature is loaded or compiled when it is called first."""
        if self._compiled is None:
            from emberwound.geometry.compiling import compiled  # noqa: PLC0415 (it imports Numba)

            self._compiled = compiled(self.py_func)
        return self._compiled

    @property
    def is_ready(self) -> bool:
        """Whether it is compiled or loaded, be it as a part of another."""
        return self._compiled is not None and bool(self._compiled.signatures)

    @property
    def _numba_type_(self) -> object:
        """What a compiled kernel that calls this one sees."""
        return self.compiled._numba_type_

    def _weigh(self, *arguments: object) -> object:
        """Run the function as it is written, and see what that costs."""
        if not TIERS.is_patient:
            self._go_over()
            result = self._call(*arguments)
            TIERS.tell()
            return result
        begun = perf_counter()
        with np.errstate(divide="ignore", invalid="ignore", over="ignore"):  # as compiled code, which says nothing
            result = _plain(self.interpreted(*arguments))
        spent = perf_counter() - begun
        self.seconds += spent
        TIERS.seconds += spent
        if TIERS.may_compile and TIERS.seconds > LOAD_AFTER and self.seconds > self._next_look:
            self._decide()
        return result

    def _decide(self) -> None:
        """Go over to the compiled form if it is there already, or if making it pays; else look again much later."""
        self._next_look = min(2.0 * self.seconds, COMPILE_AFTER)
        if not is_kept(self.__module__, self.__name__):
            if self.seconds < COMPILE_AFTER:
                return
            say_once(
                "compiling kernels, some seconds each and once on this machine; `emberwound prepare` does it ahead"
            )
        self._go_over()

    def _go_over(self) -> None:
        """Call the compiled form from now on."""
        self._call = self.compiled


def kernel(function: Function) -> Function:
    """The function as a kernel: interpreted until it pays to compile it, no fast-math, to the same bits."""
    return cast("Function", Kernel(cast("FunctionType", function)))


def _plain(result: object) -> object:
    """Numbers of NumPy as Python's, as compiled code gives them."""
    if isinstance(result, tuple):
        return tuple(_plain(each) for each in result)
    return result.item() if isinstance(result, np.generic) else result
