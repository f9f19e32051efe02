"""Do the promises hold in random bouts of random rules? Each is run again from its middle and from its record.

python benchmarks/anything.py [BOUTS] [FIRST SEED]
"""

from __future__ import annotations

import sys
from collections import Counter
from pathlib import Path
from time import perf_counter

sys.path.insert(0, str(Path(__file__).parent.parent / "tests"))

from emberwound.vocabulary.events import Respawned
from test_anything import check

FRAMES = 40


def main() -> None:
    """Print how many bouts were played and what came to pass in them; an AssertionError tells of a promise broken."""
    count = int(sys.argv[1]) if len(sys.argv) > 1 else 200
    first = int(sys.argv[2]) if len(sys.argv) > 2 else 1000
    started, told, ticks, moved, crowded = perf_counter(), Counter[str](), 0, 0, 0
    broken: list[int] = []
    for seed in range(first, first + count):
        try:
            chronicle = check(seed, FRAMES)
        except AssertionError as error:
            broken.append(seed)
            print(f"\nseed {seed}: {error}", file=sys.stderr)
            continue
        told.update(type(event).__name__ for event in chronicle.events)
        stood = [event for event in chronicle.events if isinstance(event, Respawned)]
        moved += sum(event.moved > 0.0 for event in stood)
        crowded += sum(event.crowded for event in stood)
        ticks += chronicle.end.ticks
        if sys.stderr.isatty():
            print(f"\r{seed - first + 1} of {count}", end="", file=sys.stderr)
    print(f"{count:,} bouts, {ticks:,} ticks in {perf_counter() - started:.0f} s; broken: {broken or 'none'}")
    print(f"{told['Respawned']:,} respawns, {moved:,} of them moved, {crowded:,} without a free spot")
    print(", ".join(f"{number:,} {name}" for name, number in told.most_common()))


if __name__ == "__main__":
    main()
