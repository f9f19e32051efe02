"""The reference of the rulebook: its keys from the models, its snippets from a book that has every table once."""

from __future__ import annotations

import json
import re
import types
from pathlib import Path
from typing import Annotated, Any, Literal, Union, get_args, get_origin

from pydantic import BaseModel

from emberwound.rulebook import models
from emberwound.rulebook.fields import Allowed
from emberwound.rulebook.outline import table_keys
from emberwound.rulebook.schema import field_texts, plain_default

REFERENCE = Path(__file__).parent.parent / "docs" / "reference.toml"


def keys(*names: str) -> str:
    """The keys of tables, one below the other: name, default, what is allowed, and what it means.

    `Hazard-Area-HitOptions` is a table without the keys that it has from others.
    """
    rows = ["| key | default | allowed | meaning |", "|---|---|---|---|"]
    for name in names:
        wanted, *bases = name.split("-")
        model, elsewhere = getattr(models, wanted), set()
        for base in bases:
            elsewhere |= set(table_keys(getattr(models, base)))
        rows += [row for key, row in _rows(model) if key not in elsewhere]
    return "\n".join(rows)


def snippet(*headers: str) -> str:
    """Parts of the reference book, each from a header to the next empty line."""
    blocks = REFERENCE.read_text(encoding="utf-8").split("\n\n")
    found = [block.strip() for header in headers for block in blocks if re.match(rf"\[+{re.escape(header)}\]", block)]
    if len(found) < len(headers):
        raise ValueError(f"no such part of the reference book among {headers}")
    return "```toml\n" + "\n\n".join(found) + "\n```"


def _rows(model: type[BaseModel]) -> list[tuple[str, str]]:
    texts = field_texts(model)
    return [
        (written, f"| `{written}` | {_default(field)} | {_allowed(field)} | {_cell(texts[name])} |")
        for name, field in model.model_fields.items()
        for written in [field.alias or name]
    ]


def _cell(text: str) -> str:
    return text.replace("|", "\\|")


def _default(field: Any) -> str:
    if field.is_required():
        return "required"
    default = plain_default(field.get_default(call_default_factory=True))
    if default is None:
        return "none"
    if default == {}:
        return "none" if "dict" in str(field.annotation) else "all defaults"
    if isinstance(default, list) and default and isinstance(default[0], dict):
        return f"`[{{ colour = {json.dumps(default[0]['colour'])} }}]`"
    if isinstance(default, float) and default.is_integer():
        default = int(default)
    return f"`{json.dumps(default, ensure_ascii=False)}`"


def _allowed(field: Any) -> str:
    annotation = field.annotation
    if field.metadata:
        annotation = Annotated[(annotation, *field.metadata)]
    return _cell(_words(annotation))


def _words(annotation: Any) -> str:
    """What an annotation allows, in a few words."""
    if get_origin(annotation) is Annotated:
        bare, *marks = get_args(annotation)
        for mark in reversed(marks):
            if isinstance(mark, Allowed):
                return _short(mark.text)
        return _words(bare)
    origin, parts = get_origin(annotation), [each for each in get_args(annotation) if each is not type(None)]
    if origin in {Union, types.UnionType}:
        return " or ".join(_words(each) for each in parts)
    if origin is dict:
        return f"`{{ name = {_words(parts[1])} }}`" if "table" not in _words(parts[1]) else "tables by name"
    if origin is tuple:
        return _list(parts)
    if origin is Literal:
        return ", ".join(f'`"{each}"`' for each in parts)
    if isinstance(annotation, type) and issubclass(annotation, BaseModel):
        return "table"
    return {bool: "true or false", str: "text", int: "whole number", float: "number"}[annotation]


def _list(parts: list[Any]) -> str:
    each = _words(parts[0])
    if "table" in each:
        return "list of tables"
    return each if each.startswith("list") else f"list of {each}s" if " " not in each else f"list: {each}"


SHORT = {
    r"^allowed: ": "",
    r"a finite number between -1e9 and 1e9": "number",
    r"a finite number from 0 to 1e9; healing has a key of its own, heal": "number from 0",
    r"a finite number from 0 to 1e9": "number from 0",
    r"a finite number from 1e-6 to 1e9": "number above 0",
    r"seconds \(0.2\).*above 0, up to a million": "time above 0",
    r'"leave", or seconds.*': '"leave", or time from 0.001',
    r"seconds \(0.2\).*from 0 to a million": "time",
    r"a letter, then letters.*": "name",
    r"a text of at most 200 letters": "text",
    r", finite numbers between -1e9 and 1e9|; numbers between -1e9 and 1e9": "",
    r"^\[x, z\] from the side.*": "point",
    r"^a share": "share",
    r"^a whole number": "whole number",
    r"^\[ahead, up\] or \[ahead, up, left\]$": "offset",
    r"the name of a joint, or an offset.*": "place",
    r'("[^"]+")': r"`\1`",
}  # fmt: skip


def _short(text: str) -> str:
    for long, short in SHORT.items():
        text = re.sub(long, short, text)
    return text
