"""The names of seats by number, and their numbers by name."""

from __future__ import annotations

from typing import TYPE_CHECKING

if TYPE_CHECKING:
    from collections.abc import Iterable


class SeatNames(list[str]):
    """A list of names by number, '' where a seat left; it is changed through its own methods alone."""

    def __init__(self, names: Iterable[str] = ()) -> None:
        super().__init__(names)
        self._numbers = {name: number for number, name in enumerate(self) if name}

    def __contains__(self, name: object) -> bool:
        return isinstance(name, str) and name in self._numbers

    @property
    def have_gaps(self) -> bool:
        """Whether a seat left whose number nobody has taken yet."""
        return len(self._numbers) < len(self)

    def number_of(self, name: str | None) -> int:
        """The number of a seat. Raises KeyError for a name that nobody has."""
        return self._numbers[name or ""]

    def give(self, name: str) -> int:
        """Give a name the first number that is free, else a new one."""
        if not self.have_gaps:
            self.append("")
        number = self.index("")
        self[number] = name
        self._numbers[name] = number
        return number

    def free(self, number: int) -> None:
        """Take the name of a number away."""
        del self._numbers[self[number]]
        self[number] = ""

    def replace(self, names: Iterable[str]) -> None:
        """Take other names for all."""
        self[:] = names
        self._numbers = {name: number for number, name in enumerate(self) if name}
