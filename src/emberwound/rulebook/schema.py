"""The JSON Schema of a rulebook, made from its models and the texts below their fields."""

from __future__ import annotations

import ast
import inspect
from functools import cache
from itertools import pairwise
from typing import TYPE_CHECKING, Any, TypeAlias

from emberwound.rulebook.fields import NAME
from emberwound.rulebook.models import Book, Table
from emberwound.rulebook.templates import LIKE, LIKE_MODELS, PLACED, TEMPLATES
from emberwound.vocabulary.clock import Duration

if TYPE_CHECKING:
    from types import ModuleType


Schema: TypeAlias = dict[str, Any]
"""A JSON Schema, or a part of one."""

DIALECT = "https://json-schema.org/draft/2020-12/schema"
BOUNDS = {"ge": "minimum", "le": "maximum", "gt": "exclusiveMinimum", "lt": "exclusiveMaximum"}


def json_schema() -> Schema:
    """The schema of a whole rulebook, of JSON Schema's draft 2020-12, as plain values.

    It knows every key, its type and its range, with its description and default. What goes beyond one table, such as
    the names of other entries and times that must fit into each other, only loading a book checks.
    """
    made = Book.model_json_schema(by_alias=True)
    definitions = made.pop("$defs")
    tables = {table.__name__: table for table in _all_tables(Table)}
    for name, definition in definitions.items():
        _describe(definition, tables[name])
    _describe(made, Book)
    _let_be_like(made, definitions)
    return {"$schema": DIALECT, "title": "Ember Wound rulebook", **_tidied({**made, "$defs": definitions})}


def _let_be_like(made: Schema, definitions: Schema) -> None:
    """Let entries be like others, which then have what is required; and let templates stand for them."""
    name = {"type": "string", "pattern": NAME, "description": "The template or fighter that it is like."}
    for table in LIKE_MODELS:
        definition = definitions[table.__name__]
        required = definition.pop("required", [])
        definitions[f"{table.__name__}Template"] = dict(definition)
        definition["properties"] = {LIKE: name, **definition["properties"]}
        definition["anyOf"] = [{"required": required}, {"required": [LIKE]}]
    sections = {
        section: {"type": "object", "additionalProperties": {"$ref": f"#/$defs/{table.__name__}Template"}}
        for section, table in PLACED.items()
    }
    told = "What arenas repeat, each with a name that entries of an arena may be `like`."
    made["properties"][TEMPLATES] = {"type": "object", "properties": sections, "additionalProperties": False,
                                     "description": told}  # fmt: skip


def _all_tables(table: type[Table]) -> list[type[Table]]:
    return [each for child in table.__subclasses__() for each in (child, *_all_tables(child))]


def _describe(definition: Schema, table: type[Table]) -> None:
    """Put the descriptions of a table's fields, and the defaults that are made, into its definition."""
    texts = field_texts(table)
    for name, field in table.model_fields.items():
        entry = definition["properties"][field.alias or name]
        entry["description"] = texts.get(name, "")
        default = field.get_default(call_default_factory=True)
        if not field.is_required() and default is not None:
            entry["default"] = plain_default(default)


def plain_default(value: object) -> object:
    """A default as a file would write it."""
    if isinstance(value, Duration):
        return value.written()
    if isinstance(value, Table):
        return {key: plain_default(getattr(value, key)) for key in type(value).model_fields}
    if isinstance(value, tuple):
        return [plain_default(each) for each in value]
    return value


def _tidied(schema: Any) -> Any:
    """A schema in the plain words of the standard: nothing may be null, bounds and names of keys are checked."""
    if isinstance(schema, list):
        return [_tidied(each) for each in schema]
    if not isinstance(schema, dict):
        return schema
    found = {
        BOUNDS.get(key, key): _tidied(value)
        for key, value in schema.items()
        if not (key == "title" and isinstance(value, str)) and not (key == "default" and value is None)
    }
    if "properties" in found:  # whose keys are names, not words of the standard
        found["properties"] = {key: _tidied(value) for key, value in schema["properties"].items()}
    some = [each for each in found.get("anyOf", ()) if each != {"type": "null"}]
    if len(some) == 1:
        del found["anyOf"]
        found = {**some[0], **found}
    elif some:
        found["anyOf"] = some
    if len(found.get("patternProperties", ())) == 1:
        (pattern, entry), *_ = found.pop("patternProperties").items()
        found["propertyNames"] = {"pattern": pattern, **found.get("propertyNames", {})}
        found["additionalProperties"] = entry
    return found


def field_texts(described: type) -> dict[str, str]:
    """The text below each field of a class and of its bases, by the field's name; empty without the sources."""
    found: dict[str, str] = {}
    for part in reversed(described.__mro__):
        module = inspect.getmodule(part)
        if module is not None and part.__module__.startswith("emberwound."):
            found.update(_texts_of(module).get(part.__qualname__, {}))
    return found


@cache
def _texts_of(module: ModuleType) -> dict[str, dict[str, str]]:
    """For each class of a module the texts below its fields."""
    try:
        tree = ast.parse(inspect.getsource(module))
    except OSError:
        return {}
    return {node.name: dict(_texts_below(node.body)) for node in tree.body if isinstance(node, ast.ClassDef)}


def _texts_below(body: list[ast.stmt]) -> list[tuple[str, str]]:
    return [
        (field.target.id, " ".join(text.value.value.split()))
        for field, text in pairwise(body)
        if isinstance(field, ast.AnnAssign) and isinstance(field.target, ast.Name)
        if isinstance(text, ast.Expr) and isinstance(text.value, ast.Constant) and isinstance(text.value.value, str)
    ]
