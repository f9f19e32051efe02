"""Whether something may touch a body at all, and if not, why not."""

from __future__ import annotations

from dataclasses import dataclass

from emberwound.vocabulary.reasons import Reason


@dataclass(frozen=True, slots=True)
class Target:
    """A hurtbox as an attack sees it: whose, of which team, on which layer (a bit), alive, protected, touched before.

    `touched_ago` is how many seconds ago this release or swing touched it, None for never.
    """

    owner: int
    team: int
    layer: int
    alive: bool = True
    protected: bool = False
    touched_ago: float | None = None


@dataclass(frozen=True, slots=True)
class Reach:
    """What an attack may touch: whose it is, of which team, the layers (bits), and whether its own count.

    `touch_again_every` is the time after which it touches the same victim again, None for never.
    """

    owner: int
    team: int
    layers: int
    may_touch_owner: bool = False
    may_touch_team: bool = False
    touch_again_every: float | None = None
    ignores_protection: bool = False


def refusal(reach: Reach, target: Target) -> Reason | None:
    """Why an attack leaves a target alone; None when it does not.

    In this order: the dead, layers, the owner, the team, the protected, and who was touched before. An owner is judged
    as such, and not as one of its team.
    """
    again = reach.touch_again_every
    own = target.owner == reach.owner
    refusals = {
        Reason.TARGET_DEAD: not target.alive,
        Reason.OTHER_LAYER: not target.layer & reach.layers,
        Reason.OWN_BODY: own and not reach.may_touch_owner,
        Reason.OWN_TEAM: not own and target.team == reach.team and not reach.may_touch_team,
        Reason.PROTECTED: target.protected and not reach.ignores_protection,
        Reason.TOUCHED_BEFORE: target.touched_ago is not None and (again is None or target.touched_ago < again),
    }
    return next((reason for reason, holds in refusals.items() if holds), None)
