"""What is heard and seen of a bout, compiled."""

from __future__ import annotations

from itertools import accumulate
from typing import TYPE_CHECKING

from emberwound.plan.plan import CuePlan
from emberwound.vocabulary.events import TYPES

if TYPE_CHECKING:
    from emberwound.rulebook.models import Book, Cue

MOST_TOGETHER = 4


def cue_plans(book: Book, seats: int) -> tuple[CuePlan, ...]:
    """All cues of a book, for an arena with room for so many seats; each keeps a lane for everyone who hears it."""
    rate = book.settings.frame_rate
    lanes = [1 if cue.audience == "everyone" else seats for cue in book.cues.values()]
    places = [_places(cue) for cue in book.cues.values()]
    first_lanes = accumulate(lanes, initial=0)
    first_places = accumulate((lane * place for lane, place in zip(lanes, places, strict=True)), initial=0)
    return tuple(
        CuePlan(
            id=number,
            name=name,
            on=frozenset(TYPES[event] for event in cue.on),
            medium=cue.medium,
            audience=cue.audience,
            overlap=cue.overlap,
            lanes=lane,
            places=place,
            first_lane=first_lane,
            first_place=first_place,
            seconds=float(cue.seconds.seconds(rate)),
            gap=float(cue.gap.seconds(rate)),
            pool=cue.pool,
            min_points=cue.min_points,
            below=cue.below,
            attacks=frozenset(cue.attacks),
            kinds=frozenset(cue.kinds),
            pitch=float(cue.pitch),
            pitch_spread=cue.pitch_spread,
            strength=cue.strength,
        )
        for number, ((name, cue), lane, place, first_lane, first_place) in enumerate(
            zip(book.cues.items(), lanes, places, first_lanes, first_places, strict=False)
        )
    )


def _places(cue: Cue) -> int:
    return 1 if cue.overlap == "restart" else cue.max_at_once or MOST_TOGETHER
