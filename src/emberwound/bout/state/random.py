"""Random draws, keyed by seed, purpose, names and count, so that one draw more here changes nothing elsewhere.

Names, not numbers: a prop more, a seat that enters earlier or a cue put before another changes nobody's luck.
"""

from __future__ import annotations

from functools import lru_cache
from hashlib import blake2b
from typing import TYPE_CHECKING

from numpy.random import Philox

from emberwound.bout.state.layout import Count

if TYPE_CHECKING:
    from emberwound.bout.state.world import World


def spread_draws(world: World, seat: int, attack: str) -> list[float]:
    """Two numbers from 0 up to 1, the next of this seat's for the spread of this attack."""
    drawn = world.block.spread_draws[:, seat]
    place = world.plan.spread_attacks.index(attack)
    number = int(drawn[place])
    drawn[place] = number + 1
    return _drawn(world, _key("spread", world.names[seat], attack), number, 2)


def pitch_draw(world: World, cue: int) -> float:
    """A number from 0 up to 1, the next of this cue's."""
    number = int(world.block.cue_draws[cue])
    world.block.cue_draws[cue] = number + 1
    return _drawn(world, _key("pitch", world.plan.cues[cue].name), number, 1)[0]


@lru_cache(maxsize=4096)
def _key(*words: str) -> int:
    """A number of 64 bits for some words; no word runs into the next."""
    text = "".join(f"{len(word)}:{word}" for word in words)
    return int.from_bytes(blake2b(text.encode(errors="surrogatepass"), digest_size=8).digest(), "little")


def _drawn(world: World, what: int, number: int, count: int) -> list[float]:
    source = Philox(key=[world.counts[Count.SEED], what], counter=[0, number, 0, 0])
    return [int(raw >> 11) * 2.0**-53 for raw in source.random_raw(count).tolist()]
