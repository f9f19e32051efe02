"""What a chronicle holds as JSON Lines, from its header to its last line, and its events as a pandas table."""

from __future__ import annotations

import platform
import types
from importlib.metadata import version as distribution_version
from typing import TYPE_CHECKING, Any, Union, get_args, get_origin, get_type_hints

import msgspec
import numpy as np

from emberwound._version import __version__
from emberwound.bout.lives.counters import BoardRow
from emberwound.plan.space import SPACES
from emberwound.vocabulary.errors import ChronicleError
from emberwound.vocabulary.events import TYPES, AnyEvent, Event, Point
from emberwound.vocabulary.ledger import Ledger
from emberwound.vocabulary.limits import MOST_RECORDED_TICKS
from emberwound.vocabulary.orders import AnyInput, Input

if TYPE_CHECKING:
    from collections.abc import Iterable, Iterator

    import pandas as pd

    from emberwound.bout import Bout


FORMAT = "emberwound chronicle"
FORMAT_VERSION = 4


class Header(msgspec.Struct, frozen=True, kw_only=True, tag_field="type", tag="header"):
    """All that is needed to run the bout again, and what it ran with."""

    format: str = FORMAT
    """"emberwound chronicle"."""
    version: int = FORMAT_VERSION
    """Version of the format."""
    arena: str
    """Where."""
    script: str | None
    """Bout of the book that was run, if any."""
    seed: int
    """Seed of the random draws."""
    tick_rate: int
    """Ticks a second."""
    first_tick: int
    """First tick recorded."""
    source: str
    """File name of the rulebook."""
    rules_hash: str
    """Hash of its content."""
    steps: dict[str, str]
    """Own steps and their versions."""
    libraries: dict[str, str]
    """What it was made with."""
    rules: dict[str, Any]
    """The whole rulebook with its defaults."""

    @classmethod
    def of(cls, bout: Bout) -> Header:
        """The header for what a bout does from now on."""
        return cls(
            arena=bout.arena,
            script=bout.script,
            seed=bout.seed,
            tick_rate=bout.tick_rate,
            first_tick=bout.tick,
            source=bout.rules.source,
            rules_hash=bout.rules.hash,
            steps=bout.rules.step_versions,
            libraries={
                "emberwound": __version__,
                "python": platform.python_version(),
                "numpy": np.__version__,
                "numba": distribution_version("numba"),
                "processor": platform.machine(),
            },
            rules=bout.rules.canonical(),
        )


class End(msgspec.Struct, frozen=True, kw_only=True, tag_field="type", tag="end"):
    """The last line: ticks run since the bout began, the digest of the state after them, and the board then."""

    ticks: int
    """Ticks run since the bout began."""
    digest: str
    """Hash of the state after them."""
    board: tuple[BoardRow, ...] = ()
    """The board then."""


OURS = f'"format":"{FORMAT}"'.encode()
_LINE = msgspec.json.Decoder(Header | End | AnyInput | AnyEvent)


class _Opening(msgspec.Struct):
    format: str
    version: int


Told = tuple[Header, tuple[Input, ...], tuple[Event, ...], End]
"""What a chronicle holds: its header, its inputs and events in order, and its end."""


def to_lines(told: Told) -> bytes:
    """A chronicle as JSON Lines: the header, then of each tick its inputs and its events, then the end."""
    encode = msgspec.json.Encoder().encode
    return b"".join(encode(each) + b"\n" for each in _in_order(*told))


def _in_order(
    header: Header, inputs: tuple[Input, ...], events: tuple[Event, ...], end: End
) -> Iterator[Header | Input | Event | End]:
    yield header
    following = iter(inputs)
    waiting = next(following, None)
    for event in events:
        while waiting is not None and waiting.tick <= event.tick:
            yield waiting
            waiting = next(following, None)
        yield event
    if waiting is not None:
        yield waiting
    yield from following
    yield end


def from_lines(data: bytes, file: str = "chronicle", *, partial: bool = False) -> Told:
    """What a chronicle holds, from its JSON Lines.

    Raises ChronicleError for what is not ours, newer than ours, or cut off.

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
    return header, tuple(inputs), tuple(events), end


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


COLUMNS = {bool: "boolean", int: "Int64", float: "Float64"}
"""Types of pandas that can say that a value is missing; all else is text."""


def events_table(events: Iterable[Event], space: str) -> pd.DataFrame:
    """One row an event, with a typed column for each field that events of any type have."""
    import pandas as pd

    axes = SPACES[space].axes
    kinds = _field_kinds()
    rows = [_row(event, kinds, axes) for event in events]
    columns: dict[str, Any] = {"type": "string"}
    for name, kind in kinds.items():
        if kind == Point:
            columns |= {f"{name}_{axis}": "Float64" for axis in axes}
        elif kind is not Ledger:
            columns[name] = COLUMNS.get(kind, "string")
    return pd.DataFrame({name: pd.array([row.get(name) for row in rows], dtype=kind) for name, kind in columns.items()})


def _field_kinds() -> dict[str, Any]:
    """The bare type of each field that events of any type have, those that all have first."""
    found: dict[str, Any] = {}
    kinds: list[type[Event]] = [Event, *TYPES.values()]
    for kind in kinds:
        hints = get_type_hints(kind)
        for name in kind.__struct_fields__:
            found.setdefault(name, _bare(hints[name]))
    return found


def _bare(hint: Any) -> Any:
    if get_origin(hint) in {Union, types.UnionType}:
        return next(part for part in get_args(hint) if part is not type(None))
    return hint


def _row(event: Event, kinds: dict[str, Any], axes: tuple[str, ...]) -> dict[str, Any]:
    row: dict[str, Any] = {"type": event.__struct_config__.tag}
    for name in event.__struct_fields__:
        value, kind = getattr(event, name), kinds[name]
        if value is None or kind is Ledger:
            continue
        if kind == Point:
            row |= {f"{name}_{axis}": along for axis, along in zip(axes, value, strict=True)}
        elif kind in COLUMNS or isinstance(value, str):
            row[name] = value
        else:
            plain = msgspec.to_builtins(value)
            row[name] = plain if isinstance(plain, str) else msgspec.json.encode(plain).decode()
    return row
