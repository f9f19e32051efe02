"""Which rules do no tests hold? Breaks the code of a room on purpose, one place at a time, and runs tests on it.

    python benchmarks/mutants.py combat --most 50 --seed 1

Each mutant is one changed comparison, sum, product, condition or figure, in a copy of the repository. It is killed when
a test fails. What survives is listed with its line: it wants a test, or a reason why nothing can tell the difference.
"""

from __future__ import annotations

import argparse
import ast
import os
import random
import shutil
import subprocess
import sys
import tempfile
from pathlib import Path
from typing import TYPE_CHECKING

if TYPE_CHECKING:
    from collections.abc import Iterator

HERE = Path(__file__).resolve().parent.parent
ROOMS = {"combat": "combat", "hits": "bout/hits", "lives": "bout/lives"}
TESTS = (
    "wound", "small_rules", "hits", "hit_options", "hit_stop", "reactions", "knockback", "blasts", "exact_times",
    "revive", "hazards", "passed_over", "shots", "bars", "firing", "ragdoll", "strikes", "deaths", "questions",
    "respawn", "scores", "grabs", "shot_duels", "hosted", "everyday",
)  # fmt: skip

COMPARED: dict[type[ast.cmpop], type[ast.cmpop]] = {
    ast.Lt: ast.LtE, ast.LtE: ast.Lt, ast.Gt: ast.GtE, ast.GtE: ast.Gt, ast.Eq: ast.NotEq, ast.NotEq: ast.Eq,
    ast.Is: ast.IsNot, ast.IsNot: ast.Is, ast.In: ast.NotIn, ast.NotIn: ast.In,
}  # fmt: skip
REPLACED: dict[type[ast.operator], type[ast.operator]] = {
    ast.Add: ast.Sub, ast.Sub: ast.Add, ast.Mult: ast.Div, ast.Div: ast.Mult,
}  # fmt: skip


def changes(tree: ast.Module) -> Iterator[tuple[int, str]]:
    """Change one place after the other in the tree itself: the line and what was done; each is undone by the next."""
    for node in list(ast.walk(tree)):
        if isinstance(node, ast.Compare) and type(node.ops[0]) in COMPARED:
            old = node.ops[0]
            node.ops[0] = COMPARED[type(old)]()
            yield node.lineno, f"{type(old).__name__} to {type(node.ops[0]).__name__}"
            node.ops[0] = old
        elif isinstance(node, ast.BinOp) and type(node.op) in REPLACED:
            sign = node.op
            node.op = REPLACED[type(sign)]()
            yield node.lineno, f"{type(sign).__name__} to {type(node.op).__name__}"
            node.op = sign
        elif isinstance(node, ast.BoolOp):
            both = node.op
            node.op = ast.Or() if isinstance(both, ast.And) else ast.And()
            yield node.lineno, f"{type(both).__name__} to {type(node.op).__name__}"
            node.op = both
        elif isinstance(node, ast.If) and ast.unparse(node.test) != "TYPE_CHECKING":
            test = node.test
            node.test = ast.UnaryOp(ast.Not(), test)
            yield node.lineno, "if turned round"
            node.test = test
        elif (
            isinstance(node, ast.Constant) and isinstance(node.value, int | float) and not isinstance(node.value, bool)
        ):
            figure = node.value
            node.value = figure + 1
            yield node.lineno, f"{figure} to {figure + 1}"
            node.value = figure


def mutants(room: str) -> list[tuple[Path, int, str, str]]:
    """Every mutant of a room: its file, line, what was done, and the whole text."""
    found = []
    for file in sorted((HERE / "src" / "emberwound" / ROOMS[room]).rglob("*.py")):
        tree = ast.parse(file.read_text(encoding="utf-8"))
        for line, what in changes(tree):
            found.append((file.relative_to(HERE), line, what, ast.unparse(ast.fix_missing_locations(tree))))
    return found


def is_killed(copy: Path, tests: list[str]) -> bool:
    """Whether a test fails on the copy; one that hangs counts as failing."""
    command = [sys.executable, "-m", "pytest", "-x", "-q", "-n", "0", "-p", "no:cacheprovider", *tests]
    try:
        done = subprocess.run(
            command,
            cwd=copy,
            env={**os.environ, "PYTHONPATH": str(copy / "src")},
            capture_output=True,
            timeout=240,
            check=False,
        )
    except subprocess.TimeoutExpired:
        return True
    return done.returncode != 0


def main() -> None:
    """Break, test, tell."""
    parser = argparse.ArgumentParser(description=__doc__, formatter_class=argparse.RawDescriptionHelpFormatter)
    parser.add_argument("room", choices=ROOMS)
    parser.add_argument("--most", type=int, default=40, help="how many mutants, drawn at random")
    parser.add_argument("--seed", type=int, default=1)
    asked = parser.parse_args()
    every = mutants(asked.room)
    drawn = random.Random(asked.seed).sample(every, min(asked.most, len(every)))  # noqa: S311 (no secret)
    with tempfile.TemporaryDirectory() as folder:
        copy = Path(folder) / "copy"
        shutil.copytree(
            HERE, copy, ignore=shutil.ignore_patterns(".git", ".jit", "__pycache__", "*_cache", ".hypothesis")
        )
        tests = [f"tests/test_{name}.py" for name in TESTS]
        if is_killed(copy, tests):
            sys.exit("the tests fail as they are: nothing can be learnt from mutants")
        killed = 0
        for number, (file, line, what, text) in enumerate(drawn, 1):
            whole = (copy / file).read_text(encoding="utf-8")
            (copy / file).write_text(text, encoding="utf-8")
            dead = is_killed(copy, tests)
            (copy / file).write_text(whole, encoding="utf-8")
            killed += dead
            if not dead:
                print(f"survives: {file}:{line}: {what}", flush=True)
            if number % 10 == 0:
                print(f"{number} of {len(drawn)} tried, {killed} killed", flush=True)
    print(f"{asked.room}: {killed} of {len(drawn)} killed ({killed / len(drawn):.0%}), of {len(every)} mutants in all")


if __name__ == "__main__":
    main()
