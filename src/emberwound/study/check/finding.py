"""What a check of a book finds, and the closed list of names it may have."""

from __future__ import annotations

from typing import Literal

import msgspec

Severity = Literal["error", "warning", "hint"]
SEVERITIES: tuple[Severity, ...] = ("error", "warning", "hint")


class Finding(msgspec.Struct, frozen=True, kw_only=True):
    """Something in a book that does not do what it seems to say: its name, where it stands, why, and what to try.

    As text it is one line: where, what, and what to try.
    """

    name: str
    """Which of the names that docs/nothing-happens.md lists."""
    severity: Severity
    """How bad it is: an error makes something impossible, a warning is seldom meant, a hint may be."""
    file: str
    """Name of the book's file."""
    key: str
    """Dotted key it is about."""
    line: int | None
    """Line of the key in the file, from 1; none of a book that was not read from text."""
    what: str
    """What was found there, with its figures."""
    why: str
    """Why that matters."""
    advice: str
    """What to try."""

    def __str__(self) -> str:
        place = self.file if self.line is None else f"{self.file}:{self.line}"
        return f"{place}: {self.key}: {self.name}: {self.what}; {self.advice}"


FINDINGS: dict[str, tuple[Severity, str]] = {
    "refused": ("error", "the book cannot be loaded, so nothing of it runs"),
    "hurts-nobody": ("error", "the attack is carried out, and nobody there can ever be touched by it"),
    "zero-wound": ("warning", "the hit counts, is recorded, and takes no points"),
    "no-damage": ("warning", "the hit counts, is recorded, and takes no points"),
    "held-behind": ("warning", "of several held attacks the first goes alone, for as long as it is held"),
    "after-the-end": ("warning", "every bout is over before, so it never comes"),
    "own-step": ("hint", "what the step does is not looked at here"),
    "carries-nothing": ("warning", "the attack is carried out, and nothing comes of it"),
    "attack-unused": ("warning", "nobody can press it"),
    "template-unused": ("warning", "nothing of it is in any arena"),
    "kind-unused": ("hint", "what is said about the kind counts for nothing"),
    "fighter-unused": ("hint", "it is in no bout of the book; only a host can bring it in"),
    "arena-unused": ("hint", "no bout of the book is held there; only a host can open it"),
    "endless-shot": (
        "warning",
        "it takes room among `max_shots` for all that time, and may hit when nobody expects it",
    ),
    "short-shot": ("warning", "it ends before it can reach anybody, however it is aimed"),
    "muzzle-in-wall": ("warning", "the shot ends as it leaves"),
    "muzzle-behind": ("warning", "the shot starts at its owner's back and may pass what stands close in front"),
    "hits-own-body": ("warning", "the shot leaves within its owner's hurtbox and hits it first"),
    "late-release": ("warning", "the button seems to do nothing for that long"),
    "strike-behind": ("warning", "it touches nobody whom its owner faces"),
    "capacity-too-small": ("error", "no release has room for all that leaves at once"),
    "hitbox-never-on": ("error", "the strike touches nobody"),
    "double-window": ("error", "it is not clear when the hitbox is on"),
    "cost-above-pool": ("error", "the attack is refused each time for its cost"),
    "guard-total": ("warning", "nothing in the book gets through it, and holding it costs nothing"),
    "immortal": ("warning", "nothing in the book can ever kill it"),
    "unreachable-height": ("warning", "it passes over or under everybody who stands on the same ground"),
    "never-hittable": ("warning", "nothing can hit the fighter as it stands"),
    "unreachable-hurtbox": ("warning", "nothing in the book touches its layer"),
    "oversized-hurtbox": ("warning", "the fighter is hit where nothing of it is seen"),
    "gap-in-hurtboxes": ("warning", "shots fly through the fighter there"),
    "nested-hurtbox": ("warning", "whatever comes meets the outer one first, so it never counts"),
    "untouched-pool": ("warning", "it stays as it starts: nothing wounds, costs, fills or drains it"),
    "endless-shield": ("warning", "it fills up faster than anything in the book empties it"),
    "reaction-shadowed": ("error", "the row never counts"),
    "reaction-lock": ("warning", "who is hit once can never act again while the other goes on"),
    "knockback-out-of-bounds": ("warning", "whoever is hit leaves the arena, wherever it stood"),
    "hazard-behind-wall": ("warning", "a wall stops every body before it touches the hazard"),
    "hazard-every-tick": ("warning", "contact drains on almost every tick"),
    "fatal-entry": ("error", "who enters or respawns there is hurt at once"),
    "entry-in-wall": ("warning", "no wall stops who stands within it, and it walks out on either side"),
    "no-ground": ("warning", "whoever enters there falls out of the arena"),
    "patrol-at-wall": ("warning", "whoever walks it stands at the wall for ever"),
    "no-heights": ("warning", "seen from the top there are no heights, so it counts for nothing"),
    "checkpoint-unreachable": ("warning", "nobody can touch it, so nobody respawns there"),
    "checkpoint-in-air": ("warning", "whoever respawns there falls"),
    "spawn-in-reach": ("warning", "who respawns there is hit again before it can act"),
    "endless-lives": ("warning", "nobody is ever out, so what should follow never does"),
    "cue-never": ("warning", "nothing in the book is enough for it, so it never comes"),
    "cue-every-tick": ("warning", "the cue is heard or seen without a pause"),
    "bar-of-idle-pool": ("warning", "the bar never moves"),
    "bars-overlap": ("warning", "one bar covers another"),
    "off-grid-time": ("hint", "at this tick rate it is rounded up"),
    "scale-mismatch": (
        "warning",
        "bodies fall far too slowly or too fast for their size; lengths may be in another unit",
    ),
    "order-to-nobody": ("error", "nobody carries the order out"),
}
"""All names a finding may have: how severe it is as a rule, and why it matters."""
