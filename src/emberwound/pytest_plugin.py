"""What pytest finds of this package: fixtures for tests of a rulebook of one's own."""

from __future__ import annotations

from typing import TYPE_CHECKING, Any

import pytest

if TYPE_CHECKING:
    from collections.abc import Iterable

    from emberwound import Bout, Chronicle, Rulebook

BOOK = "emberwound_book"
MARKER = "emberwound(book=..., arena=..., bout=..., seed=...): which rulebook, arena, bout and seed the fixtures take"


def pytest_addoption(parser: pytest.Parser) -> None:
    """Let a project name its rulebook."""
    parser.addini(
        BOOK,
        "The rulebook of the fixtures `emberwound_rulebook`, `emberwound_bout`, `emberwound_chronicle`, from the root.",
        "string",
    )


def pytest_configure(config: pytest.Config) -> None:
    """Make the marker known."""
    config.addinivalue_line("markers", MARKER)


@pytest.fixture
def emberwound_rulebook(request: pytest.FixtureRequest) -> Rulebook:
    """The rulebook that the marker, or else `emberwound_book` in the settings of pytest, names."""
    from emberwound import Rulebook
    from emberwound.vocabulary.errors import RulebookError

    name = _asked(request, "book") or request.config.getini(BOOK)
    if not name:
        pytest.fail(
            f"no rulebook is named: set {BOOK} in the settings of pytest, or mark the test with a book", pytrace=False
        )
    try:
        return Rulebook.load(request.config.rootpath / name)
    except RulebookError as error:
        pytest.fail(str(error), pytrace=False)


@pytest.fixture
def emberwound_bout(request: pytest.FixtureRequest, emberwound_rulebook: Rulebook) -> Bout:
    """A bout that nobody has entered, in the arena that the marker names, or else the book's first."""
    from emberwound import Bout

    book = emberwound_rulebook
    arena = _asked(request, "arena") or _first("arena", book.book.arenas, book.source)
    return Bout(book, arena=arena, seed=_asked(request, "seed") or 0)


@pytest.fixture
def emberwound_chronicle(request: pytest.FixtureRequest, emberwound_rulebook: Rulebook) -> Chronicle:
    """The chronicle of the bout that the marker names, or else of the book's first."""
    from emberwound import run

    book = emberwound_rulebook
    name = _asked(request, "bout") or _first("bout", book.book.bouts, book.source)
    return run(book, name, seed=_asked(request, "seed"))


def _asked(request: pytest.FixtureRequest, key: str) -> Any:
    """What the nearest marker says of a key. Fails for keys that it does not have."""
    mark = request.node.get_closest_marker("emberwound")
    if mark is None:
        return None
    unknown = set(mark.kwargs) - {"book", "arena", "bout", "seed"}
    if mark.args or unknown:
        seen = ", ".join([*map(repr, mark.args), *sorted(unknown)])
        pytest.fail(f"the marker emberwound takes book, arena, bout and seed by name; got {seen}", pytrace=False)
    return mark.kwargs.get(key)


def _first(what: str, names: Iterable[str], source: str) -> str:
    found = next(iter(names), None)
    if found is None:
        pytest.fail(f"{source} has no {what}", pytrace=False)
    return found
