"""Names that rulebooks used before they had their names of today, offered to whoever still writes the old ones."""

from __future__ import annotations

from typing import TYPE_CHECKING

if TYPE_CHECKING:
    from collections.abc import Iterable

KEYS: dict[str, tuple[str, ...]] = {
    "plane": ("space",),
    "near": ("margin",),
    "towards": ("half_space",),
    "back": ("returns_after",),
    "stand": ("respawn_at",),
    "unhurt": ("invulnerable",),
    "takes": ("damage_taken",),
    "takes_share": ("damage_taken_share",),
    "soak": ("flat_reduction",),
    "spill": ("overflow",),
    "owner": ("hits_owner",),
    "own_team": ("hits_allies",),
    "direct": ("hits_direct_victim",),
    "resistance": ("stagger_resistance",),
    "resists": ("withstands_severity",),
    "when_out": ("on_elimination",),
    "out_team": ("elimination_team",),
    "out_message": ("elimination_message",),
    "better": ("best",),
    "least": ("minimum", "min_points"),
    "most": ("max_at_once", "max_stacks"),
    "bodies": ("body_contact",),
    "keep": ("restitution",),
    "bounce_keep": ("restitution",),
    "slowing": ("slide_deceleration",),
    "limp": ("ragdoll",),
    "guardless": ("disables_guard",),
    "while": ("allowed_while",),
    "about": ("description",),
}
"""A former key, and what it is called now in the tables that had it."""

VALUES: dict[str, tuple[str, ...]] = {
    "full": ("3d",),
    "more": ("highest",),
    "less": ("lowest",),
    "pass": ("none",),
    "part": ("separate",),
    "all over": ("whole body",),
    "refused": ("order_refused",),
    "burst": ("exploded",),
    "frozen": ("hit_stop_began",),
    "emptied": ("pool_emptied",),
    "reacted": ("reaction_began",),
    "recovered": ("reaction_ended",),
    "entered": ("seat_entered",),
    "left": ("seat_left",),
    "ended": ("bout_ended",),
    "restarted": ("bout_restarted",),
    "prop_stood": ("prop_placed",),
    "wall_between": ("strike_blocked",),
    "cue_silent": ("cue_skipped",),
    "pushed": ("knocked_back",),
}
"""A former value, hurtbox or event of a cue, and what it is called now."""


def renamed_key(name: str, keys: Iterable[object]) -> str | None:
    """A sentence with the name of today of a former key, if the table has such a key."""
    return _sentence(KEYS.get(name, ()), keys)


def renamed_value(name: object, known: Iterable[str]) -> str | None:
    """A sentence with the name of today of a former value, if it is one of those known."""
    return _sentence(VALUES.get(name, ()) if isinstance(name, str) else (), known)


def _sentence(names: Iterable[str], known: Iterable[object]) -> str | None:
    known = set(known)
    return next((f"it is called `{name}` now" for name in names if name in known), None)
