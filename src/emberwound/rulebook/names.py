"""Names asked for that a rulebook may not have."""

from __future__ import annotations

import re
from typing import TYPE_CHECKING

from emberwound.rulebook.fields import LONGEST_NAME, NAME
from emberwound.vocabulary.errors import RulebookError, nearest_name, shortened
from emberwound.vocabulary.limits import listed
from emberwound.vocabulary.problems import Problem

if TYPE_CHECKING:
    from collections.abc import Iterable


def known_name(what: str, name: object, known: Iterable[str]) -> str:
    """The name, if it is one of those known. Raises RulebookError with the nearest one."""
    names = list(known)
    if isinstance(name, str) and name in names:
        return name
    nearest = nearest_name(name, names) if isinstance(name, str) else None
    seen = f"there is no {what} {shortened(name)}"
    raise RulebookError([Problem("", "", seen, f"known: {listed(names)}", nearest)], asked=True)


def refuse(what: str, seen: object, allowed: str) -> RulebookError:
    """The error for an argument of a question, with what was seen and what is allowed."""
    return RulebookError([Problem("", "", f"{what}: {shortened(seen)}", allowed)], asked=True)


def is_name(text: str) -> bool:
    """Whether a text may be the name of an entry."""
    return len(text) <= LONGEST_NAME and re.fullmatch(NAME, text) is not None
