"""Write the parts of the documents that are made from the code: `python tools/documents.py`, or `--check` them.

A part stands between `<!-- made: WHAT ... -->` and `<!-- end -->`; everything around it is written by hand.
"""

from __future__ import annotations

import re
import sys
from pathlib import Path
from typing import TYPE_CHECKING

ROOT = Path(__file__).parent.parent
sys.path.insert(0, str(Path(__file__).parent))

import gallery  # noqa: E402
import index_of_names  # noqa: E402
import reference_of_code  # noqa: E402
import reference_of_commands  # noqa: E402
import reference_of_rules  # noqa: E402

if TYPE_CHECKING:
    from collections.abc import Callable

MADE = re.compile(r"(<!-- made: (\S+)(.*?) -->\n).*?(<!-- end -->)", re.DOTALL)

MAKERS: dict[str, Callable[..., str]] = {
    "keys": reference_of_rules.keys,
    "snippet": reference_of_rules.snippet,
    "commands": reference_of_commands.commands,
    "events": reference_of_code.events,
    "room": reference_of_code.room,
    "causes": reference_of_code.causes,
    "findings": reference_of_code.findings,
    "questions": gallery.questions,
    "pictures": gallery.pictures,
    "names": index_of_names.table,
}


def remade(text: str) -> str:
    """A document with its made parts as they are now."""

    def made(found: re.Match[str]) -> str:
        opening, maker, words, closing = found.groups()
        return f"{opening}\n{MAKERS[maker](*words.split()).strip()}\n\n{closing}"

    return MADE.sub(made, text)


def stale() -> dict[Path, str]:
    """The documents that are not as they would be made now, and what they would be."""
    found = {}
    for page in sorted((ROOT / "docs").glob("*.md"), key=lambda page: (page.name == "names.md", page.name)):
        text = page.read_text(encoding="utf-8")
        new = remade(text)
        if new != text:
            found[page] = new
    whole = {ROOT / "docs" / "index.md": gallery.front_page((ROOT / "README.md").read_text(encoding="utf-8"))}
    made = {**whole, **gallery.pages()}
    return found | {page: text for page, text in made.items() if not page.exists() or page.read_text("utf-8") != text}


def main() -> None:
    """Write what is stale, or with `--check` say so and fail."""
    checking = "--check" in sys.argv[1:]
    while pages := stale():  # the index of names tells lines of pages written just before
        for page, text in pages.items():
            print(f"{'stale' if checking else 'written'}: {page.relative_to(ROOT)}")
            page.parent.mkdir(exist_ok=True)
            if not checking:
                page.write_text(text, encoding="utf-8")
        if checking:
            sys.exit("run `python tools/documents.py`")


if __name__ == "__main__":
    main()
