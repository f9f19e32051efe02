"""Checks of props: their shapes, and that they are not called like a fighter."""

from __future__ import annotations

from typing import TYPE_CHECKING

from emberwound.rulebook.checks.parts import check_joints, check_shape

if TYPE_CHECKING:
    from emberwound.rulebook.checks.reading import Findings
    from emberwound.rulebook.outline import Key

OF_FIGHTERS = ("route", "postures")


def check_prop(found: Findings, name: str) -> None:
    """All that must fit within a prop."""
    key: Key = ("props", name)
    prop = found.book.props[name]
    if name in found.book.names["fighters"]:
        found.report(key, f'the name "{name}"', "there is a fighter of that name: choose another")
    if not prop.hurtboxes:
        found.report((*key, "hurtboxes"), "no hurtbox", "a prop without one can never be hit; give it one")
    for hurtbox, part in prop.hurtboxes.items():
        place: Key = (*key, "hurtboxes", hurtbox)
        check_joints(found, place, part, "joint", {})
        check_shape(found, place, part)
        for only in OF_FIGHTERS:
            if getattr(part, only) is not None:
                found.report((*place, only), "on a prop", "only fighters have pools and postures; leave it out")
