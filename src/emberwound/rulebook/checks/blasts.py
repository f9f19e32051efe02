"""Checks of blasts, and of what sets them off."""

from __future__ import annotations

from typing import TYPE_CHECKING

from emberwound.rulebook.checks.layers import check_layers
from emberwound.rulebook.checks.pushes import check_push

if TYPE_CHECKING:
    from collections.abc import Sequence

    from emberwound.rulebook.checks.reading import Findings
    from emberwound.rulebook.models import Attack, Fighter
    from emberwound.rulebook.outline import Key


def check_blast(found: Findings, name: str) -> None:
    """All that must fit within a blast."""
    key: Key = ("blasts", name)
    blast = found.book.blasts[name]
    if blast.damage > 0.0 and blast.kind is None:
        found.report((*key, "kind"), "missing", "required where damage is above 0: what kind of wound is it?")
    if blast.damage == 0.0 and blast.push is None and not blast.afflicts:
        found.report(key, "a blast that does nothing", "give it damage, a push, or something it afflicts with")
    check_push(found, key, blast.push, travels=False)
    check_layers(found, (*key, "layers"), blast.layers)


def check_fuse(found: Findings, key: Key, attack: Attack, owners: Sequence[tuple[str, Fighter]]) -> None:
    """What sets off an attack's blast: the ends of its shots and rays, or its releases at a place."""
    flies = attack.shot is not None or attack.ray is not None
    if attack.blast is not None and not flies and attack.blast_at is None:
        allowed = "give the attack a shot or a ray that carries it, or blast_at, the place it goes off at"
        found.report((*key, "blast"), "a blast that nothing sets off", allowed)
    if attack.blast_at is not None and (attack.blast is None or flies):
        seen = "a place beside a shot or a ray" if flies else "a place without a blast"
        found.report((*key, "blast_at"), seen, "it is where a blast goes off that nothing carries")
    for fighter, owner in owners:
        if isinstance(attack.blast_at, str) and attack.blast_at not in owner.joints:
            found.unknown((*key, "blast_at", "from"), f"joint of {fighter}", attack.blast_at, owner.joints)
