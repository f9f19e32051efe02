"""One body at a moment: where it is, what it does, what it has, and its shapes."""

from __future__ import annotations

from typing import TYPE_CHECKING, Literal

from emberwound.bout.bodies import pools, ragdoll
from emberwound.bout.hits import afflictions, reactions
from emberwound.bout.state import queries
from emberwound.bout.state.layout import Count, Timer, index_of_mark
from emberwound.bout.views.parts import ActionView, AfflictionView, RagdollView, ReactionView, SolidView, solid_view
from emberwound.combat.reaction import blend
from emberwound.geometry.layout import (
    BodyColumn,
    BodyMark,
    Posture,
    Presence,
    RagdollState,
    ShapeColumn,
    VolumeColumn,
    VolumeMark,
)
from emberwound.geometry.pose import pose_of
from emberwound.plan.solids import Solid
from emberwound.plan.stances import Stance, hurtbox_solids, joint_place, to_space
from emberwound.vocabulary.clock import NEVER
from emberwound.vocabulary.errors import BoutError

if TYPE_CHECKING:
    import numpy as np

    from emberwound.bout.state.world import WorldState
    from emberwound.plan.fighter_plans import FighterPlan
    from emberwound.vocabulary.orders import Facing

PRESENCES: dict[int, Literal["living", "corpse", "prop"]] = {
    Presence.LIVE: "living",
    Presence.CORPSE: "corpse",
    Presence.PROP: "prop",
}


class BodyView:
    """A body at a moment: living, a corpse, or a prop. All of it is worked out when it is asked for."""

    __slots__ = ("_fighter", "_index", "_marks", "_more", "_world")

    _world: WorldState
    _index: int
    _more: float
    _marks: list[int]
    _fighter: FighterPlan

    def __init__(self) -> None:
        raise BoutError("a body's view comes from bout.view(), seat.body or prop.body")

    @property
    def seat(self) -> str:
        """The name of its seat; of a prop its own."""
        return self._world.name_of_body(self._index)

    @property
    def fighter(self) -> str:
        """The name of its fighter, or of its sort of prop."""
        return self._fighter.name

    @property
    def id(self) -> int:
        """An id that no other body of the bout has."""
        return self._marks[BodyMark.ID]

    @property
    def life(self) -> int:
        """Which of its seat's lives this is, from 1."""
        return self._marks[BodyMark.LIFE]

    @property
    def presence(self) -> Literal["living", "corpse", "prop"]:
        """What it is to the others."""
        return PRESENCES[self._marks[BodyMark.PRESENCE]]

    @property
    def position(self) -> tuple[float, ...]:
        """Where it stands."""
        return self._world.point(self._place)

    @property
    def velocity(self) -> tuple[float, ...]:
        """How fast it moves, in lengths a second."""
        return self._world.point(self._vector(BodyColumn.VELOCITY))

    @property
    def facing(self) -> Facing:
        """The side it faces, or degrees from +x in an arena where it can look around."""
        return self._world.plan.space.facing(self.heading)

    @property
    def heading(self) -> tuple[float, float]:
        """The unit direction on the ground that it faces."""
        x, y = self._world.block.bodies[BodyColumn.AHEAD : BodyColumn.AHEAD + 2, self._index].tolist()
        return (x, y)

    @property
    def states(self) -> tuple[str, ...]:
        """What it does: its reaction, its attack, and what comes on top.

        That is "frozen", "charging", "held", "holding", "moving", "airborne", "guarding", and a posture.
        """
        if self._marks[BodyMark.PRESENCE] != Presence.LIVE:
            return ()
        reaction = reactions.reaction_of(self._world, self._index)
        attack = queries.attack_of(self._world, self._index)
        found = [each.name for each in (reaction, attack) if each is not None]
        found += ["frozen"] if self._marks[BodyMark.FROZEN_UNTIL] else []
        found += ["charging"] if self._marks[BodyMark.CHARGING_SINCE] else []
        found += ["held"] if self._marks[BodyMark.HELD_BY] else []
        found += ["holding"] if self._marks[BodyMark.HOLDS] else []
        found += queries.states_of(self._world, self._index)
        posture = self.posture
        return (*found, posture) if posture not in ("standing", "airborne") else tuple(found)

    @property
    def posture(self) -> str:
        """The posture it is in: "standing", "airborne", or one of its fighter's."""
        index = self._marks[BodyMark.POSTURE] if self._marks[BodyMark.GROUNDED] else Posture.AIRBORNE
        return self._fighter.postures[index]

    @property
    def held_by(self) -> str | None:
        """The seat whose body holds it, or None."""
        holder = index_of_mark(self._marks[BodyMark.HELD_BY])
        return None if holder < 0 else self._world.name_of_body(holder)

    @property
    def stage(self) -> str | None:
        """The stage of its fighter that it is in, or None before the first."""
        stage = queries.stage_of(self._world, self._index)
        return None if stage is None else stage.name

    @property
    def protected(self) -> bool:
        """Whether nothing but what is fatal can hurt it now."""
        return bool(self._marks[BodyMark.PROTECTED])

    @property
    def guarding(self) -> bool:
        """Whether its guard is up."""
        return self.presence == "living" and queries.is_guarding(self._world, self._index)

    @property
    def frozen_seconds(self) -> float:
        """How much of a hit stop is left."""
        return max(self._marks[BodyMark.FROZEN_UNTIL] - self._tick, 0.0) / self._rate

    @property
    def action(self) -> ActionView | None:
        """The attack that it is in; None when it is in none."""
        attack = queries.attack_of(self._world, self._index)
        if attack is None:
            return None
        if self._marks[BodyMark.CHARGING_SINCE]:
            seconds = (self._local - self._marks[BodyMark.CHARGING_SINCE] + 1) / self._rate
            return ActionView(attack=attack.name, charging=True, seconds=seconds, seconds_left=None)
        start = attack.start_of(self._marks[BodyMark.ATTACK_TICK], self._marks[BodyMark.REPEAT]) / attack.denominator
        whole = attack.stages[-1].at / attack.denominator
        passed = max(self._local - start, 0.0)
        return ActionView(
            attack=attack.name,
            charging=False,
            seconds=passed / self._rate,
            seconds_left=max(whole - passed, 0.0) / self._rate,
        )

    @property
    def cooldowns(self) -> dict[str, float]:
        """The seconds until each of its attacks has cooled down, 0 for those that have."""
        ready: list[int] = self._world.block.ready[: len(self._fighter.attacks), self._index].tolist()
        return {
            attack.name: max(tick - self._local, 0.0) / self._rate
            for attack, tick in zip(self._fighter.attacks, ready, strict=True)
        }

    @property
    def reaction(self) -> ReactionView | None:
        """The reaction that it is in; of a corpse the one that it died with. None when it is in none."""
        terms = reactions.reaction_of(self._world, self._index)
        if terms is None:
            return None
        seconds = (self._local - self._marks[BodyMark.REACTION_SINCE]) / self._rate
        until = int(self._world.block.timers[Timer.REACTION_END][self._index])
        return ReactionView(
            name=terms.name,
            variant=terms.variants[self._marks[BodyMark.VARIANT]],
            part=terms.part,
            seconds=seconds,
            seconds_left=(until - self._local) / self._rate,
            blend=blend(terms, seconds),
        )

    @property
    def pools(self) -> dict[str, float]:
        """The points of each pool."""
        held = pools.values(self._world, self._index, self._more)
        return {pool.name: value for pool, value in zip(self._fighter.stats.pools, held, strict=True)}

    @property
    def pool_sizes(self) -> dict[str, float]:
        """The maximum of each pool."""
        return {pool.name: pool.maximum for pool in pools.stats_of(self._world, self._index).pools}

    @property
    def stagger_left(self) -> float | None:
        """The points of damage that it can still take without a reaction; None where there is no such rule."""
        found = reactions.stagger(self._world, self._index, self._fighter)
        return None if found is None else found.left

    @property
    def afflictions(self) -> tuple[AfflictionView, ...]:
        """Its afflictions, in the order in which they are held."""
        return tuple(
            AfflictionView(name=name, by=by, strength=strength, seconds_left=(until - self._local) / self._rate)
            for name, by, strength, until in afflictions.held(self._world, self._index)
        )

    @property
    def joints(self) -> dict[str, tuple[float, ...]]:
        """Where each of its joints is."""
        stance = self._stance
        return {
            name: self._world.point(
                to_space(joint_place(self._world.plan, joint, stance.pose), stance.position, stance.heading)
            )
            for joint, name in enumerate(self._fighter.joints)
        }

    @property
    def hurtboxes(self) -> dict[str, SolidView]:
        """The shapes that can be hit now, by name; a corpse has none."""
        return {name: solid_view(self._world, each) for name, each in hurtboxes_of(self).items()}

    @property
    def hitboxes(self) -> dict[str, SolidView]:
        """The shapes that strike now, by name, as they were at the end of the last tick."""
        return {name: solid_view(self._world, each) for name, each in hitboxes_of(self).items()}

    @property
    def ragdoll(self) -> RagdollView | None:
        """The points that it falls as; None for a body that is no ragdoll."""
        plan = self._fighter.ragdoll
        if plan is None or not self._marks[BodyMark.RAGDOLL]:
            return None
        points = ragdoll.points_of(self._world, self._index, plan)
        places, velocities = (
            {name: self._world.point(each) for name, each in zip(plan.names, columns.T, strict=True)}
            for columns in (points[:3], points[3:])
        )
        return RagdollView(
            points=places,
            velocities=velocities,
            links=tuple((plan.names[a], plan.names[b]) for a, b in plan.links.T.tolist()),
            still=self._marks[BodyMark.RAGDOLL] == RagdollState.STILL,
        )

    @property
    def seconds_left(self) -> float | None:
        """How long a corpse still lies there; None for other bodies."""
        due = int(self._world.block.timers[Timer.CORPSE_GONE][self._index])
        return None if due == NEVER else (due - self._tick) / self._rate

    @property
    def _rate(self) -> int:
        return self._world.plan.tick_rate

    @property
    def _tick(self) -> float:
        return self._world.counts[Count.TICK] + self._more

    @property
    def _local(self) -> float:
        """The tick that its own clock shows, which stands still in a hit stop."""
        return max(self._tick, self._marks[BodyMark.FROZEN_UNTIL])

    @property
    def _place(self) -> np.ndarray:
        place = self._vector(BodyColumn.START)
        if not self._more or self._marks[BodyMark.FROZEN_UNTIL]:
            return place
        return place + self._vector(BodyColumn.VELOCITY) * (self._more / self._rate)

    @property
    def _stance(self) -> Stance:
        """How it stands: where in space, its heading, its pose, and the hurtboxes that are off."""
        hidden = queries.hidden_in(self._world.plan, self._world.block.body_marks[:, self._index : self._index + 1])
        pose = pose_of(self._world.block.body_marks, self._index, self._world.counts[Count.TICK])
        return Stance(self._place.tolist(), self.heading, float(pose), int(hidden[0]))

    def _vector(self, column: int) -> np.ndarray:
        return self._world.block.bodies[column : column + 3, self._index]

    def __repr__(self) -> str:
        return f"<BodyView of {self.seat}: {self.fighter}, {self.presence}>"


def body_view(world: WorldState, index: int, more: float = 0.0) -> BodyView:
    """A body by its column, `more` ticks after the state at hand."""
    body = BodyView.__new__(BodyView)
    body._world, body._index, body._more = world, index, more  # noqa: SLF001 (this makes it)
    body._marks = world.block.body_marks[:, index].tolist()  # noqa: SLF001
    body._fighter = world.plan.fighters[body._marks[BodyMark.MODEL]]  # noqa: SLF001
    return body


def hurtboxes_of(body: BodyView) -> dict[str, Solid]:
    """The shapes of a body that can be hit now, by name, in space; a corpse has none."""
    world, fighter = body._world, body._fighter  # noqa: SLF001 (for the floors above)
    if body._marks[BodyMark.PRESENCE] == Presence.CORPSE:  # noqa: SLF001
        return {}
    solids = hurtbox_solids(world.plan, fighter.id, stance_of(body))
    return {fighter.hurtboxes[part].name: each for part, each in solids.items()}


def hitboxes_of(body: BodyView) -> dict[str, Solid]:
    """The shapes of a body that strike now, by name, in space, as they were at the end of the last tick."""
    world, index = body._world, body._index  # noqa: SLF001 (for the floors above)
    block, most = world.block, world.plan.most_hitboxes
    attack = queries.attack_of(world, index)
    if attack is None or attack.strike is None:
        return {}
    found, now = {}, max(world.counts[Count.TICK], int(block.body_marks[BodyMark.FROZEN_UNTIL, index]))
    columns = range(index * most, (index + 1) * most)
    for volume in sorted(columns, key=lambda volume: float(block.volumes[VolumeColumn.FROM, volume])):
        if block.volumes[ShapeColumn.KIND, volume]:
            over = max(now - float(block.volumes[VolumeColumn.TO, volume]), 0.0)
            name = attack.strike.hitboxes[int(block.volume_marks[VolumeMark.RANK, volume])].name
            found[name] = Solid(block.volumes[:, volume], 1.0 - over)
    return found


def stance_of(body: BodyView) -> Stance:
    """How a body stands, as `plan.solids` takes it: where in space, its heading, its pose, and what is off."""
    return body._stance  # noqa: SLF001 (for the floors above)
