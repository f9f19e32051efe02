"""Whether something may touch a body at all, and if not, why not."""

from __future__ import annotations

from dataclasses import dataclass

from emberwound.vocabulary.reasons import Reason


@dataclass(frozen=True, slots=True)
class Target:
    """A hurtbox as an attack sees it: whose it is, of which team, on which layer (a bit), and whether it lives."""

    owner: int
    team: int
    layer: int
    alive: bool = True
    touched: bool = False


@dataclass(frozen=True, slots=True)
class Reach:
    """What an attack may touch: whose it is, of which team, the layers (bits), and whether its own count."""

    owner: int
    team: int
    layers: int
    may_touch_owner: bool = False
    may_touch_team: bool = False


def refusal(reach: Reach, target: Target) -> Reason | None:
    """Why an attack leaves a target alone; None when it does not.

    In this order: the dead, layers, the owner, the team, and who was touched before. An owner is judged as such, and
    not as one of its team.
    """
    if not target.alive:
        return Reason.TARGET_DEAD
    if not target.layer & reach.layers:
        return Reason.OTHER_LAYER
    if target.owner == reach.owner:
        if not reach.may_touch_owner:
            return Reason.OWN_BODY
    elif target.team == reach.team and not reach.may_touch_team:
        return Reason.OWN_TEAM
    return Reason.TOUCHED_BEFORE if target.touched else None
