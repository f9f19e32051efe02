"""What must hold of the eel market, whatever numbers change."""

import emberwound as ew
from emberwound.testing import assert_kills, assert_same_bout


def test_three_ladles_kill_a_thief(emberwound_rulebook: ew.Rulebook) -> None:
    assert_kills(emberwound_rulebook, "ladle", "thief", hits=3)


def test_soup_is_weak_against_thieves(emberwound_rulebook: ew.Rulebook) -> None:
    assert emberwound_rulebook.wound("soup", "thief").ledger.amount == 8


def test_a_thief_out_of_reach_is_safe(emberwound_bout: ew.Bout) -> None:
    wife = emberwound_bout.enter("fishwife", seat="wife", at="stall")
    thief = emberwound_bout.enter("thief", seat="thief", at=(2, 0))
    wife.order(press="ladle")
    assert not [event for event in emberwound_bout.advance(1) if isinstance(event, ew.events.Wounded)]
    assert thief.pools == {"health": 30}


def test_the_theft_goes_as_it_did(emberwound_chronicle: ew.Chronicle) -> None:
    assert_same_bout(emberwound_chronicle, "golden.jsonl")
