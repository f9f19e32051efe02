"""What the tests share: a JIT cache of their own, and a small rulebook to vary."""

from __future__ import annotations

import os
from importlib.util import find_spec
from pathlib import Path
from typing import TYPE_CHECKING, TypeVar

import pytest

from commands import PROGRAM, run_command

if TYPE_CHECKING:
    import subprocess
    from collections.abc import Sequence

    from emberwound import Bout, Rulebook, Seat
    from emberwound.events import AnyEvent, Event
    from emberwound.views import BodyView, RagdollView

Kind = TypeVar("Kind", bound="Event")

HERE = Path(__file__).parent

os.environ["NUMBA_CACHE_DIR"] = str(HERE.parent / ".jit")


def pytest_configure(config: pytest.Config) -> None:
    """Compile the kernels once, before the first worker begins; workers then load them at their first call."""
    from emberwound import prepare
    from emberwound.geometry.jit import TIERS

    if not hasattr(config, "workerinput"):
        prepare()
    TIERS.is_patient = TIERS.is_off


RANGE = """
[settings]
tick_rate = 60
buffer = {buffer}
max_seats = 4
max_shots = {max_shots}

[kinds.ember]

[fighters.thrower]
attacks = ["dart", "lob"]
corpse_seconds = {corpse}
respawn_seconds = {respawn}
body = {{ radius = 0.3, height = 1.8 }}
pools.health = {{ max = 90, vital = true }}
hurtboxes.chest = {{ from = [0.0, 0.4], to = [0.0, 1.4], radius = 0.3 }}

[fighters.post]
route = ["shield", "health"]
corpse_seconds = {corpse}
respawn_seconds = {respawn}
body = {{ radius = 0.1, height = 2.0 }}
pools.shield = {{ max = 60 }}
pools.health = {{ max = 90, vital = true }}
hurtboxes.trunk = {{ from = [0.0, 0.1], to = [0.0, 1.6], radius = 0.1 }}
hurtboxes.crown = {{ from = [0.0, 1.9], radius = 0.1, multiplier = 1.5 }}

[attacks.dart]
kind = "ember"
damage = {damage}
windup = {windup}
recovery = {recovery}
cooldown = {cooldown}
shot = {{ radius = {radius}, speed = {speed}, gravity_share = {gravity_share}, life = {life}, muzzle = {muzzle} }}

[attacks.lob]
kind = "ember"
damage = 1
recovery = 0.5
shot = {{ radius = 0.1, speed = 5, muzzle = [0.5, 1.0] }}

[arenas.range]
gravity = 9.81
floor = 0
bounds = {{ low = [-1000, -10], high = [1000, 1000] }}

[arenas.range.entries]
line = {{ at = [0, 0] }}
butts = {{ at = [10, 0], facing = "left" }}
"""

DEFAULTS: dict[str, object] = {
    "buffer": 0.1,
    "max_shots": 64,
    "corpse": 2,
    "respawn": 3.7,
    "damage": 12,
    "windup": 0,
    "recovery": 0,
    "cooldown": 0,
    "radius": 0,
    "speed": 20,
    "gravity_share": 0,
    "life": 60,
    "muzzle": "[0.5, 1.0]",
}


def range_text(**changes: object) -> str:
    """The rulebook of a shooting range: a thrower and a post, with the given numbers changed."""
    unknown = set(changes) - set(DEFAULTS)
    assert not unknown, unknown
    return RANGE.format(**{**DEFAULTS, **changes})


def range_rules(**changes: object) -> Rulebook:
    """The same, as a rulebook."""
    from emberwound import Rulebook

    return Rulebook.parse(range_text(**changes), "range.toml")


def only(kind: type[Kind], found: Sequence[Event]) -> list[Kind]:
    """The events of one type."""
    return [event for event in found if isinstance(event, kind)]


def steps(bout: Bout, count: int) -> list[AnyEvent]:
    """The events of so many ticks."""
    return [event for _ in range(count) for event in bout.step()]


def run(bout: Bout, seconds: float) -> list[AnyEvent]:
    """The events of so many seconds, in whole ticks."""
    return steps(bout, round(seconds * bout.tick_rate))


def emberwound(
    *arguments: object, folder: Path, columns: int = 140, afresh: bool = False
) -> subprocess.CompletedProcess[str]:
    """The command line, as a user runs it; `afresh` in a process that has loaded nothing yet."""
    words, env = [str(PROGRAM), *map(str, arguments)], {"COLUMNS": str(columns)}
    return run_command(words, folder, env, strict=True, afresh=afresh)


@pytest.fixture(scope="session")
def saltglass_path() -> Path:
    found = find_spec("emberwound.demo")
    assert found is not None and found.submodule_search_locations
    return Path(found.submodule_search_locations[0]) / "saltglass.toml"


@pytest.fixture(scope="session")
def saltglass(saltglass_path: Path) -> Rulebook:
    from emberwound import Rulebook

    return Rulebook.load(saltglass_path)


def body_of(seat: Seat) -> BodyView:
    """The body of a seat, which must have one."""
    assert seat.body is not None
    return seat.body


def ragdoll_of(seat: Seat) -> RagdollView:
    """What a seat's corpse falls as."""
    assert seat.corpse is not None and seat.corpse.ragdoll is not None
    return seat.corpse.ragdoll
