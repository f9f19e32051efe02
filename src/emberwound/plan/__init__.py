"""A rulebook compiled for one arena and one tick rate: integer ids, ticks and tables, frozen and shared."""

from emberwound.plan.compile import compile_plan
from emberwound.plan.plan import Plan

__all__ = ["Plan", "compile_plan"]
