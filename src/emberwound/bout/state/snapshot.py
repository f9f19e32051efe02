"""A bout laid aside: the columns that are in use and the pairs that have met, as bytes."""

from __future__ import annotations

from hashlib import blake2b
from typing import TYPE_CHECKING, Self

import msgspec
import numpy as np

from emberwound.bout.state.block import Used
from emberwound.bout.state.layout import Count
from emberwound.vocabulary.clock import NEVER
from emberwound.vocabulary.orders import AnyInput

if TYPE_CHECKING:
    from numpy.typing import NDArray

    from emberwound.bout.state.block import Block


MOST_REMEMBERED = 16
"""For so many numbers of columns in use it is remembered which words that are, if they are few."""

FEW_WORDS = 1 << 16
SHOTS_AT_ONCE = 16
"""Columns of shots are copied so many at once: more numbers of shots use the same words."""


class Packing:
    """Makes and takes copies of a block."""

    def __init__(self, block: Block) -> None:
        self._block = block
        self._words: NDArray[np.int64] = block.memory[: block.memory.size // 8 * 8].view(np.int64)
        self._known: dict[Used, NDArray[np.intp]] = {}

    def packed(self) -> bytes:
        """All state as bytes, without columns that were never used; `replace` takes it."""
        block = self._block
        pieces = [self._words.take(self._places(self._used(block.counts.tolist()))).tobytes()]
        for pairs in (block.swing_touches, block.combos):
            pairs.settle()
            pieces += [pairs.keys.size.to_bytes(8, "little"), pairs.keys.tobytes(), pairs.figures.tobytes()]
        return b"".join(pieces)

    def replace(self, state: bytes) -> None:
        """Take what `packed` gave of another block for the state. Raises ValueError for any other bytes."""
        if len(state) % 8 or len(state) < 8 * Count.COLUMNS:
            raise ValueError("no whole state")
        words = np.frombuffer(state, np.int64)
        before, used = self._used(self._block.counts.tolist()), self._used(words[: Count.COLUMNS].tolist())
        if any(not 0 <= count <= most for count, most in zip(used, self._most(), strict=True)):
            raise ValueError("no whole state")
        places, pairs = self._places(used), []
        at = places.size
        for each in (self._block.swing_touches, self._block.combos):
            if at >= words.size:
                raise ValueError("no whole state")
            count, rows = int(words[at]), each.figures.shape[0]
            if not 0 <= count * (1 + rows) < words.size - at:
                raise ValueError("no whole state")
            figures = words[at + 1 + count : at + 1 + count * (1 + rows)].view(np.float64).reshape(rows, count)
            pairs.append((each, words[at + 1 : at + 1 + count], figures))
            at += 1 + count * (1 + rows)
        if at != words.size:
            raise ValueError("more than a whole state")
        if used != before:
            self._free(self._places(before))
        self._words[places] = words[: places.size]
        for each, keys, figures in pairs:
            each.replace(keys, figures)

    def _used(self, counts: list[int]) -> Used:
        shots = -(-counts[Count.SHOTS_TOP] // SHOTS_AT_ONCE) * SHOTS_AT_ONCE
        return Used(counts[Count.BODIES_END], counts[Count.SEATS], min(shots, self._most().shot))

    def _most(self) -> Used:
        layout = self._block.layout
        return Used(*(layout[name].capacity for name in ("bodies", "seats", "shots")))

    def _places(self, used: Used) -> NDArray[np.intp]:
        """The words in use, in their order."""
        found = self._known.get(used)
        if found is None:
            found = np.concatenate([self._of_part(name, used) for name in self._block.layout])
            if found.size <= FEW_WORDS:
                if len(self._known) == MOST_REMEMBERED:
                    self._known.clear()
                self._known[used] = found
        return found

    def _of_part(self, name: str, used: Used) -> NDArray[np.intp]:
        block = self._block
        part, start = block.layout[name], block.places[name] // 8
        if name == "due":
            timers = zip(block.due_starts, block.timer_parts, strict=False)
            return np.concatenate([start + first + np.arange(timer.used(used)) for first, timer in timers])
        columns = np.arange(part.used(used))
        if part.last and not part.fixed:
            columns = np.concatenate((columns, np.arange(part.capacity - part.last, part.capacity)))
        rows = start + part.capacity * np.arange(part.rows)
        places: NDArray[np.intp] = (rows[:, None] + columns).ravel()
        return places

    def _free(self, places: NDArray[np.intp]) -> None:
        """Let nothing stand in some words but what stands in free columns."""
        first = self._block.places["due"] // 8
        self._words[places] = 0
        self._words[places[(places >= first) & (places < first + self._block.due.size)]] = NEVER


CHECK_BYTES = 16


class Snapshot(msgspec.Struct, frozen=True):
    """The state as bytes, the names of seats and teams, inputs not yet taken, and the part of a tick not yet run.

    `made_for` names the rules, arena, tick rate and script that a bout must share to take it. `check` is a hash of all
    the rest: a bout refuses a snapshot that was damaged.
    """

    made_for: tuple[str, str, int, str | None]
    """Hash of the rules, arena, tick rate and script that a bout must share to take it."""
    names: tuple[str, ...]
    """Names of the seats."""
    teams: tuple[str, ...]
    """Names of the teams."""
    pending: tuple[AnyInput, ...]
    """Inputs that no tick has taken yet."""
    remainder: int
    """Part of a tick that `advance` kept, in billionths."""
    state: bytes
    """The state in use, as bytes."""
    check: bytes = b""
    """Hash of all the rest."""

    def sealed(self) -> Self:
        """The same with its `check`."""
        return msgspec.structs.replace(self, check=self._hash())

    @property
    def is_whole(self) -> bool:
        """Whether it is as it was made."""
        try:
            return self.check == self._hash()
        except (TypeError, ValueError, OverflowError):
            return False

    def _hash(self) -> bytes:
        about = (self.made_for, self.names, self.teams, self.pending, self.remainder)
        digest = blake2b(msgspec.msgpack.encode(about), digest_size=CHECK_BYTES)
        digest.update(self.state)
        return digest.digest()

    def __repr__(self) -> str:
        return f"<Snapshot of arena {self.made_for[1]}: {len(self.names)} seats, {len(self.state)} bytes>"
