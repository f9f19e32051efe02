"""The examples that come with the package: which there are, what each shows, and its files."""

from __future__ import annotations

import re
from dataclasses import dataclass
from importlib.resources import files
from pathlib import Path
from typing import TYPE_CHECKING

from emberwound.vocabulary.errors import OutputError, unknown_name

if TYPE_CHECKING:
    from importlib.resources.abc import Traversable


@dataclass(frozen=True, slots=True)
class Example:
    """A folder with a rulebook that runs: `files` by name, and what its README says it shows."""

    name: str
    shows: str
    files: dict[str, bytes]

    @property
    def command(self) -> str:
        """What one types first in its folder."""
        return "python script.py" if "script.py" in self.files else "emberwound run book.toml"


def examples() -> list[Example]:
    """All examples, in the order of the list beside them."""
    shelf = _shelf()
    order = re.findall(r"^- \[(\S+)\]", shelf.joinpath("README.md").read_text(encoding="utf-8"), re.MULTILINE)
    return [_read(shelf.joinpath(name), name) for name in order]


def example_of(name: str) -> Example:
    """The example of that name. Raises OutputError with the nearest one."""
    found = {each.name: each for each in examples()}
    if name not in found:
        raise OutputError(unknown_name("example", name, found))
    return found[name]


def _shelf() -> Traversable:
    """The folder of the examples: in the package where it is installed, beside the sources where it is worked on."""
    installed = files("emberwound").joinpath("examples")
    return installed if installed.is_dir() else Path(__file__).parents[3] / "examples"


def _read(folder: Traversable, name: str) -> Example:
    held = {each.name: each.read_bytes() for each in folder.iterdir() if each.is_file()}
    title = held["README.md"].decode().splitlines()[0].removeprefix("# ")
    return Example(name, title, dict(sorted(held.items())))
