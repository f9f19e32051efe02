"""Questions asked of rules and of records: what a hit would do, how far it knocks back, and what a bout came to.

The types here are what `Rulebook.wound` and its like give; the calls here ask about a whole book or a whole chronicle.
"""

from __future__ import annotations

from typing import TYPE_CHECKING

from emberwound._lazy import loader

if TYPE_CHECKING:
    from emberwound.chronicle.narration import Line, tell_story
    from emberwound.study.check.survey import Finding
    from emberwound.study.inquest.answer import Answer, Attempt, Cause, Trial
    from emberwound.study.inquest.orders import whys
    from emberwound.study.knockback import KnockbackReport, RagdollPreview, ragdoll_preview
    from emberwound.study.lives import Life
    from emberwound.study.reach import Reach
    from emberwound.study.reaction import Advantage, NextAttack, ReactionReport
    from emberwound.study.summary import AttackTotals, CueTotals, SeatTotals, ShotTotals, Summary, summarise
    from emberwound.study.timing import AttackTiming, TimedWindow, timing_table
    from emberwound.study.wound import MatchRow, WoundReport, match_table

__all__ = [
    "Advantage",
    "Answer",
    "AttackTiming",
    "AttackTotals",
    "Attempt",
    "Cause",
    "CueTotals",
    "Finding",
    "KnockbackReport",
    "Life",
    "Line",
    "MatchRow",
    "NextAttack",
    "RagdollPreview",
    "Reach",
    "ReactionReport",
    "SeatTotals",
    "ShotTotals",
    "Summary",
    "TimedWindow",
    "Trial",
    "WoundReport",
    "match_table",
    "ragdoll_preview",
    "summarise",
    "tell_story",
    "timing_table",
    "whys",
]

_HOMES = {
    **dict.fromkeys(("Line", "tell_story"), "emberwound.chronicle.narration"),
    **dict.fromkeys(("Advantage", "NextAttack"), "emberwound.study.reaction"),
    "AttackTotals": "emberwound.study.summary",
    "Finding": "emberwound.study.check.survey",
    "whys": "emberwound.study.inquest.orders",
    **dict.fromkeys(("Answer", "Attempt", "Cause", "Trial"), "emberwound.study.inquest.answer"),
    "KnockbackReport": "emberwound.study.knockback",
    "Life": "emberwound.study.lives",
    **dict.fromkeys(("MatchRow", "match_table"), "emberwound.study.wound"),
    **dict.fromkeys(("RagdollPreview", "ragdoll_preview"), "emberwound.study.knockback"),
    "Reach": "emberwound.study.reach",
    "ReactionReport": "emberwound.study.reaction",
    **dict.fromkeys(("CueTotals", "SeatTotals", "ShotTotals", "Summary", "summarise"), "emberwound.study.summary"),
    **dict.fromkeys(("AttackTiming", "TimedWindow", "timing_table"), "emberwound.study.timing"),
    "WoundReport": "emberwound.study.wound",
}

if not TYPE_CHECKING:  # a checker that saw it would let every misspelt name pass
    __getattr__ = loader(__name__, _HOMES)


def __dir__() -> list[str]:
    return list(__all__)
