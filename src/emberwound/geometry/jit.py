"""The one way kernels are compiled, and whether they are compiled already."""

from __future__ import annotations

import logging
from contextlib import suppress
from pathlib import Path
from typing import TYPE_CHECKING, Any, TypeVar, cast

import numba
import numpy as np

import emberwound.geometry.jit_constants  # noqa: F401 (it teaches Numba what the columns are called)

if TYPE_CHECKING:
    from collections.abc import Callable

LOG = logging.getLogger("emberwound")
"""A warning, so that whoever configures no logging sees it too: a first call that is silent for a minute looks hung."""

_known: set[object] = set()
"""What was said already."""

_uncached = object()

Kernel = TypeVar("Kernel", bound="Callable[..., Any]")


def kernel(function: Kernel) -> Kernel:
    """Compile `function` with Numba, cached on disk; no fast-math, so results are the same in every compile.

    Where no folder can be written, kernels are compiled again in every process, and a warning says so once. With
    Numba's JIT turned off they run as they are written, to the same bits.
    """
    if getattr(numba.config, "DISABLE_JIT", False):
        return _interpreted(function)
    try:
        return cast("Kernel", _forgiving(numba.njit(cache=True)(function)))
    except RuntimeError:  # Numba found no folder for its cache
        if _uncached not in _known:
            _known.add(_uncached)
            LOG.warning("no folder for compiled kernels can be written: set NUMBA_CACHE_DIR to one, or wait every time")
        return cast("Kernel", numba.njit(function))


def _forgiving(dispatcher: Any) -> Any:
    """The dispatcher, for which a broken cache is an empty one, and a full disk no reason to stop."""
    cache = dispatcher._cache  # noqa: SLF001 (Numba has no other way to say so)
    load, save = cache.load_overload, cache.save_overload

    def load_or_compile(*arguments: Any) -> Any:
        try:
            return load(*arguments)
        except Exception:  # noqa: BLE001 (whatever a broken file makes of reading it)
            with suppress(Exception):
                cache.flush()
            return None

    def save_if_possible(*arguments: Any) -> None:
        try:
            save(*arguments)
        except Exception as error:  # noqa: BLE001 (as above, or a full disk)
            if _uncached not in _known:
                _known.add(_uncached)
                LOG.warning("compiled kernels cannot be kept (%s); they are compiled again in every process", error)

    cache.load_overload, cache.save_overload = load_or_compile, save_if_possible
    return dispatcher


def _interpreted(function: Kernel) -> Kernel:
    """The function as it is, silent where compiled code is: NumPy warns of the infinities that kernels mean."""
    silent: Any = np.errstate(divide="ignore", invalid="ignore", over="ignore")(function)
    silent.py_func = function
    return cast("Kernel", silent)


def is_compiled(function: Callable[..., Any]) -> bool:
    """Whether a compiled form of this kernel lies in Numba's cache folder (or it was compiled in this process)."""
    stats = getattr(function, "stats", None)
    if stats is None or cast("Any", function).signatures:
        return True
    if stats.cache_path is None:
        return False
    code = cast("Any", function).py_func.__code__
    source = Path(code.co_filename)
    index = f"{source.stem}.{code.co_name}-{code.co_firstlineno}.*.nbi"
    newest = max((path.stat().st_mtime for path in Path(stats.cache_path).glob(index)), default=0.0)
    return newest >= source.stat().st_mtime


def announce(function: Callable[..., Any], what: str) -> None:
    """Warn in the log that `function` is about to be compiled, if it is; looked at once in a process."""
    if function in _known:
        return
    _known.add(function)
    if not is_compiled(function):
        LOG.warning("preparing %s: compiled once on this machine, about a minute", what)
