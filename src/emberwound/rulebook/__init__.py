"""The rules as validated data: models, loading, cross-checks, and their plain terms."""

from emberwound.rulebook.rules import Rules

__all__ = ["Rules"]
