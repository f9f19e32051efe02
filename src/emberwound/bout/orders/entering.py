"""What a host asks of a new seat, checked."""

from __future__ import annotations

from typing import TYPE_CHECKING, Literal

from emberwound.bout.orders import validate
from emberwound.bout.state.layout import Count
from emberwound.vocabulary.errors import BoutError, shortened
from emberwound.vocabulary.limits import LARGEST
from emberwound.vocabulary.orders import Enter

if TYPE_CHECKING:
    from collections.abc import Mapping, Sequence

    from emberwound.bout.state.world import World
    from emberwound.plan.fighter_plans import FighterPlan
    from emberwound.vocabulary.orders import Facing

MOST_LIVES = 100_000


def entered(  # noqa: PLR0913 (each is a field of the input, by name)
    world: World,
    fighter: str,
    *,
    at: str | Sequence[float],
    seat: str | None,
    facing: Facing | None,
    lives: int | Literal["endless"] | None,
    team: str | None,
    pools: Mapping[str, float],
    damage_dealt: float,
    speed_share: float,
) -> Enter:
    """The input of a seat that enters. Raises BoutError for what cannot be."""
    plan, names = world.plan, world.names
    if world.counts[Count.OVER]:
        raise BoutError("the bout is over; nobody can enter it any more; make a new one, or restore a snapshot")
    validate.name("fighter", fighter, [each.name for each in plan.fighters if not each.is_prop])
    where = validate.name("entry", at, plan.entries) if isinstance(at, str) else validate.place("at", at, plan)
    called = validate.free_name(fighter, names) if seat is None else seat
    validate.called("seat", called)
    if called in names:
        raise BoutError(f"seat {called!r} is taken; give another name, or use bout.seat({called!r})")
    if world.counts[Count.SEATS] == plan.max_seats and not names.have_gaps:
        most = plan.max_seats - len(plan.props)
        raise BoutError(f"no seat is free: settings.max_seats is {most}; raise it in the rulebook")
    return Enter(
        tick=world.counts[Count.TICK],
        seat=called,
        source="host",
        fighter=fighter,
        at=where,
        facing=None if facing is None else validate.facing(facing, plan, foe=False),
        lives=validate.lives(lives, MOST_LIVES),
        team=None if team is None else validate.called("team", team),
        pools=_pools(plan.fighter(fighter), pools),
        damage_dealt=validate.between("damage_dealt", damage_dealt, 0.0, LARGEST),
        speed_share=validate.between("speed_share", speed_share, 0.0, LARGEST),
    )


def _pools(fighter: FighterPlan | None, asked: Mapping[str, float]) -> dict[str, float]:
    """The maxima of pools that are not the fighter's own, in its order of pools."""
    try:
        given = dict(asked)
    except (TypeError, ValueError):
        raise BoutError(f"pools: give a table of pools and their maxima; got {shortened(asked)}") from None
    if fighter is None:
        return {}
    known = [pool.name for pool in fighter.stats.pools]
    for name, maximum in given.items():
        validate.name(f"pool of {fighter.name}", name, known)
        size = validate.amount(f"pools: {name}", maximum)
        for bar in fighter.bars:
            if bar.pool_name == name:
                validate.parts(f"pools: {name}", size, bar)
    return {name: float(given[name]) for name in known if name in given}
