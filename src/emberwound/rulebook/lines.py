"""On which line of a TOML text each of its keys stands."""

from __future__ import annotations

import re
from collections import defaultdict
from functools import lru_cache
from typing import TYPE_CHECKING, NamedTuple

from emberwound.rulebook.outline import dotted

if TYPE_CHECKING:
    from collections.abc import Iterator

    from emberwound.rulebook.outline import Key

_TOKEN = re.compile(
    r"""(?P<skip>[ \t\r]+|\#[^\n]*)|(?P<newline>\n)
    |(?P<text>\"{3}.*?\"{3,5}|'{3}.*?'{3,5}|"(?:\\.|[^"\\\n])*"|'[^'\n]*')
    |(?P<sign>[\[\]{}=,.])|(?P<bare>[^\s\[\]{}=,.\#"']+)""",
    re.VERBOSE | re.DOTALL,
)


class _Token(NamedTuple):
    sort: str
    text: str
    line: int


@lru_cache(maxsize=16)
def lines_of(text: str) -> dict[str, int]:
    """The line of every key of a TOML text, counted from 1; keys are dotted, with the places of lists: `a.b[0].c`.

    The text is taken as valid.
    """
    return _Reader(text).read()


def line_of(text: str, key: str) -> int | None:
    """The line of a key, or of the table that it is missing from; None where the text has neither."""
    lines = lines_of(text)
    while key and key not in lines:
        key = re.sub(r"(\.[^.\[\]]+|\[\d+\]|^[^.\[\]]+)$", "", key)
    return lines.get(key)


class _Reader:
    """Walks the tokens of a text and notes where each key stands."""

    def __init__(self, text: str) -> None:
        self._tokens = list(_tokens(text))
        self._at = 0
        self._lines: dict[str, int] = {}
        self._rows: defaultdict[str, int] = defaultdict(lambda: -1)

    def read(self) -> dict[str, int]:
        """All keys, each with its line."""
        table: Key = ()
        while self._now.sort != "end":
            if self._now.sort == "newline":
                self._at += 1
            elif self._now.text == "[":
                table = self._header()
            else:
                self._pair(table)
        return self._lines

    @property
    def _now(self) -> _Token:
        return self._tokens[min(self._at, len(self._tokens) - 1)]

    def _header(self) -> Key:
        line = self._now.line
        is_list = self._tokens[self._at + 1].text == "["
        brackets = 2 if is_list else 1
        self._at += brackets
        key = self._in_rows(self._name())
        self._at += brackets
        if is_list:
            self._rows[dotted(key)] += 1
            key = (*key, self._rows[dotted(key)])
        self._note(key, line)
        return key

    def _in_rows(self, names: list[str]) -> Key:
        """The names of a header, each list among them at its newest row."""
        key: Key = ()
        for number, name in enumerate(names):
            key = (*key, name)
            if number < len(names) - 1 and self._rows[dotted(key)] >= 0:
                key = (*key, self._rows[dotted(key)])
        return key

    def _name(self) -> list[str]:
        names: list[str] = []
        while self._now.sort in ("bare", "text") or self._now.text == ".":
            if self._now.text != ".":
                names.append(self._now.text.strip("\"'"))
            self._at += 1
        return names

    def _pair(self, table: Key) -> None:
        line = self._now.line
        key: Key = (*table, *self._name())
        self._at += 1
        self._note(key, line)
        self._value(key)

    def _value(self, key: Key) -> None:
        opened = self._now.text
        self._at += 1
        if opened == "{":
            while not self._closes("}"):
                self._pair(key)
        elif opened == "[":
            place = 0
            while not self._closes("]"):
                self._note((*key, place), self._now.line)
                self._value((*key, place))
                place += 1
        else:
            while self._now.text == ".":  # a number with a point is three tokens
                self._at += 2

    def _closes(self, sign: str) -> bool:
        """Whether a table or list ends here; what only parts its entries is passed over."""
        while self._now.sort == "newline" or self._now.text == ",":
            self._at += 1
        if self._now.text != sign and self._now.sort != "end":
            return False
        self._at += 1
        return True

    def _note(self, key: Key, line: int) -> None:
        for length in range(len(key), 0, -1):
            self._lines.setdefault(dotted(key[:length]), line)


def _tokens(text: str) -> Iterator[_Token]:
    line, at = 1, 0
    while match := _TOKEN.match(text, at):
        sort, found = match.lastgroup or "", match.group()
        if sort != "skip":
            yield _Token(sort, found, line)
        line += found.count("\n")
        at = match.end()
    yield _Token("end", "", line)
