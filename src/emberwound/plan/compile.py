"""Compiles a rulebook for an arena and a tick rate."""

from __future__ import annotations

from functools import lru_cache
from math import inf
from typing import TYPE_CHECKING

import numpy as np

from emberwound.geometry.contact import WALL_FLOOR, WALL_HIGH, WALL_LOW, WALL_ROWS
from emberwound.geometry.pose import OFFSET_A, OFFSET_B, OFFSET_RADIUS, OFFSET_ROWS
from emberwound.plan.plan import AttackPlan, EntryPlan, FighterPlan, Plan, ShotPlan
from emberwound.plan.plane import Plane
from emberwound.rulebook.terms import hurtbox_terms, pools_terms, wound_terms
from emberwound.vocabulary.clock import ticks_in

if TYPE_CHECKING:
    from numpy.typing import NDArray

    from emberwound.rulebook import Rulebook
    from emberwound.rulebook.models import Arena, Attack, Fighter, Settings
    from emberwound.vocabulary.clock import Duration


class _Ticks:
    """Turns a book's durations into whole ticks."""

    def __init__(self, settings: Settings, tick_rate: int) -> None:
        self.frame_rate = settings.frame_rate
        self.tick_rate = tick_rate

    def __call__(self, *parts: Duration) -> int:
        """The ticks of the sum of the parts, rounded up once."""
        return ticks_in(
            sum((part.seconds(self.frame_rate) for part in parts[1:]), parts[0].seconds(self.frame_rate)),
            self.tick_rate,
        )


@lru_cache(maxsize=32)
def compile_plan(rules: Rulebook, arena: str, tick_rate: int) -> Plan:
    """The plan of `rules` for one of its arenas; the same arguments give the same object.

    The arena and the tick rate are taken as already checked.
    """
    book = rules.book
    plane = Plane()
    ticks = _Ticks(book.settings, tick_rate)
    place = book.arenas[arena]
    fighters = tuple(
        _fighter(index, name, fighter, {each: book.attacks[each] for each in fighter.attacks}, place, plane, ticks)
        for index, (name, fighter) in enumerate(book.fighters.items())
    )
    most_hurtboxes = max((len(each.hurtboxes) for each in fighters), default=1)
    offsets, counts = _offsets(list(book.fighters.values()), most_hurtboxes, plane)
    low, high = plane.lift(place.bounds.low), plane.lift(place.bounds.high)
    return Plan(
        rules_hash=rules.hash,
        arena=arena,
        plane=plane,
        tick_rate=tick_rate,
        buffer_ticks=ticks(book.settings.buffer),
        max_seats=book.settings.max_seats,
        max_shots=book.settings.max_shots,
        fighters=fighters,
        entries={name: EntryPlan(plane.lift(each.at), each.facing) for name, each in place.entries.items()},
        low=low if place.floor is None else (low[0], low[1], max(low[2], place.floor)),
        high=high,
        walls=_walls(place, low, high),
        offsets=offsets,
        offset_counts=counts,
        most_hurtboxes=most_hurtboxes,
        most_pools=max((len(each.pools.pools) for each in fighters), default=1),
        most_attacks=max((len(each.attacks) for each in fighters), default=0),
    )


def _fighter(
    index: int, name: str, fighter: Fighter, attacks: dict[str, Attack], arena: Arena, plane: Plane, ticks: _Ticks
) -> FighterPlan:
    return FighterPlan(
        id=index,
        name=name,
        pools=pools_terms(fighter),
        hurtboxes=hurtbox_terms(fighter),
        attacks=tuple(_attack(each, attack, arena, plane, ticks) for each, attack in attacks.items()),
        corpse_ticks=ticks(fighter.corpse_seconds),
        respawn_ticks=ticks(fighter.respawn_seconds),
    )


def _attack(name: str, attack: Attack, arena: Arena, plane: Plane, ticks: _Ticks) -> AttackPlan:
    shot = attack.shot
    return AttackPlan(
        name=name,
        wound=wound_terms(attack),
        release_ticks=ticks(attack.windup),
        whole_ticks=ticks(attack.windup, attack.recovery),
        cooldown_ticks=ticks(attack.cooldown),
        shot=ShotPlan(
            radius=shot.radius,
            speed=shot.speed,
            gravity=shot.gravity_share * arena.gravity,
            life_ticks=ticks(shot.life),
            muzzle=plane.offset(shot.muzzle),
        ),
    )


def _walls(arena: Arena, low: tuple[float, ...], high: tuple[float, ...]) -> NDArray[np.float64]:
    walls = np.empty(WALL_ROWS)
    walls[WALL_FLOOR] = -inf if arena.floor is None else arena.floor
    walls[WALL_LOW : WALL_LOW + 3] = low
    walls[WALL_HIGH : WALL_HIGH + 3] = high
    walls[WALL_LOW + 1], walls[WALL_HIGH + 1] = -inf, inf
    walls.setflags(write=False)
    return walls


def _offsets(fighters: list[Fighter], most: int, plane: Plane) -> tuple[NDArray[np.float64], NDArray[np.int64]]:
    offsets = np.zeros((OFFSET_ROWS, len(fighters), most))
    counts = np.zeros(len(fighters), np.int64)
    for row, fighter in enumerate(fighters):
        counts[row] = len(fighter.hurtboxes)
        for part, hurtbox in enumerate(fighter.hurtboxes.values()):
            end = hurtbox.from_ if hurtbox.to is None else hurtbox.to
            offsets[OFFSET_A : OFFSET_A + 3, row, part] = plane.offset(hurtbox.from_)
            offsets[OFFSET_B : OFFSET_B + 3, row, part] = plane.offset(end)
            offsets[OFFSET_RADIUS, row, part] = hurtbox.radius
    offsets.setflags(write=False)
    counts.setflags(write=False)
    return offsets, counts
