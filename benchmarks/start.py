"""How long commands take from the start of the process to its end, cold and warm, as ratios to importing the libraries.

    python benchmarks/start.py [ROUNDS]

Cold ones find an empty folder of kernels, warm ones a prepared one. Both are measured in turn with a process that does
nothing but import what the commands build on.
"""

from __future__ import annotations

import os
import subprocess
import sys
import tempfile
from importlib.resources import files
from pathlib import Path
from statistics import median
from time import perf_counter

LIBRARIES = "import numpy, pydantic, msgspec, matplotlib.pyplot, typer, rich"
COLD = (("demo",), ("demo", "crossing"))
WARM = (
    ("demo",),
    ("demo", "crossing"),
    ("draw", "attack", "BOOK", "slam"),
    ("draw", "story", "BOOK", "passage"),
    ("replay", "BOOK", "passage"),
    ("wound", "BOOK", "flare", "wader"),
)


def seconds(command: list[str], folder: Path, kernels: Path) -> float:
    """How long a process takes in a folder, with a folder of kernels."""
    environment = {**os.environ, "NUMBA_CACHE_DIR": str(kernels), "MPLBACKEND": "agg"}
    started = perf_counter()
    done = subprocess.run(command, cwd=folder, env=environment, capture_output=True, text=True, check=False)
    spent = perf_counter() - started
    if done.returncode:
        sys.exit(f"{' '.join(command)}: {done.stderr}")
    return spent


def main() -> None:
    """Print a line for each command."""
    rounds = int(sys.argv[1]) if len(sys.argv) > 1 else 3
    program = [str(Path(sys.executable).with_name("emberwound"))]
    with tempfile.TemporaryDirectory() as place:
        root = Path(place)
        book = root / "saltglass.toml"
        book.write_text(
            files("emberwound.demo").joinpath("saltglass.toml").read_text(encoding="utf-8"), encoding="utf-8"
        )
        warm = root / "warm"
        warm.mkdir()
        print(f"prepare, nothing compiled: {seconds([*program, 'prepare'], root, warm):.1f} s")
        print(f"{'':36}{'s':>8}{'/ libraries':>14}")
        for kind, commands in (("cold", COLD), ("warm", WARM)):
            for words in commands:
                spent, ratios = [], []
                for number in range(rounds):
                    kernels, folder = warm, root / f"{kind} {' '.join(words)} {number}".replace("BOOK", "book")
                    folder.mkdir()
                    if kind == "cold":
                        kernels = folder / "kernels"
                        kernels.mkdir()
                    libraries = seconds([sys.executable, "-c", LIBRARIES], folder, kernels)
                    command = [str(book) if word == "BOOK" else word for word in words]
                    spent.append(seconds([*program, *command], folder, kernels))
                    ratios.append(spent[-1] / libraries)
                print(f"{kind + ': ' + ' '.join(words):36}{median(spent):>8.2f}{median(ratios):>14.1f}", flush=True)


if __name__ == "__main__":
    main()
