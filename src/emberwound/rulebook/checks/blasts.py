"""Checks of blasts, and of what sets them off."""

from __future__ import annotations

from typing import TYPE_CHECKING, Any

from emberwound.rulebook.checks.layers import check_layers, layers_named
from emberwound.rulebook.checks.parts import check_joints
from emberwound.rulebook.checks.pushes import check_push
from emberwound.rulebook.checks.reading import Findings, items, number, table

if TYPE_CHECKING:
    from emberwound.rulebook.outline import Key


def check_blast(found: Findings, name: str) -> None:
    """All that must fit within a blast."""
    key: Key = ("blasts", name)
    blast = table(found.raw, "blasts", name)
    damage = number(blast.get("damage")) or 0.0
    if damage > 0.0 and "kind" not in blast:
        found.report((*key, "kind"), "missing", "required where damage is above 0: what kind of wound is it?")
    if damage == 0.0 and "push" not in blast and not blast.get("afflicts"):
        found.report(key, "a blast that does nothing", "give it damage, a push, or something it afflicts with")
    check_push(found, key, blast, travels=False)
    check_layers(found, (*key, "layers"), items(blast.get("layers")), layers_named(found))


def check_fuse(found: Findings, key: Key, attack: dict[str, Any], owners: list[tuple[str, dict[str, Any]]]) -> None:
    """What sets off an attack's blast: the ends of its shots and rays, or its releases at a place."""
    flies = "shot" in attack or "ray" in attack
    if "blast" in attack and not flies and "blast_at" not in attack:
        allowed = "give the attack a shot or a ray that carries it, or blast_at, the place it goes off at"
        found.report((*key, "blast"), "a blast that nothing sets off", allowed)
    if "blast_at" in attack and ("blast" not in attack or flies):
        seen = "a place beside a shot or a ray" if flies else "a place without a blast"
        found.report((*key, "blast_at"), seen, "it is where a blast goes off that nothing carries")
    for fighter, owner in owners:
        place = {"from": attack.get("blast_at")}
        if isinstance(place["from"], str):
            check_joints(found, (*key, "blast_at"), place, f"joint of {fighter}", table(owner, "joints"))
