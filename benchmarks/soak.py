"""A shooter who never stops, for a million ticks, and a million shots in volleys: does memory grow, does the block?

python benchmarks/soak.py [TICKS] [SHOTS]
"""

from __future__ import annotations

import sys
from pathlib import Path
from time import perf_counter

import emberwound as ew
from emberwound.vocabulary.events import Died, OrderRefused, Released

BOOK = """
[kinds.ember]
[fighters.thrower]
attacks = ["dart", "volley"]
body = { radius = 0.3, height = 1.8 }
pools.health = { max = 90, vital = true }
hurtboxes.chest = { from = [0.0, 0.4], to = [0.0, 1.4], radius = 0.3 }
[attacks.dart]
kind = "ember"
damage = 20
cooldown = 0.1
shot = { radius = 0.1, speed = 20, muzzle = [0.5, 1.0] }
[attacks.volley]
kind = "ember"
shot = { radius = 0.1, speed = 20, life = 0.3, muzzle = [0.5, 1.0], count = 64, fan_deg = 90 }
[arenas.range]
floor = 0
bounds = { low = [-50, -1], high = [50, 50] }
"""


def resident_kilobytes() -> int:
    """Memory of this process that is in use now."""
    status = Path("/proc/self/status").read_text(encoding="ascii")
    return int(next(line for line in status.splitlines() if line.startswith("VmRSS")).split()[1])


def main() -> None:
    """Print a line for each tenth of the run."""
    ew.prepare()
    ticks = int(sys.argv[1]) if len(sys.argv) > 1 else 1_000_000
    bout = ew.Bout(ew.Rulebook.parse(BOOK), arena="range")
    amber = bout.enter("thrower", seat="amber", at=(0, 0))
    bout.enter("thrower", seat="post", at=(8, 0), lives=100_000)
    fired = deaths = 0
    start = perf_counter()
    print(f"{'ticks':>10}{'shots':>9}{'deaths':>8}{'block, bytes':>14}{'process, kB':>13}{'s':>7}")
    for tick in range(ticks):
        if tick % 6 == 0:
            amber.order(press="dart", aim=(1, 0.05 * (tick % 7)))
        for event in bout.step():
            fired += isinstance(event, Released)
            deaths += isinstance(event, Died)
        if (tick + 1) % (ticks // 10) == 0:
            size, kilobytes, spent = bout._world.block.memory.nbytes, resident_kilobytes(), perf_counter() - start
            print(f"{tick + 1:>10,}{fired:>9,}{deaths:>8,}{size:>14,}{kilobytes:>13,}{spent:>7.1f}")
    shots = int(sys.argv[2]) if len(sys.argv) > 2 else 1_000_000
    volleys(shots)


def volleys(shots: int) -> None:
    """Print what the arrays measure before and after so many shots."""
    bout = ew.Bout(ew.Rulebook.parse(BOOK), arena="range")
    amber = bout.enter("thrower", seat="amber", at=(0, 0))
    block = bout._world.block
    before = (block.shots.shape, block.memory.nbytes)
    fired = refused = 0
    while fired < shots:
        amber.order(press="volley")
        for event in bout.step():
            fired += isinstance(event, Released)
            refused += isinstance(event, OrderRefused)
    after = (block.shots.shape, block.memory.nbytes)
    print(f"\n{fired:,} shots in volleys of 64, {refused:,} more refused for want of room: "
          f"shots {before[0]} -> {after[0]}, block {before[1]:,} -> {after[1]:,} bytes")  # fmt: skip


if __name__ == "__main__":
    main()
