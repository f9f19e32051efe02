"""What the log is told of compiling, once in a process."""

from __future__ import annotations

import logging
from functools import cache


@cache
def say_once(message: str) -> None:
    """Warn in the log; a warning, so that whoever configures no logging sees it: a silent second looks hung."""
    logging.getLogger("emberwound").warning(message)
