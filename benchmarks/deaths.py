"""Do limp bodies stay whole whatever kills them?

    python benchmarks/deaths.py [DEATHS]

Fighters die in every arena of the demo and in two full of walls, of pushes up to 1,000 units a second, and are watched
for five seconds: their energy, how deep a point is in a floor or wall, and how long their links are at rest.
"""

from __future__ import annotations

import sys
from pathlib import Path
from time import perf_counter

sys.path.insert(0, str(Path(__file__).parent.parent / "tests"))

from scenes_of_deaths import Fall, books, falls


def main() -> None:
    """Print what came of so many deaths."""
    count = int(sys.argv[1]) if len(sys.argv) > 1 else 1_000
    started = perf_counter()
    told: list[Fall] = []
    for each in falls(books(), count, seed=1):
        told.append(each)
        if sys.stderr.isatty():
            print(f"\r{sum(flock.died for flock in told)} of {count}", end="", file=sys.stderr)
    died, still = sum(each.died for each in told), sum(each.still for each in told)
    print(f"{died} deaths in {perf_counter() - started:.0f} s; {still} lay still in the end")
    print(f"not finite          {sum(each.unreal for each in told)}")
    print(f"deepest in a wall   {100 * max(each.deepest for each in told):.2g} % of the body's height (allowed: 1)")
    print(f"links off at rest   {100 * max(each.stretched for each in told):.2g} % of their length (allowed: 5)")
    print(f"energy gained       {100 * max(each.gained for each in told):.2g} % of what it had (allowed: 1)")


if __name__ == "__main__":
    main()
