"""A bout laid aside: enough to go on from it in a fresh bout of the same rules."""

from __future__ import annotations

from hashlib import blake2b
from typing import Self

import msgspec

from emberwound.vocabulary.orders import AnyInput

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
