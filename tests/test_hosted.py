"""What a host does to bodies and shots by its own rules: recorded, explained, restored."""

from __future__ import annotations

import copy
import pickle
import random
import re
from typing import TYPE_CHECKING, Any

import pytest
from msgspec.structs import replace

import emberwound as ew
from conftest import only, range_rules

if TYPE_CHECKING:
    from collections.abc import Callable


def a_post() -> tuple[ew.Bout, ew.Seat]:
    """A post with a shield of 60 and 90 health, and somebody beside it."""
    bout = ew.Bout(range_rules(), arena="range", seed=1)
    post = bout.enter("post", seat="post", at=(5, 0))
    bout.enter("thrower", seat="a", at=(0, 0))
    bout.step()
    return bout, post


def test_a_host_hurts_and_heals_through_the_same_ledger() -> None:
    bout, post = a_post()
    post.hurt(70, "ember", by="a", name="fall")
    (wound,) = only(ew.events.Wounded, bout.step())
    assert (wound.attack, wound.by, wound.hurtbox, wound.amount) == ("fall", "a", "whole body", 70)
    assert [step.rule for step in wound.ledger.steps if step.rule.startswith("pool")] == ["pool shield", "pool health"]
    assert post.pools == {"shield": 0, "health": 80}
    post.hurt(30, "ember")
    post.heal(100, "ember")
    events = bout.step()
    (healed,) = only(ew.events.Healed, events)
    assert healed.attack == "host" and healed.by is None and post.pools["health"] == 90
    post.hurt(500, "ember", by=bout.seat("a"))
    (died,) = only(ew.events.Died, bout.step())
    assert (died.credit, died.overkill, died.attack) == ("a", 350, "host")  # the healing filled the shield too
    with pytest.raises(ew.BoutError, match="no living body to hurt"):
        post.hurt(1, "ember")


def test_a_host_pushes_and_sets_pools() -> None:
    bout, post = a_post()
    post.push((3, 4))
    (first,) = only(ew.events.KnockedBack, bout.step())
    assert (first.velocity, first.replaces) == ((3, 4), True)
    bout.advance(0.2)
    x, z = post.position or (0, 0)
    assert x > 5.5 and z > 0.3
    post.push((1, 0), mode="add")
    (second,) = only(ew.events.KnockedBack, bout.step())
    assert (second.velocity, second.replaces) == ((1, 0), False)
    post.set_pool("shield", 12.5)
    assert post.pools["shield"] == 12.5 and bout.step() == []


def test_what_a_host_does_is_recorded_restored_and_run_again() -> None:
    fresh = ew.Bout(range_rules(), arena="range", seed=1)
    other = ew.Recorder(fresh)
    seat = fresh.enter("post", seat="post", at=(5, 0))
    fresh.enter("thrower", seat="a", at=(0, 0))
    fresh.step()
    seat.hurt(20, "ember", by="a")
    seat.push((2, 3))
    seat.set_pool("health", 50)
    saved, before = fresh.snapshot(), fresh.digest()
    twin = ew.Bout(range_rules(), arena="range", seed=1)
    twin.restore(saved)
    assert twin.digest() == before and twin.pending_inputs == fresh.pending_inputs
    assert twin.advance(1) == fresh.advance(1) and twin.digest() == fresh.digest()
    chronicle = other.chronicle()
    assert ew.rerun(chronicle) == chronicle
    assert [type(each).__name__ for each in chronicle.inputs][2:] == ["Hurt", "Push", "SetPool"]
    bout, post = a_post()
    before = bout.digest()
    post.hurt(1, "ember")
    assert bout.digest() != before


@pytest.mark.parametrize(
    ("call", "told"),
    [
        (lambda seat: seat.hurt(0, "ember"), "points: give a number above 0"),
        (lambda seat: seat.hurt(float("nan"), "ember"), "points: give a number above 0"),
        (lambda seat: seat.hurt(1, "embr"), "there is no kind 'embr' (did you mean 'ember'?)"),
        (lambda seat: seat.hurt(1, "ember", by="b"), "there is no seat 'b'"),
        (lambda seat: seat.hurt(1, "ember", name=""), "name: give a name"),
        (lambda seat: seat.heal(-1, "ember"), "points: give a number above 0"),
        (lambda seat: seat.push((1, 2, 3)), "velocity: give (x, z)"),
        (lambda seat: seat.push((float("inf"), 0)), "velocity: give (x, z)"),
        (lambda seat: seat.push((1, 0), mode="sum"), "there is no mode 'sum'"),
        (lambda seat: seat.set_pool("shild", 1), "did you mean 'shield'?"),
        (lambda seat: seat.set_pool("shield", 61), "value: give a number from 0 to 60"),
        (lambda seat: seat.set_pool("health", 0), "value: give a number from 1e-06 to 90"),
        (lambda seat: seat.set_pool("shield", None), "value: give a number from 0 to 60"),
    ],
)
def test_what_a_host_may_not_do_changes_nothing(call: Callable[[ew.Seat], None], told: str) -> None:
    bout, post = a_post()
    before = bout.digest()
    with pytest.raises(ew.BoutError, match=re.escape(told)):
        call(post)
    assert bout.digest() == before and bout.pending_inputs == ()


def test_a_host_ends_shots_in_flight() -> None:
    bout = ew.Bout(range_rules(speed=5), arena="range")
    recorder = ew.Recorder(bout)
    bout.enter("thrower", seat="a", at=(0, 0)).order(press="dart")
    bout.enter("post", seat="post", at=(1.2, 0))
    bout.step()
    (shot,) = bout.shots
    assert (shot.id, shot.by, shot.attack) == (1, "a", "dart")
    assert (*shot.position, *shot.view.velocity) == pytest.approx((0.5 + 5 / 60, 1, 5, 0))
    assert shot.view.seconds == pytest.approx(1 / 60)
    bout.advance(0.1)  # it is about to hit
    shot.end()
    saved, twin = bout.snapshot(), ew.Bout(range_rules(speed=5), arena="range")
    twin.restore(saved)
    assert twin.digest() == bout.digest()
    events = bout.advance(0.3)
    assert events == twin.advance(0.3)
    ended = only(ew.events.ShotEnded, events)
    assert [(each.shot, each.reason) for each in ended if each.shot == 1] == [(1, ew.Reason.ENDED_BY_HOST)]
    assert shot not in bout.shots and repr(shot) == "<Shot 1: ended>"
    chronicle = recorder.chronicle()
    assert ew.rerun(chronicle) == chronicle and not only(ew.events.Wounded, chronicle.events)
    with pytest.raises(ew.BoutError, match="shot 1 is not in flight; flying: "):
        shot.end()
    for call in (lambda: shot.position, lambda: shot.by):
        with pytest.raises(ew.BoutError, match="not in flight"):
            call()


def test_a_damaged_snapshot_is_refused_and_changes_nothing() -> None:
    bout, post = a_post()
    post.hurt(5, "ember")
    bout.advance(0.51)
    post.order(aim=(1, 0))
    saved, rng = bout.snapshot(), random.Random(4)
    digest = bout.digest()
    damaged = [replace(saved, state=saved.state[: 8 * rng.randrange(len(saved.state) // 8)]) for _ in range(20)]
    for _ in range(200):
        state = bytearray(saved.state)
        state[rng.randrange(len(state))] ^= 1 << rng.randrange(8)
        damaged.append(replace(saved, state=bytes(state)))
    wrong: Any = "x"
    damaged += [
        replace(saved, names=(*saved.names, "more")),
        replace(saved, remainder=saved.remainder + 1),
        replace(saved, pending=()),
        replace(saved, teams=wrong),
        replace(saved, state=wrong),
        replace(saved, made_for=wrong),
        replace(saved, check=b""),
    ]
    for each in damaged:
        with pytest.raises(ew.BoutError, match="the snapshot was damaged since it was made"):
            bout.restore(each)
        assert bout.digest() == digest
    bout.restore(pickle.loads(pickle.dumps(saved)))  # noqa: S301 (made in this test)
    assert bout.digest() == digest


def test_nothing_that_a_bout_gives_can_be_written_to() -> None:
    bout, _ = a_post()
    view = bout.view()
    arrays = [view.positions, view.velocities, view.headings, view.alive, *view.pools.values(), *view.shot_positions]
    for array in arrays:
        with pytest.raises(ValueError, match="read-only"):
            array[...] = 0
    owner: Any = bout
    for name in ("seed", "rules"):
        with pytest.raises(AttributeError):
            setattr(owner, name, 1)
    rules: Any = bout.rules
    with pytest.raises(TypeError, match=r"tables of a rulebook are frozen; rules.edit"):
        rules.book.attacks["dart"] = None
    with pytest.raises(TypeError, match="frozen"):
        rules.book.fighters.update({})
    with pytest.raises(AttributeError, match="rules are frozen"):
        rules.book = None
    assert pickle.loads(pickle.dumps(rules)) == rules == copy.deepcopy(rules)  # noqa: S301 (made in this test)


@pytest.mark.parametrize("make", [copy.copy, copy.deepcopy, pickle.dumps])
def test_a_bout_and_its_view_say_what_to_keep_instead_of_a_copy(make: Callable[[object], object]) -> None:
    bout, _ = a_post()
    with pytest.raises(ew.BoutError, match=r"keep bout.snapshot\(\), and restore it"):
        make(bout)
    with pytest.raises(ew.BoutError, match="a view cannot be copied or pickled; it stays as it is"):
        make(bout.view())


def test_listeners_hear_the_true_death_after_a_predicted_one() -> None:
    """A death and a leaving are predicted, taken back, and then come to pass."""
    bout, post = a_post()
    heard: list[str] = []
    bout.on(ew.events.Died, seat="post")(lambda _: heard.append("each"))
    bout.on(ew.events.Died, seat="post", once=True)(lambda _: heard.append("once"))
    bout.on(ew.events.Died, seat="post", life=1)(lambda _: heard.append("life"))
    saved = bout.snapshot()
    for _ in range(3):
        heard.clear()
        bout.restore(saved)
        post.hurt(500, "ember")
        bout.step()
        assert heard == ["each", "once", "life"]
        post.leave()
        bout.advance(0.1)
    heard.clear()
    post = bout.enter("post", seat="post", at=(5, 0))
    bout.step()
    post.hurt(500, "ember")
    bout.step()
    assert heard == [], "the listeners of a seat end with its leaving"
    ended = lambda _: heard.append("ended")  # noqa: E731
    bout.restore(saved)
    bout.on(ew.events.Died, seat="post")(ended)
    bout.off(ended)
    bout.restore(saved)
    post = bout.seat("post")
    post.hurt(500, "ember")
    bout.step()
    assert heard == ["each", "once", "life"], "what its host ended stays ended"


def test_observers_are_given_tuples_that_a_host_cannot_empty() -> None:
    bout, post = a_post()
    kept: list[Any] = []

    class Keeper:
        def tick_closed(self, *told: Any) -> None:
            kept.append(told[1:])

    bout.watch(Keeper())
    post.hurt(5, "ember")
    bout.step().clear()
    inputs, events = kept[0]
    assert isinstance(inputs, tuple) and isinstance(events, tuple)
    assert [type(each).__name__ for each in (*inputs, *events)] == ["Hurt", "Wounded"]


def test_a_smooth_view_leaves_the_frozen_where_they_are() -> None:
    book = range_rules(damage=1, speed=40).edit({"attacks.dart.hit_stop": 0.4})
    bout = ew.Bout(book, arena="range")
    post = bout.enter("post", seat="post", at=(5, 0))
    bout.enter("thrower", seat="a", at=(0, 0)).order(press="dart", aim=(1, 0))
    bout.advance(0.2)
    post.place((5, 0), velocity=(6, 0))
    bout.advance(0.025)
    view = bout.view(smooth=True)
    assert view.body("post").frozen_seconds > 0 and view.time > bout.time
    assert view.body("post").position == (5, 0) == tuple(view.positions[view.seats.index("post")])


def test_who_is_out_is_told_that_no_body_comes() -> None:
    bout, post = a_post()
    post.hurt(500, "ember")
    bout.step()
    assert post.out
    with pytest.raises(ew.BoutError, match="it has no life left, and none comes"):
        post.heal(5, "ember")
    with pytest.raises(ew.BoutError, match="no life left, so no next body can be another fighter's"):
        post.become("thrower")
