"""Chronicles as JSON Lines, and files written whole or not at all."""

from __future__ import annotations

import os
import tempfile
from pathlib import Path
from typing import TYPE_CHECKING

import msgspec

from emberwound.chronicle.chronicle import Chronicle
from emberwound.chronicle.header import FORMAT, FORMAT_VERSION, End, Header
from emberwound.vocabulary.errors import ChronicleError, OutputError
from emberwound.vocabulary.events import AnyEvent, Event
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
        except (msgspec.MsgspecError, UnicodeDecodeError) as error:
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
    return Chronicle(header, tuple(inputs), tuple(events), end, None)


def _read_line(line: bytes) -> Header | End | Input | Event:
    entry: Header | End | Input | Event = _LINE.decode(line)
    if isinstance(entry, Event) and min(entry.seq, entry.tick, entry.time) < 0:
        raise msgspec.ValidationError("an event needs seq, tick and time")
    return entry


def _read_header(line: bytes, file: str, *, whole: bool) -> Header:
    try:
        opening = msgspec.json.decode(line, type=_Opening)
    except (msgspec.MsgspecError, UnicodeDecodeError):
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
        return msgspec.json.decode(line, type=Header)
    except msgspec.MsgspecError as error:
        raise ChronicleError(f"{file}: line 1 cannot be read: {error}") from None


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
        data = path.read_bytes()
    except OSError as error:
        raise ChronicleError(f"{path}: {error.strerror}; give a chronicle file") from None
    chronicle = from_lines(data, path.name, partial=partial)
    chronicle.steps = steps or {}
    return chronicle if chronicle.end.digest else chronicle.completed()


def write_beside(path: Path, data: bytes) -> Path:
    """Write a file whole, under the first numbered name beside it where another content is; the file. OutputError."""
    free, number = path, 2
    while free.exists() and not (free.is_file() and free.read_bytes() == data):
        free, number = path.with_stem(f"{path.stem}-{number}"), number + 1
    return write_whole(free, data)


def write_whole(path: Path, data: bytes) -> Path:
    """Write beside `path`, then move into place, so that no half-written file is ever seen. Raises OutputError."""
    try:
        with tempfile.NamedTemporaryFile(dir=path.parent, prefix=f".{path.name}.", delete=False) as file:
            try:
                file.write(data)
                file.flush()
                os.fsync(file.fileno())
                Path(file.name).chmod(0o644)
                Path(file.name).replace(path)
            except BaseException:
                Path(file.name).unlink(missing_ok=True)
                raise
    except OSError as error:
        raise OutputError(f"{path}: cannot be written: {error.strerror}") from None
    return path


def ready_folder(folder: Path) -> Path:
    """Make a folder to write into, if it is not there. Raises OutputError when it cannot be made or written."""
    try:
        folder.mkdir(parents=True, exist_ok=True)
        with tempfile.TemporaryFile(dir=folder):
            return folder
    except OSError as error:
        raise OutputError(f"{folder}: {error.strerror}; name a folder that can be written") from None
