"""A bout laid aside: enough to go on from it in a fresh bout of the same rules."""

from __future__ import annotations

import msgspec

from emberwound.vocabulary.orders import Input


class Snapshot(msgspec.Struct, frozen=True):
    """The state as bytes, the names of seats and teams, inputs not yet taken, and the part of a tick not yet run.

    `made_for` names the rules, arena, tick rate and script that a bout must share to take it.
    """

    made_for: tuple[str, str, int, str | None]
    names: tuple[str, ...]
    teams: tuple[str, ...]
    pending: tuple[Input, ...]
    remainder: int
    state: bytes

    def __repr__(self) -> str:
        return f"<Snapshot of arena {self.made_for[1]}: {len(self.names)} seats, {len(self.state)} bytes>"
