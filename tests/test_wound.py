"""The arithmetic of a wound."""

from __future__ import annotations

import pytest
from hypothesis import given
from hypothesis import strategies as st

from emberwound.combat.terms import HurtboxTerms, PoolsTerms, PoolTerms, WoundTerms
from emberwound.combat.wound import deal

POOLS = PoolsTerms((PoolTerms("health", 90.0, 90.0), PoolTerms("shield", 60.0, 60.0)), route=(1, 0), vital=0)


@pytest.mark.parametrize(
    ("damage", "multiplier", "values", "after", "overkill"),
    [
        (12, 1.0, (90, 0), (78, 0), 0),  # the body
        (12, 1.5, (90, 0), (72, 0), 0),  # the head: 18
        (75, 1.0, (90, 60), (75, 0), 0),  # shield 60, health 90, wound 75: 0 and 75 are left
        (75, 1.0, (75, 0), (0, 0), 0),  # the second such wound kills exactly
        (80, 1.0, (75, 0), (0, 0), 5),
        (10, 1.0, (0, 0), (0, 0), 10),  # after death all is overkill
        (0, 1.0, (90, 60), (90, 60), 0),  # zero damage is legal
        (12, 0.0, (90, 60), (90, 60), 0),  # so is a place that takes nothing
    ],
)
def test_worked_wounds(
    damage: float, multiplier: float, values: tuple[float, ...], after: tuple[float, ...], overkill: float
) -> None:
    ledger, left = deal(WoundTerms(damage, "ember"), HurtboxTerms("place", multiplier), POOLS, values)
    assert tuple(left) == after
    assert ledger.overkill == overkill


def test_a_wound_that_takes_nothing_says_so() -> None:
    ledger, _ = deal(WoundTerms(0, "ember"), HurtboxTerms("head", 1.5), POOLS, (90, 0))
    assert ledger.steps[0].why == "the attack takes nothing: its damage is 0"


@given(
    st.floats(0, 1e6),
    st.floats(0, 100),
    st.tuples(st.floats(0, 90), st.floats(0, 60)),
    st.floats(0, 1e6),
)
def test_ledgers_add_up(damage: float, multiplier: float, values: tuple[float, float], more: float) -> None:
    place = HurtboxTerms("place", multiplier)
    ledger, left = deal(WoundTerms(damage, "ember"), place, POOLS, values)
    assert all(0.0 <= each <= pool.maximum for each, pool in zip(left, POOLS.pools, strict=True))
    pairs = zip(ledger.steps[:-1], ledger.steps[1:], strict=True)
    assert all(step.after == following.before for step, following in pairs)
    taken = sum(loss.before - loss.after for loss in ledger.losses)
    assert ledger.amount == pytest.approx(taken + ledger.overkill + ledger.lost, rel=1e-12, abs=1e-9)
    worse = deal(WoundTerms(damage + more, "ember"), place, POOLS, values)[1]
    assert all(a <= b for a, b in zip(worse, left, strict=True))
