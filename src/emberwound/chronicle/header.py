"""The first and the last line of a chronicle: what a bout ran with, and where it ended."""

from __future__ import annotations

import platform
from importlib.metadata import version as distribution_version
from typing import TYPE_CHECKING, Any

import msgspec
import numpy as np

from emberwound._version import __version__
from emberwound.bout.lives.counters import BoardRow

if TYPE_CHECKING:
    from emberwound.bout import Bout

FORMAT = "emberwound chronicle"
FORMAT_VERSION = 3


class Header(msgspec.Struct, frozen=True, kw_only=True, tag_field="type", tag="header"):
    """All that is needed to run the bout again, and what it ran with."""

    format: str = FORMAT
    version: int = FORMAT_VERSION
    arena: str
    script: str | None
    seed: int
    tick_rate: int
    first_tick: int
    source: str
    rules_hash: str
    steps: dict[str, str]
    libraries: dict[str, str]
    rules: dict[str, Any]

    @classmethod
    def of(cls, bout: Bout) -> Header:
        """The header for what a bout does from now on."""
        return cls(
            arena=bout.arena,
            script=bout.script,
            seed=bout.seed,
            tick_rate=bout.tick_rate,
            first_tick=bout.tick,
            source=bout.rules.source,
            rules_hash=bout.rules.hash,
            steps=bout.rules.step_versions,
            libraries={
                "emberwound": __version__,
                "python": platform.python_version(),
                "numpy": np.__version__,
                "numba": distribution_version("numba"),
                "processor": platform.machine(),
            },
            rules=bout.rules.canonical(),
        )


class End(msgspec.Struct, frozen=True, kw_only=True, tag_field="type", tag="end"):
    """The last line: ticks run since the bout began, the digest of the state after them, and the board then."""

    ticks: int
    digest: str
    board: tuple[BoardRow, ...] = ()
