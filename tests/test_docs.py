"""The documents keep up with the library: every key, event, reason and call they name is there."""

from __future__ import annotations

import re
import typing
from pathlib import Path

import pytest
from pydantic import BaseModel

import emberwound as ew
from conftest import range_rules
from emberwound import Reason, draw, events, study, views
from emberwound.bout.handles import Prop, Shot
from emberwound.rulebook.models import Book
from emberwound.rulebook.outline import table_keys, unwrap

ROOT = Path(__file__).parent.parent
DOCS = {path.name: path.read_text(encoding="utf-8") for path in [*(ROOT / "docs").glob("*.md"), ROOT / "README.md"]}


def words_in(text: str) -> set[str]:
    """Every name in a document that stands as code, its dots and braces taken apart."""
    text = re.sub(r"^```.*?^```$", "", text, flags=re.MULTILINE | re.DOTALL)
    found = re.findall(r"`([^`]+)`", text) + re.findall(r"^ {4}(.*)$", text, re.MULTILINE)
    return {word for code in found for word in re.findall(r"\w+", code)}


def tables(annotation: object) -> set[type[BaseModel]]:
    """The models that an annotation holds, and all that these hold."""
    bare, _ = unwrap(annotation)
    if isinstance(bare, type) and issubclass(bare, BaseModel):
        return {bare}.union(*(tables(inner) for inner in table_keys(bare).values()))
    return set().union(*(tables(part) for part in typing.get_args(bare)))


def test_every_key_of_a_rulebook_is_documented() -> None:
    told = words_in(DOCS["rulebook.md"])
    keys = {key for table in tables(Book) for key in table_keys(table)}
    assert len(keys) > 150
    assert keys - told == set()


def test_every_event_and_reason_is_documented() -> None:
    told = words_in(DOCS["bouts.md"])
    assert {kind.__name__ for kind in events.Event.__subclasses__()} <= told
    assert {reason.value for reason in Reason} - told == set()


def test_what_a_view_shows_is_documented() -> None:
    told = words_in(DOCS["bouts.md"])
    for kind in (views.BodyView, views.View):
        public = {name for name, value in vars(kind).items() if not name.startswith("_") and not callable(value)}
        small = {
            "id",
            "heading",
            "presence",
            "stance",
            "seconds_left",
            "shot_count",
            "axes",
            "arena",
            "over",
            "tick",
            "time",
        }
        assert public - small - told == set(), kind


def test_every_type_in_a_public_signature_is_public() -> None:
    rooms = (ew, events, ew.study, ew.views, ew.records, ew.draw, ew.testing)
    public = {name for room in rooms for name in dir(room)} | {"Kind"}
    others = {"Any", "Callable", "DataFrame", "False", "Figure", "Iterator", "Literal", "Mapping", "NDArray"}
    others |= {"None", "Path", "Self", "Sequence", "True"}
    text = DOCS["api.md"]
    signatures = re.findall(r"```python\n(.*?)```", text, re.DOTALL)
    signatures += re.findall(r"^\| `\w+` \| `([^`]*)`", text, re.MULTILINE)
    assert len(signatures) > 100
    named = {name for each in signatures for name in re.findall(r"\b[A-Z]\w*", re.sub(r"'[^']*'", "", each))}
    assert named - public - others == set()


def test_every_call_in_the_documents_exists() -> None:
    bout = ew.Bout(range_rules(), arena="range")
    seat = bout.enter("thrower", at="line")
    known = {"ew": ew, "bout": bout, "seat": seat, "rules": bout.rules, "view": bout.view(), "events": events}
    missing = []
    for file, text in DOCS.items():
        for owner, name in re.findall(r"\b(ew|bout|seat|rules|view|events)\.([a-zA-Z_]\w*)", text):
            if (owner, name) != ("seat", "py") and name not in ("md", "py") and not hasattr(known[owner], name):
                missing.append(f"{file}: {owner}.{name}")
    assert missing == []


@pytest.mark.parametrize("room", [study, draw, views])
def test_every_public_name_of_a_room_has_a_first_line_of_its_own(room: typing.Any) -> None:
    for name in (each for each in room.__all__ if typing.get_origin(getattr(room, each)) is None):
        first = (getattr(room, name).__doc__ or "").strip().splitlines()[0]
        assert len(first) > 15 and first[0].isupper(), name


HANDLES: dict[str, object] = {
    "ew": ew,
    "rules": range_rules(),
    "bout": ew.Bout,
    "seat": ew.Seat,
    "chronicle": ew.Chronicle,
    "shot": Shot,
    "prop": Prop,
    "body": views.BodyView,
    "view": views.View,
    "bar": views.BarView,
}


@pytest.mark.parametrize("page", sorted(set(DOCS) - {"api.md", "names.md", "architecture.md"}))
def test_what_a_page_calls_on_a_handle_is_there(page: str) -> None:
    code = re.sub(r"\]\([^)]*\)|\w+\.(?:md|png|py|toml|jsonl)\b", "", DOCS[page])
    named = set(re.findall(rf"(?<![\w./\"'])({'|'.join(HANDLES)})\.([a-z]\w*)", code))
    assert {f"{handle}.{name}" for handle, name in named if not hasattr(HANDLES[handle], name)} == set()


def test_tables_of_views_and_events_name_what_they_have() -> None:
    rows = re.findall(r"^\| (`[A-Z]\w+`.*?) \| (.*)\|$", DOCS["bouts.md"], re.MULTILINE)
    rows += re.findall(r"\| (`[A-Z]\w+View`): ([^|]*)\|", DOCS["bouts.md"])
    assert len(rows) > 40
    for kinds, says in rows:
        known = [getattr(events, name, getattr(views, name, None)) for name in re.findall(r"\w+", kinds)]
        wrong = [name for name in re.findall(r"`([a-z_]+)`", says) if not any(hasattr(kind, name) for kind in known)]
        assert not wrong, f"{kinds} has no {wrong}"
