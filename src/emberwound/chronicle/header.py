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
FORMAT_VERSION = 4


class Header(msgspec.Struct, frozen=True, kw_only=True, tag_field="type", tag="header"):
    """All that is needed to run the bout again, and what it ran with."""

    format: str = FORMAT
    """"emberwound chronicle"."""
    version: int = FORMAT_VERSION
    """Version of the format."""
    arena: str
    """Where."""
    script: str | None
    """Bout of the book that was run, if any."""
    seed: int
    """Seed of the random draws."""
    tick_rate: int
    """Ticks a second."""
    first_tick: int
    """First tick recorded."""
    source: str
    """File name of the rulebook."""
    rules_hash: str
    """Hash of its content."""
    steps: dict[str, str]
    """Own steps and their versions."""
    libraries: dict[str, str]
    """What it was made with."""
    rules: dict[str, Any]
    """The whole rulebook with its defaults."""

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
    """Ticks run since the bout began."""
    digest: str
    """Hash of the state after them."""
    board: tuple[BoardRow, ...] = ()
    """The board then."""
