"""Chronicles as JSON Lines, and files written whole or not at all."""

from __future__ import annotations

import glob
import os
import platform
import shutil
import tempfile
import time
from contextlib import suppress
from pathlib import Path
from typing import TYPE_CHECKING

import msgspec

from emberwound.chronicle.chronicle import Chronicle
from emberwound.chronicle.header import FORMAT, FORMAT_VERSION, End, Header
from emberwound.vocabulary.errors import ChronicleError, OutputError
from emberwound.vocabulary.events import AnyEvent, Event
from emberwound.vocabulary.limits import MOST_RECORDED_TICKS
from emberwound.vocabulary.orders import AnyInput, Input

if TYPE_CHECKING:
    from collections.abc import Iterator

    from emberwound.rulebook.rules import Steps

OURS = f'"format":"{FORMAT}"'.encode()
_LINE = msgspec.json.Decoder(Header | End | AnyInput | AnyEvent)


class _Opening(msgspec.Struct):
    format: str
    version: int


def to_lines(chronicle: Chronicle) -> bytes:
    """A chronicle as JSON Lines: the header, then of each tick its inputs and its events, then the end."""
    encode = msgspec.json.Encoder().encode
    return b"".join(encode(each) + b"\n" for each in _in_order(chronicle))


def _in_order(chronicle: Chronicle) -> Iterator[Header | Input | Event | End]:
    yield chronicle.header
    inputs = iter(chronicle.inputs)
    waiting = next(inputs, None)
    for event in chronicle.events:
        while waiting is not None and waiting.tick <= event.tick:
            yield waiting
            waiting = next(inputs, None)
        yield event
    if waiting is not None:
        yield waiting
    yield from inputs
    yield chronicle.end


def from_lines(data: bytes, file: str = "chronicle", *, partial: bool = False) -> Chronicle:
    """A chronicle from its JSON Lines. Raises ChronicleError for what is not ours, newer than ours, or cut off.

    With `partial` one that was cut off is read up to its last whole tick; its end has no digest.
    """
    first, broken, rest = data.partition(b"\n")
    header = _read_header(first, file, whole=bool(broken))
    if partial:
        rest = rest[: rest.rfind(b"\n") + 1]
    inputs: list[Input] = []
    events: list[Event] = []
    end = None
    lines = rest.splitlines()
    for number, line in enumerate(lines, start=2):
        try:
            entry = _read_line(line)
        except (msgspec.MsgspecError, UnicodeDecodeError, RecursionError) as error:
            if number == len(lines) + 1 and not rest.endswith(b"\n"):
                break
            raise ChronicleError(f"{file}: line {number} cannot be read: {error}") from None
        if end is not None or isinstance(entry, Header):
            raise ChronicleError(f"{file}: line {number} stands where no line may stand")
        if isinstance(entry, Event):
            events.append(entry)
        elif isinstance(entry, Input):
            inputs.append(entry)
        else:
            end = entry
    if end is None and not partial:
        raise ChronicleError(
            f"{file}: the last line is missing: the file was cut off; with partial=True, or --partial, "
            "it is read up to its last whole tick"
        )
    if end is None:
        ticks = max([event.tick for event in events] + [given.tick for given in inputs], default=header.first_tick)
        events = [event for event in events if event.tick < ticks]
        inputs = [given for given in inputs if given.tick < ticks]
        end = End(ticks=ticks, digest="")
    _check_course(header, inputs, events, end, file)
    return Chronicle(header, tuple(inputs), tuple(events), end, None)


def _check_course(header: Header, inputs: list[Input], events: list[Event], end: End, file: str) -> None:
    """Ticks and numbers of a record go upwards within its limits. Raises ChronicleError."""
    if not header.first_tick <= end.ticks <= header.first_tick + MOST_RECORDED_TICKS:
        allowed = f"allowed: {header.first_tick} to {header.first_tick + MOST_RECORDED_TICKS}"
        raise ChronicleError(f"{file}: its end is at tick {end.ticks}; {allowed}")
    numbers = [event.seq for event in events]
    if numbers != list(range(numbers[0], numbers[0] + len(numbers)) if numbers else []):
        raise ChronicleError(f"{file}: its events are not numbered one after the other; the file was changed")
    for what, ticks in (("events", [each.tick for each in events]), ("inputs", [each.tick for each in inputs])):
        if ticks != sorted(ticks) or (ticks and not header.first_tick <= ticks[0] <= ticks[-1] <= end.ticks):
            raise ChronicleError(f"{file}: the ticks of its {what} do not go from its first to its last one")


def _read_line(line: bytes) -> Header | End | Input | Event:
    entry: Header | End | Input | Event = _LINE.decode(line)
    if isinstance(entry, Event) and min(entry.seq, entry.tick, entry.time) < 0:
        raise msgspec.ValidationError("an event needs seq, tick and time")
    return entry


def _read_header(line: bytes, file: str, *, whole: bool) -> Header:
    try:
        opening = msgspec.json.decode(line, type=_Opening)
    except (msgspec.MsgspecError, UnicodeDecodeError, RecursionError):
        opening = None
    if opening is None and not whole and OURS in line:
        raise ChronicleError(f"{file}: the file was cut off within its first line; nothing of it can be read")
    if opening is None or opening.format != FORMAT:
        raise ChronicleError(f'{file}: not a chronicle: its first line has no "format":"{FORMAT}"')
    if opening.version != FORMAT_VERSION:
        older = opening.version < FORMAT_VERSION
        advice = "record its bout again" if older else "update it"
        raise ChronicleError(
            f"{file}: chronicle version {opening.version}; this program reads version {FORMAT_VERSION}: {advice}"
        )
    try:
        header = msgspec.json.decode(line, type=Header)
    except (msgspec.MsgspecError, UnicodeDecodeError, RecursionError) as error:
        raise ChronicleError(f"{file}: line 1 cannot be read: {error}") from None
    for what, value, most in (("tick_rate", header.tick_rate, 1000), ("seed", header.seed, 2**63 - 1)):
        if not (what == "tick_rate") <= value <= most:
            raise ChronicleError(f"{file}: line 1: {what}: {value}; allowed: {int(what == 'tick_rate')} to {most}")
    if header.first_tick < 0:
        raise ChronicleError(f"{file}: line 1: first_tick: {header.first_tick}; allowed: 0 or more")
    return header


def save(chronicle: Chronicle, path: str | Path) -> Path:
    """Write a chronicle to a file, whole or not at all. Raises OutputError."""
    return write_whole(Path(path), to_lines(chronicle))


def load(path: str | Path, steps: Steps | None = None, *, partial: bool = False) -> Chronicle:
    """Read a chronicle from a file; `steps` are the own steps its rules name, as for `Rulebook.load`.

    With `partial` one that was cut off is read up to its last whole tick, and run again to see that it is so.
    Raises ChronicleError.
    """
    path = Path(path)
    try:
        data = _bytes_of(path)
    except (OSError, ValueError) as error:
        seen = error.strerror if isinstance(error, OSError) else error
        raise ChronicleError(f"{path}: {seen}; give a chronicle file") from None
    chronicle = from_lines(data, path.name, partial=partial)
    chronicle.steps = steps or {}
    return chronicle if chronicle.end.digest else chronicle.completed()


def _bytes_of(path: Path) -> bytes:
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
