"""The JSON Schema: it takes every book that loads, and refuses what no book may say."""

from __future__ import annotations

import json
import tomllib
from pathlib import Path
from typing import Any

import jsonschema
import pytest

from conftest import emberwound, range_text
from emberwound import Rulebook
from emberwound.cli.shelf import examples
from emberwound.vocabulary.errors import RulebookError

ROOT = Path(__file__).parent.parent
SCHEMA = Rulebook.json_schema()
VALIDATOR = jsonschema.Draft202012Validator(SCHEMA)
RANGE = tomllib.loads(range_text())


def changed(key: str, value: object) -> dict[str, Any]:
    """The tables of the shooting range with the value at a dotted key changed."""
    tables: dict[str, Any] = json.loads(json.dumps(RANGE))
    *path, last = key.split(".")
    inner = tables
    for step in path:
        inner = inner.setdefault(step, {})
    inner[last] = value
    return tables


def test_it_is_a_schema_and_takes_every_book_that_is_shipped(saltglass_path: Path) -> None:
    jsonschema.Draft202012Validator.check_schema(SCHEMA)
    books = [saltglass_path, ROOT / "docs" / "reference.toml", saltglass_path.with_name("first.toml")]
    texts = [book.read_text(encoding="utf-8") for book in books]
    texts += [each.files["book.toml"].decode() for each in examples()]
    assert len(texts) > 20
    for text in texts:
        assert [error.message for error in VALIDATOR.iter_errors(tomllib.loads(text))] == []


def test_it_takes_what_a_book_becomes_with_its_defaults(saltglass: Rulebook) -> None:
    assert list(VALIDATOR.iter_errors(saltglass.canonical())) == []


@pytest.mark.parametrize(
    ("key", "value"),
    [
        ("settings.tick_rate", 0),
        ("settings.tick_rate", 60.5),
        ("settings.ticks", 60),
        ("settings.buffer", -1),
        ("settings.buffer", "a while"),
        ("settings.rounding", "up"),
        ("settings.title", 7),
        ("kinds.2nd", {}),
        ("fighters.thrower.body", {"radius": 0.3}),
        ("fighters.thrower.body.radius", 0),
        ("fighters.thrower.pools.health.vital", "yes"),
        ("fighters.thrower.hurtboxes.chest.from", [1]),
        ("fighters.thrower.attacks", "dart"),
        ("fighters.thrower.damage_taken", {"ember": -1}),
        ("attacks.dart.damage", "12"),
        ("attacks.dart.shot.speed", -3),
        ("attacks.dart.shot.life", 0),
        ("attacks.dart.shot.on_wall", "stick"),
        ("attacks.dart.rehit", 1),
        ("arenas.range.space", "2d"),
        ("arenas.range.bounds.low", [1, 2, 3, 4]),
        ("arenas.range.entries.line.facing", "up"),
        ("bouts.b", {"arena": "range", "seconds": 1, "seats": {"a": {"fighter": "thrower", "at": 3}}}),
    ],
)
def test_it_refuses_what_a_book_may_not_say(key: str, value: object) -> None:
    tables = changed(key, value)
    assert list(VALIDATOR.iter_errors(tables)) != []
    with pytest.raises(RulebookError):
        Rulebook.from_canonical(tables)


def test_it_tells_descriptions_and_defaults(tmp_path: Path) -> None:
    done = emberwound("schema", "--out", "s.json", folder=tmp_path)
    assert done.returncode == 0
    written = json.loads((tmp_path / "s.json").read_text(encoding="utf-8"))
    assert written == SCHEMA == json.loads(emberwound("schema", folder=tmp_path).stdout)
    shot = written["$defs"]["Shot"]["properties"]
    assert shot["life"]["description"] == "Seconds after which it ends." and shot["life"]["default"] == 10
    described = [
        entry.get("description") for table in written["$defs"].values() for entry in table["properties"].values()
    ]
    assert len(described) > 250 and all(described)
