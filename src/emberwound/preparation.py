"""Compiling all kernels ahead of time: short bouts that use each of them once."""

from __future__ import annotations

from importlib.resources import files
from typing import TYPE_CHECKING, Final

from emberwound.bout import Bout
from emberwound.chronicle import run
from emberwound.face import Rulebook
from emberwound.geometry.jit import TIERS
from emberwound.vocabulary.errors import BoutError, shortened

if TYPE_CHECKING:
    from collections.abc import Callable, Sequence

CROWD: Final = """
[settings]
max_seats = 300
[kinds.iron]
[fighters.archer]
attacks = ["volley", "tap"]
drag = 0.1
body = { radius = 0.3, height = 1.8 }
pools.health = { max = 90, vital = true }
hurtboxes.trunk = { from = [0, 0.4], to = [0, 1.2], radius = 0.3 }
[attacks.volley]
kind = "iron"
damage = 1
push = { distance = 1, apex = 0.5 }
shot = { radius = 0.1, speed = 9, count = 40, fan_deg = 60, muzzle = [0.5, 1] }
[attacks.tap]
blast = "tap"
blast_at = [0, 1]
[blasts.tap]
kind = "iron"
push = { speed = 0.05, lift_deg = 60 }
radius = 99
[arenas.yard]
floor = 0
body_contact = "separate"
bounds = { low = [-30, -1], high = [30, 20] }
"""
"""More shots and shapes than are tried one by one, bodies in each other, a push through the air, and a short hop."""


def prepare(progress: Callable[[int, int], None] | None = None) -> None:
    """Compile all kernels now, or load them if they lie in the cache, so that no bout has to.

    It takes about a minute on a machine where nothing is compiled yet, else some seconds. `progress` is called with how
    many kernels are ready and how many there are. With `NUMBA_DISABLE_JIT` set, nothing is compiled. Raises BoutError
    for a `progress` that cannot be called.
    """
    if progress is not None and not callable(progress):
        raise BoutError(f"progress: {shortened(progress)}; allowed: a function of two whole numbers")
    if TIERS.is_off:
        return
    with TIERS.at_once(progress):
        _rehearse()


def allow_compiling(*, allowed: bool) -> None:
    """Say whether kernels may be compiled or loaded from now on; those that are ready stay in use.

    A kernel that becomes too slow for the way it is written is else loaded or compiled within the tick that found it
    so, which then takes seconds. A host calls `prepare` while it loads, and forbids the rest while it plays. `prepare`
    itself compiles in any case. Raises BoutError for what is neither True nor False.
    """
    if not isinstance(allowed, bool):
        raise BoutError(f"allowed: {shortened(allowed)}; allowed: True or False")
    TIERS.may_compile = allowed and not TIERS.is_off


class _Watcher:
    """Looks at bodies, and asks whom attacks leave alone, which takes kernels of its own."""

    def tick_closed(self, bout: Bout, _inputs: object, events: Sequence[object]) -> None:
        """Look at everybody when something happened."""
        if events:
            self.seen = [(body.joints, body.hurtboxes, body.hitboxes) for body in bout.view().bodies]

    def passed_over(self, _bout: Bout, _found: object) -> None:
        """Nothing."""


def _rehearse() -> None:
    text = files("emberwound.demo").joinpath("saltglass.toml").read_text(encoding="utf-8")
    rules = Rulebook.parse(text, "saltglass.toml")
    for name in rules.book.bouts:
        run(rules, name, watch=_Watcher())
    crowd = Bout(Rulebook.parse(CROWD, "crowd.toml"), arena="yard")
    for index in range(4):
        crowd.enter("archer", at=(0.2 * index, 0)).order(press="volley")
    for _ in range(20):
        crowd.step()
    crowd.advance(20.0)
    crowd.seats[0].order(press="tap")
    crowd.advance(1.0)
