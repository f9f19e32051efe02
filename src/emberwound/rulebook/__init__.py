"""The rules as validated data: models, loading, cross-checks, and their plain terms."""

from emberwound.rulebook.book import Rulebook

__all__ = ["Rulebook"]
