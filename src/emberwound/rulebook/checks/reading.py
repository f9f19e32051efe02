"""Reading raw data that may be broken anywhere, and gathering what is wrong with it."""

from __future__ import annotations

from decimal import Decimal
from string import Formatter
from typing import TYPE_CHECKING, Any

from emberwound.rulebook.outline import Key, dotted
from emberwound.vocabulary.clock import Duration
from emberwound.vocabulary.errors import nearest_name
from emberwound.vocabulary.problems import Problem

if TYPE_CHECKING:
    from collections.abc import Iterable, Sequence
    from fractions import Fraction

POINTS = {"side": "[x, z]", "top": "[x, y]", "3d": "[x, y, z]"}


class Findings:
    """The raw book, and the problems found in it so far."""

    def __init__(self, raw: dict[str, Any], file: str) -> None:
        self.raw = raw
        self.file = file
        self.problems: list[Problem] = []

    def report(self, key: Key, seen: str, allowed: str, nearest: str | None = None) -> None:
        """Note one problem."""
        self.problems.append(Problem(self.file, dotted(key), seen, allowed, nearest))

    def unknown(self, key: Key, what: str, name: str, known: Iterable[str]) -> None:
        """Note a name that is not there."""
        names = list(known)
        self.report(
            key, f'there is no {what} "{name}"', f"known: {', '.join(names) or 'none'}", nearest_name(name, names)
        )

    def doubles(self, key: Key, names: list[Any]) -> None:
        """Note what stands in a list twice."""
        for index, name in enumerate(names):
            if name in names[:index]:
                self.report((*key, index), f'"{name}" for the second time', "each may stand here once")

    def placeholders(self, key: Key, text: Any, what: str, known: Sequence[str]) -> None:
        """Note what a text would have filled in that is not there, and braces and formats that cannot be read."""
        if not isinstance(text, str):
            return
        try:
            fields = [field for _, field, _, _ in Formatter().parse(text) if field is not None]
            if set(fields) <= set(known):
                text.format_map(dict.fromkeys(known, 1.0) if what == "text" else dict.fromkeys(known, ""))
        except ValueError:
            self.report(key, f'"{text}"', "a brace that is meant is written twice: {{ or }}")
            return
        for field in fields:
            if field not in known:
                self.unknown(key, f"field of the {what}", field, known)

    def seconds(self, value: Any) -> Fraction | None:
        """A time in seconds; None when it cannot be read."""
        rate = table(self.raw, "settings").get("frame_rate", 60)
        try:
            return Duration.parse(value).seconds(rate)
        except (ValueError, TypeError, ZeroDivisionError):
            return None

    def owners(self, attack: str) -> list[tuple[str, dict[str, Any]]]:
        """The fighters that have an attack."""
        fighters = table(self.raw, "fighters")
        return [
            (name, table(fighters, name)) for name in fighters if attack in items(table(fighters, name).get("attacks"))
        ]

    def fits_plane(self, key: Key, value: Any, space: str) -> bool:
        """Whether a point has as many numbers as the space has axes; a problem if it has not."""
        numbers = vector(value)
        if numbers is None or space not in POINTS:
            return False
        if len(numbers) != (3 if space == "3d" else 2):
            self.report(key, said(numbers), f'a point of an arena with space = "{space}" is {POINTS[space]}')
            return False
        return True


def table(raw: Any, *path: str) -> dict[str, Any]:
    """The table at a path, or an empty one."""
    for step in path:
        raw = raw.get(step) if isinstance(raw, dict) else None
    return raw if isinstance(raw, dict) else {}


def items(raw: Any) -> list[Any]:
    """The list, or an empty one."""
    return raw if isinstance(raw, list) else []


def number(value: Any) -> float | None:
    """The number, or None."""
    real = isinstance(value, int | float | Decimal) and not isinstance(value, bool)
    return float(value) if real and abs(value) <= 1e9 else None


def vector(value: Any) -> tuple[float, ...] | None:
    """Two or three numbers, or None."""
    numbers = [number(each) for each in items(value)]
    if len(numbers) not in (2, 3) or None in numbers:
        return None
    return tuple(each for each in numbers if each is not None)


def said(numbers: tuple[float, ...]) -> str:
    """A point in few letters."""
    return f"[{', '.join(f'{each:g}' for each in numbers)}]"
