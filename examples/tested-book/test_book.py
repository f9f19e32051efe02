"""What must hold of the eel market, whatever numbers change."""

import emberwound as ew
from emberwound.testing import assert_kills, assert_same_bout


def test_three_ladles_kill_a_thief(rulebook: ew.Rulebook) -> None:
    assert_kills(rulebook, "ladle", "thief", hits=3)


def test_soup_is_weak_against_thieves(rulebook: ew.Rulebook) -> None:
    assert rulebook.wound("soup", "thief").ledger.amount == 8


def test_a_thief_out_of_reach_is_safe(bout: ew.Bout) -> None:
    wife = bout.enter("fishwife", seat="wife", at="stall")
    thief = bout.enter("thief", seat="thief", at=(2, 0))
    wife.order(press="ladle")
    assert not [event for event in bout.advance(1) if isinstance(event, ew.events.Wounded)]
    assert thief.pools == {"health": 30}


def test_the_theft_goes_as_it_did(chronicle: ew.Chronicle) -> None:
    assert_same_bout(chronicle, "golden.jsonl")
