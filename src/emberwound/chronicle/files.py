"""Files read whole, and written whole or not at all."""

from __future__ import annotations

import glob
import os
import platform
import shutil
import tempfile
import time
from contextlib import suppress
from typing import TYPE_CHECKING

from emberwound.vocabulary.errors import OutputError

if TYPE_CHECKING:
    from pathlib import Path


def bytes_of(path: Path) -> bytes:
    """What a file holds; a device may never end. Raises OSError, ValueError."""
    if path.is_char_device():
        raise ValueError("a device")
    return path.read_bytes()


def write_beside(path: Path, data: bytes) -> Path:
    """Write a file whole, under the first numbered name beside it where another content is; the file. OutputError."""
    free, number = path, 2
    while free.exists() and not (free.is_file() and free.read_bytes() == data):
        free, number = path.with_stem(f"{path.stem}-{number}"), number + 1
    return write_whole(free, data)


def write_whole(path: Path, data: bytes) -> Path:
    """Write beside `path`, then move into place, so that no half-written file is ever seen. Raises OutputError.

    A link is followed, permissions are those of the file that was there, else those of any new file. What a killed
    process left half-written is taken away by the next one that writes there.
    """
    try:
        target = path.resolve()
        part = target.with_name(f".{target.name}.{_here()}.{os.getpid()}{PART}")
        _take_leftovers_away(target)
        try:
            with part.open("wb") as file:
                file.write(data)
                file.flush()
                os.fsync(file.fileno())
            if target.exists():
                shutil.copymode(target, part)
            part.replace(target)
        except BaseException:
            part.unlink(missing_ok=True)
            raise
    except (OSError, ValueError) as error:
        seen = error.strerror if isinstance(error, OSError) else error
        raise OutputError(f"{path}: cannot be written: {seen}") from None
    return path


PART = ".part"
LEFT_SECONDS = 60.0
"""What was half-written so long ago by a process of another machine belongs to none any more."""


def _here() -> str:
    """The name of this machine, as a part of a file's name."""
    return "".join(each for each in platform.node() if each.isalnum()) or "here"


def _take_leftovers_away(target: Path) -> None:
    for left in target.parent.glob(f".{glob.escape(target.name)}.*{PART}"):
        with suppress(OSError):
            if _is_left(left) or time.time() - left.stat().st_mtime > LEFT_SECONDS:
                left.unlink()


def _is_left(part: Path) -> bool:
    """Whether a half-written file is that of a process of this machine that does not run any more."""
    *_, node, process = part.name.removesuffix(PART).rsplit(".", 2)
    if node != _here() or not process.isdigit() or os.name != "posix":
        return False
    try:
        os.kill(int(process), 0)
    except ProcessLookupError:
        return True
    except (OSError, OverflowError):
        return False
    return False


def ready_folder(folder: Path) -> Path:
    """Make a folder to write into, if it is not there. Raises OutputError when it cannot be made or written."""
    try:
        folder.mkdir(parents=True, exist_ok=True)
        with tempfile.TemporaryFile(dir=folder):
            return folder
    except (OSError, ValueError) as error:
        seen = error.strerror if isinstance(error, OSError) else error
        raise OutputError(f"{folder}: {seen}; name a folder that can be written") from None
