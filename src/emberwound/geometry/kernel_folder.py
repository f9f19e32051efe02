"""The folder in which compiled kernels are kept. It is found without Numba, which takes long to import."""

from __future__ import annotations

import hashlib
import logging
import os
import shutil
import sys
import tempfile
from contextlib import suppress
from functools import cache
from pathlib import Path
from typing import TYPE_CHECKING

if TYPE_CHECKING:
    from collections.abc import Iterator


@cache
def say_once(message: str) -> None:
    """Warn in the log; a warning, so that whoever configures no logging sees it: a silent second looks hung."""
    logging.getLogger("emberwound").warning(message)


HERE = Path(__file__).parent


@cache
def kernel_folder() -> Path | None:
    """The folder for the kernels of these sources: the first that holds any, else the first that can be written.

    `NUMBA_CACHE_DIR` names the place; else it is beside the sources, else where the user's programs keep such things.
    """
    name = f"emberwound-{_stamp()}"
    places = [place / name for place in _places()]
    chosen = next(filter(_holds_kernels, places), None) or next(filter(_can_be_written, places), None)
    if chosen is not None and chosen.parent == HERE / "__pycache__":
        for each in chosen.parent.glob("emberwound-*"):
            if each != chosen:  # of sources that are no longer here
                shutil.rmtree(each, ignore_errors=True)
    return chosen


def is_kept(module: str, kernel: str) -> bool:
    """Whether a form of a kernel lies in the folder that was compiled for this version of Python."""
    folder, python = kernel_folder(), f"py{sys.version_info.major}{sys.version_info.minor}"
    return folder is not None and any(folder.glob(f"{module.rpartition('.')[2]}.{kernel}-*.{python}*.nbi"))


def _stamp() -> str:
    """A name for all sources of kernels: a compiled kernel holds those that it calls."""
    sources = sorted(HERE.glob("*.py"))
    return hashlib.sha256(b"".join(each.read_bytes() for each in sources)).hexdigest()[:16]


def _places() -> Iterator[Path]:
    named = os.environ.get("NUMBA_CACHE_DIR")
    if named:
        yield Path(named)
        return
    yield HERE / "__pycache__"
    if sys.platform == "win32":
        local = os.environ.get("LOCALAPPDATA")
        if local:
            yield Path(local) / "emberwound"
        return
    with suppress(RuntimeError):  # a user without a home
        yield Path(os.environ.get("XDG_CACHE_HOME") or Path("~/.cache").expanduser()) / "emberwound"


def _holds_kernels(folder: Path) -> bool:
    try:
        return any(folder.glob("*.nbi"))
    except OSError:
        return False


def _can_be_written(folder: Path) -> bool:
    try:
        folder.mkdir(parents=True, exist_ok=True)
        with tempfile.TemporaryFile(dir=folder):
            return True
    except OSError:
        return False
