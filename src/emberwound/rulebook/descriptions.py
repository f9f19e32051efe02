"""What fields are described as: the texts that stand below them in the source."""

from __future__ import annotations

import ast
import inspect
from functools import cache
from itertools import pairwise
from typing import TYPE_CHECKING

if TYPE_CHECKING:
    from types import ModuleType


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
