"""A bout laid aside: enough to go on from it in a fresh bout of the same rules."""

from __future__ import annotations

import msgspec

from emberwound.vocabulary.orders import Input


class Snapshot(msgspec.Struct, frozen=True):
    """The state as bytes, the names of seats and teams, inputs not yet taken, and the part of a tick not yet run.

    `made_for` names the rules, arena, tick rate and script that a bout must share to take it.
    """

    made_for: tuple[str, str, int, str | None]
    """Hash of the rules, arena, tick rate and script that a bout must share to take it."""
    names: tuple[str, ...]
    """Names of the seats."""
    teams: tuple[str, ...]
    """Names of the teams."""
    pending: tuple[Input, ...]
    """Inputs that no tick has taken yet."""
    remainder: int
    """Part of a tick that `advance` kept, in billionths."""
    state: bytes
    """The state in use, as bytes."""

    def __repr__(self) -> str:
        return f"<Snapshot of arena {self.made_for[1]}: {len(self.names)} seats, {len(self.state)} bytes>"
