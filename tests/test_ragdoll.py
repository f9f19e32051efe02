"""Ragdolls: how they start, what the killing hit gives them, how they come to rest, and that they stay whole."""

from __future__ import annotations

from typing import Any, Literal

import numpy as np
import pytest

import emberwound as ew
from conftest import only, ragdoll_of, run
from emberwound import events
from scenes_of_deaths import books, falls

BOOK = """
[kinds.iron]
[fighters.hunter]
attacks = ["beam", "slam"]
body = {{ radius = 0.3, height = 1.8 }}
pools.health = {{ max = 90, vital = true }}
hurtboxes.trunk = {{ from = [0, 1], radius = 0.2 }}
[fighters.husk]
corpse_seconds = {corpse}
respawn_seconds = 1
weight = {weight}
body = {{ radius = 0.3, height = 1.8 }}
pools.health = {{ max = 10, vital = true }}
hurtboxes.head = {{ from = [0, 1.6], radius = 0.15 }}
hurtboxes.trunk = {{ from = [0, 0.8], to = [0, 1.2], radius = 0.2 }}
hurtboxes.foot = {{ from = [0, 0.15], radius = 0.1 }}
joints.brow = [0.0, 1.6]
[fighters.husk.ragdoll]
radius = 0.1
decay = {decay}
points = {{ head = "brow", chest = [0, 1.2], hips = [0, 0.8], foot = [0, 0.15] }}
links = [["head", "chest"], ["chest", "hips"], ["hips", "foot"]]
[blasts.burst]
radius = 5
kind = "iron"
damage = 1
push = {{ speed = 8, heading = "radial" }}
[attacks.beam]
kind = "iron"
damage = 10
push = {{ speed = 6 }}
ray = {{ range = 30, muzzle = [0.4, {height}], direction = "facing" }}
[attacks.slam]
blast = "burst"
blast_at = [1, 0]
[arenas.yard]
floor = 0
bounds = {{ low = [-9, -1], high = [9, 20] }}
[arenas.yard.walls]
post = {{ at = [5, 1], size = [0.4, 2] }}
"""


SIDES: tuple[Literal[-1, 1], ...] = (-1, 1)


def killed(height: float = 1.6, at: float = 2, velocity: tuple[float, float] | None = None, **parts: Any) -> Any:
    """A bout on the tick after a husk was shot at a height, and the two seats."""
    figures = {"corpse": 9, "weight": 1, "decay": 0.5, "height": height, **parts}
    bout = ew.Bout(ew.Rulebook.parse(BOOK.format(**figures)), arena="yard")
    hunter, husk = bout.enter("hunter", at=(0, 0)), bout.enter("husk", at=(at, 0), lives=2)
    if velocity:
        husk.place((at, 0), velocity)
    hunter.order(press="beam")
    bout.step()
    assert not husk.alive
    return bout, hunter, husk


@pytest.mark.parametrize(
    ("height", "shares"),
    [(1.6, (1, 0.5, 0.25, 0.125)), (1.2, (0.5, 1, 0.5, 0.25)), (0.15, (0.125, 0.25, 0.5, 1))],
)
def test_the_killing_push_meets_the_point_that_was_hit_and_the_others_less(
    height: float, shares: tuple[float, ...]
) -> None:
    for weight, decay, given in ((1, 0.5, shares), (2, 0.5, shares), (1, 0, [float(each == 1) for each in shares])):
        _, _, husk = killed(height, weight=weight, decay=decay, velocity=(-1, 0))
        view = ragdoll_of(husk)
        assert list(view.points) == ["head", "chest", "hips", "foot"]
        assert view.links == (("head", "chest"), ("chest", "hips"), ("hips", "foot")) and not view.still
        assert [place[0] for place in view.points.values()] == pytest.approx([2] * 4), "it falls from where it stood"
        assert [place[1] for place in view.points.values()] == pytest.approx([1.6, 1.2, 0.8, 0.15])
        assert [speed[0] for speed in view.velocities.values()] == [
            pytest.approx(-1 + 6 * share / weight) for share in given
        ]


def test_it_falls_the_way_it_was_shot_lies_still_and_is_gone_in_time() -> None:
    bout, _, husk = killed(corpse=2.5)
    run(bout, 2)
    view = ragdoll_of(husk)
    assert view.still and np.mean([place[0] for place in view.points.values()]) > 2.3
    assert all(0.1 <= place[1] < 0.5 for place in view.points.values()), "it lies on the floor, on its skin"
    run(bout, 0.3)
    assert ragdoll_of(husk) == view, "what lies still stays so"
    assert husk.alive, "its seat fights on in a new body meanwhile"
    assert [event.tick for event in only(events.BodyRemoved, run(bout, 1))] == [151], "150 whole ticks after its death"
    assert husk.corpse is None


def test_a_ragdoll_stops_at_a_wall_and_a_later_blast_throws_it() -> None:
    bout, hunter, husk = killed(at=4)
    run(bout, 4)
    before = ragdoll_of(husk)
    assert before.still and max(place[0] for place in before.points.values()) <= 5 - 0.2 - 0.1 + 1e-9
    hunter.place((2, 0))
    bout.step()
    hunter.order(press="slam")
    bout.step()
    blown = ragdoll_of(husk)
    assert not blown.still
    for name, (x, z) in before.points.items():
        away = np.array([x - 3, z])
        share = 1 - np.linalg.norm(away) / 5
        assert blown.velocities[name] == pytest.approx(8 * share * away / np.linalg.norm(away))


def test_a_mirrored_death_falls_mirrored_and_a_bout_goes_on_from_any_moment_of_it() -> None:
    bout, *_ = killed(at=4, velocity=(2, 3))
    fresh = ew.Bout(bout.rules, arena="yard")
    fresh.restore(bout.snapshot())
    run(bout, 2)
    run(fresh, 2)
    assert fresh.digest() == bout.digest()
    left, right = (_fallen(side) for side in SIDES)
    assert left.keys() == right.keys() and all(left[name] == (-x, z) for name, (x, z) in right.items())


def _fallen(side: Literal[1, -1]) -> dict[str, tuple[float, ...]]:
    """Where a husk lies that was shot from the other side of the middle."""
    bout = ew.Bout(ew.Rulebook.parse(BOOK.format(corpse=9, weight=1, decay=0.5, height=1.6)), arena="yard")
    hunter = bout.enter("hunter", at=(0, 0), facing="right" if side > 0 else "left")
    husk = bout.enter("husk", at=(2 * side, 0), facing="left" if side > 0 else "right")
    hunter.order(press="beam")
    run(bout, 2)
    return ragdoll_of(husk).points


@pytest.mark.parametrize("count", [20, pytest.param(200, marks=pytest.mark.long)])
def test_a_thousand_units_a_second_tear_nothing_and_add_no_energy(count: int) -> None:
    for told in falls(books(), count, seed=4):
        assert told.unreal == 0
        assert told.deepest < 0.01
        assert told.stretched < 0.05
        assert told.gained < 0.01
        assert told.still >= 0.7 * told.died
