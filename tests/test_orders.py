"""Orders of a script: endings that count only for their own order, and late seats that a decided bout waits for."""

from __future__ import annotations

import pytest

import emberwound as ew
from conftest import only

BOOK = """
[kinds.salt]
[fighters.runner]
body = {{ radius = 0.3, height = 1.8 }}
speed = 2
pools.health = {{ max = 10, vital = true }}
hurtboxes.trunk = {{ from = [0, 0.4], to = [0, 1.4], radius = 0.3 }}
attacks = ["jab", "kick"]
guard = {{ }}
[attacks.jab]
kind = "salt"
damage = 50
active = 0.1
recovery = 0.2
strike.hitboxes.fist = {{ from = [0.3, 1], to = [0.9, 1], radius = 0.1 }}
[attacks.kick]
active = 0.1
lunge = {{ speed = 1, seconds = 0.1 }}
[arenas.yard]
floor = 0
bounds = {{ low = [-30, -2], high = [30, 9] }}
{arena}
[bouts.main]
arena = "yard"
seconds = 4
seats.ann = {{ fighter = "runner", at = [0, 0] }}
{rest}
"""


def book(rest: str, arena: str = "") -> ew.Rulebook:
    return ew.Rulebook.parse(BOOK.format(rest=rest, arena=arena), "yard.toml")


def place_after(orders: str, seconds: float) -> float:
    bout = ew.Bout.scripted(book(f"orders = [{orders}]"), "main")
    bout.advance(seconds)
    position = bout.seat("ann").position
    assert position is not None
    return position[0]


GO = '{ time = 0, seat = "ann", move = 1, until = 1 }'
BACK = '{ time = 1, seat = "ann", move = -1 }'
SOONER = '{ time = 0.5, seat = "ann", move = -1 }'


@pytest.mark.parametrize("orders", [f"{GO}, {BACK}", f"{BACK}, {GO}"])
def test_an_order_of_the_tick_in_which_another_ends_is_carried_out(orders: str) -> None:
    assert place_after(orders, 2) == pytest.approx(0.0, abs=0.05)


def test_an_ending_counts_only_while_its_own_order_is_the_current_one() -> None:
    assert place_after(f"{GO}, {SOONER}", 2) == pytest.approx(1.0 - 3.0, abs=0.05), "the old end stops nothing"
    assert place_after(GO, 2) == pytest.approx(2.0, abs=0.05), "its own it stops"
    assert place_after(f'{GO}, {{ time = 0.5, seat = "ann", hold = "guard" }}', 2) == pytest.approx(2.0, abs=0.05)


def test_a_hold_is_ended_by_its_own_end_alone() -> None:
    first, then = '{ time = 0, seat = "ann", hold = "jab", until = 1 }', '{ time = 0.6, seat = "ann", hold = "guard" }'
    bout = ew.Bout.scripted(book(f"orders = [{first}, {then}]"), "main")
    bout.advance(1.5)
    assert "guarding" in bout.seat("ann").states
    alone = ew.Bout.scripted(book(f"orders = [{first}]"), "main")
    assert max(each.time for each in only(ew.events.AttackBegan, alone.advance(3))) < 1.0


FOES = """
seats.bob = { fighter = "runner", at = [0.8, 0], facing = "left", team = "foes" }
seats.cat = { fighter = "runner", at = [9, 0], facing = "left", team = "foes", time = 1 }
orders = [{ time = 0, seat = "ann", press = "jab" }]
"""


@pytest.mark.parametrize(
    ("arena", "ends"),
    [
        ('on_elimination = "last_team"', None),
        ('on_elimination = "last_team"\nawaits_late_seats = false', 1 / 60),
        ('on_elimination = "end"\nelimination_team = "foes"', 1 / 60),
        ('on_elimination = "end"\nelimination_team = "foes"\nawaits_late_seats = true', None),
        ('on_elimination = "end"\nawaits_late_seats = true', 61 / 60),
    ],
)
def test_a_decided_bout_waits_for_seats_that_the_script_still_brings(arena: str, ends: float | None) -> None:
    told = only(ew.events.BoutEnded, ew.run(book(FOES, arena), "main").events)
    assert [each.time for each in told] == ([] if ends is None else [pytest.approx(ends)])


def test_a_book_whose_bout_goes_on_waits_for_nobody_and_an_ally_who_comes_decides_nothing() -> None:
    dot = 'seats.dot = { fighter = "runner", at = [20, 0], team = "ours" }'
    with_ally = book(f"{dot}\n{FOES}".replace('"foes", time', '"ours", time'), 'on_elimination = "last_team"')
    told = only(ew.events.BoutEnded, ew.run(with_ally, "main").events)
    assert told == [], "ann and dot are of two teams"
    with pytest.raises(ew.RulebookError, match="awaits_late_seats: true; a bout that goes on waits for nobody"):
        book(FOES, "awaits_late_seats = true")


def test_feet_on_the_top_of_a_wall_are_taken_by_a_book_as_by_a_host() -> None:
    """Ledges with one decimal, whose top is not the sum of two doubles."""
    for bottom in range(10):
        for tall in range(1, 30):
            top = f"{(bottom + tall) / 10}"
            wall = f"walls.ledge = {{ at = [5, {(2 * bottom + tall) / 20}], size = [2, {tall / 10}] }}"
            seat = f'seats.bob = {{ fighter = "runner", at = [5, {top}] }}'
            bout = ew.Bout.scripted(book(seat, wall), "main")
            bout.enter("runner", at=(5, float(top)))
            bout.step()
            assert "airborne" not in bout.seat("bob").states, top
    with pytest.raises(ew.RulebookError, match="is inside the wall ledge"):
        book('seats.bob = { fighter = "runner", at = [5, 0.999] }', "walls.ledge = { at = [5, 0.5], size = [2, 1] }")
