"""What a tick of contact costs in a crowd, as a ratio to hand-written C, and what a whole tick of a bout costs there.

    python benchmarks/crowd.py [--limit PATH/limit.c] [--ticks N]

The workload is rebuilt here draw by draw. With `--limit` the C program at that path, which describes and times the same
workload, is compiled and run in turn with ours, and the hits of both are compared.
"""

from __future__ import annotations

import argparse
import re
import resource
import subprocess
import sys
import tempfile
from math import log, sqrt
from pathlib import Path
from statistics import median
from time import perf_counter
from typing import TYPE_CHECKING

import numpy as np

import emberwound as ew
from emberwound.bout.phases import PHASES
from emberwound.bout.state.layout import Count
from emberwound.geometry.crowd import crowd_contacts
from emberwound.geometry.jit import kernel
from emberwound.geometry.layout import FoundColumn, FoundMark, ShapeColumn, ShapeKind, ShapeMark, ShotColumn, ShotMark
from emberwound.geometry.shape import bound_shape

if TYPE_CHECKING:
    from numpy.typing import NDArray

RATE = 60
SIZES = [(100, 10), (1_000, 10), (1_000, 100), (1_000, 1_000), (10_000, 100), (10_000, 1_000), (100_000, 1_000)]


@kernel
def draw(state: NDArray[np.uint64]) -> float:
    """The next number from 0 to 1."""
    state[0] = state[0] * np.uint64(6364136223846793005) + np.uint64(1442695040888963407)
    number: float = (state[0] >> np.uint64(11)) * 2.0**-53
    return number


@kernel
def generate(
    segments: NDArray[np.float64], shapes: NDArray[np.float64], marks: NDArray[np.int64], seed: int, deep: float
) -> None:
    """Fill the world of the workload: segments (8, n), shapes (11, m) and marks (4, n + m) of layers and owners.

    With `deep` 0 instead of 1 it lies in a plane.
    """
    state = np.array([seed], np.uint64)
    n, m = segments.shape[1], shapes.shape[1]
    height, length = 8.0, sqrt(170.0 * m / 8) if deep else sqrt(128.0 * m)
    for _ in range(8):
        draw(state)
    for j in range(m):
        for axis in range(3):
            shapes[axis, j] = draw(state) * (length if axis < 2 else height * deep)
        for axis in range(3):
            shapes[3 + axis, j] = 0.6 * (2 * draw(state) - 1) * (1.0 if axis < 2 else deep)
        shapes[6, j] = 0.3 + 0.7 * draw(state)
        for axis in range(3):
            shapes[7 + axis, j] = 0.05 * (2 * draw(state) - 1) * (1.0 if axis < 2 else deep)
        marks[0, j], marks[1, j] = 1 << int(8 * draw(state)), j // 2
    for i in range(n):
        for axis in range(3):
            segments[axis, i] = draw(state) * (length if axis < 2 else height * deep)
        square = 0.0
        while not 0.01 < square <= 1:
            for axis in range(3):
                segments[3 + axis, i] = (2 * draw(state) - 1) * (1.0 if axis < 2 else deep)
            square = segments[3, i] ** 2 + segments[4, i] ** 2 + segments[5, i] ** 2
        k = (5 + 195 * draw(state)) / sqrt(square)
        for axis in range(3):
            segments[3 + axis, i] *= k
        segments[6, i] = 0.05 + 0.25 * draw(state)
        one = int(256 * draw(state))
        marks[2, i] = one | int(256 * draw(state))
        marks[3, i] = int((m + 1) // 2 * draw(state))


class Crowd:
    """The workload in the arrays of the library; `side` is the one in a plane, seen from the side."""

    def __init__(self, shots: int, shapes: int, seed: int = 1, *, side: bool = False) -> None:
        raw, boxes = np.zeros((8, shots)), np.zeros((11, shapes))
        marks = np.zeros((4, max(shots, shapes)), np.int64)
        generate(raw, boxes, marks, seed, 0.0 if side else 1.0)
        long = sqrt(128.0 * shapes) if side else sqrt(170.0 * shapes / 8)
        self.limits = np.array([long, 1.0, long] if side else [long, long, 8.0])
        if side:
            raw[[1, 2, 4, 5]], boxes[[1, 2, 4, 5, 8, 9]] = raw[[2, 1, 5, 4]], boxes[[2, 1, 5, 4, 9, 8]]
        self.segments, self.segment_marks = (
            np.zeros((ShotColumn.SEGMENT_COLUMNS, shots)),
            np.zeros((ShotMark.SEGMENT_COLUMNS, shots), np.int64),
        )
        self.segments[ShotColumn.X : ShotColumn.X + 3], self.segments[ShotColumn.VX : ShotColumn.VX + 3] = (
            raw[:3],
            raw[3:6],
        )
        self.segments[ShotColumn.RADIUS] = raw[6]
        self.segment_marks[ShotMark.ID] = np.arange(1, shots + 1)
        self.segment_marks[ShotMark.OWNER] = self.segment_marks[ShotMark.TEAM] = marks[3, :shots] + 1
        self.segment_marks[ShotMark.LAYERS] = marks[2, :shots]
        self.shapes, self.shape_marks = (
            np.zeros((ShapeColumn.COLUMNS, shapes)),
            np.zeros((ShapeMark.COLUMNS, shapes), np.int64),
        )
        self.ends, self.move = np.stack([boxes[:3] - boxes[3:6], boxes[:3] + boxes[3:6]]), boxes[7:10]
        self.shapes[ShapeColumn.RADIUS] = boxes[6]
        self.shape_marks[ShapeMark.OWNER] = self.shape_marks[ShapeMark.TEAM] = marks[1, :shapes] + 1
        self.shape_marks[ShapeMark.LAYER] = marks[0, :shapes]
        self.shape_marks[ShapeMark.RANK] = np.arange(shapes)
        self.touched = np.zeros((1, shots), np.int64)
        self.walls = np.array([-np.inf] * 4 + [np.inf] * 3)
        self.found, self.found_marks = (
            np.empty((FoundColumn.COLUMNS, shots)),
            np.empty((FoundMark.COLUMNS, shots), np.int64),
        )
        self.tick = 0
        self.lay()

    def lay(self) -> None:
        """Write both poses of the shapes."""
        self.shapes[ShapeColumn.A : ShapeColumn.A + 3], self.shapes[ShapeColumn.B : ShapeColumn.B + 3] = self.ends
        self.shapes[ShapeColumn.A_END : ShapeColumn.A_END + 3] = self.ends[0] + self.move
        self.shapes[ShapeColumn.B_END : ShapeColumn.B_END + 3] = self.ends[1] + self.move
        for shape in range(self.shapes.shape[1]):
            self.shapes[ShapeColumn.KIND, shape] = ShapeKind.CAPSULE
            bound_shape(self.shapes, shape)

    def query(self) -> int:
        """One tick of contact."""
        return crowd_contacts(
            self.segments,
            self.segment_marks,
            self.shapes,
            self.shape_marks,
            self.touched,
            self.walls,
            self.found,
            self.found_marks,
            (0, self.segments.shape[1]),
            (0, 0),
            self.tick,
            RATE,
        )

    def advance(self) -> None:
        """Move the world on by a tick; what flies out comes in at the other side."""
        places = self.segments[ShotColumn.X : ShotColumn.X + 3]
        places += self.segments[ShotColumn.VX : ShotColumn.VX + 3] * (1 / RATE)
        places -= np.where(places >= self.limits[:, None], self.limits[:, None], 0)
        places += np.where(places < 0, self.limits[:, None], 0)
        self.ends += self.move
        middle = 0.5 * (self.ends[0] + self.ends[1])
        out = ((middle < 0) & (self.move < 0)) | ((middle > self.limits[:, None]) & (self.move > 0))
        self.move[out] *= -1
        self.tick += 1
        self.segments[ShotColumn.TICK] = self.tick
        self.lay()


def ours(shots: int, shapes: int, ticks: int, *, side: bool = False) -> tuple[float, int, float]:
    """Median milliseconds a tick, hits, and the sum of their times."""
    crowd, spent, hits, total = Crowd(shots, shapes, side=side), [], 0, 0.0
    for _ in range(ticks):
        start = perf_counter()
        count = crowd.query()
        spent.append((perf_counter() - start) * 1e3)
        hits += count
        total += float(crowd.found[FoundColumn.FRACTION, :count].sum())
        crowd.advance()
    return median(spent), hits, total


def theirs(program: Path, shots: int, shapes: int, ticks: int, *, side: bool = False) -> tuple[float, int, float]:
    """The same of the C program."""
    command: list[str | Path] = [program, str(shots), str(shapes), str(ticks), "1", "2" if side else "3"]
    said = subprocess.run(command, capture_output=True, text=True, check=True).stdout
    found = [re.search(pattern, said) for pattern in (r"tick ([\d.]+)", r"hits (\d+)", r"sum_t=([\d.]+)")]
    milliseconds, hits, total = (float(each[1]) if each else 0.0 for each in found)
    return milliseconds, int(hits), total


def compiled(source: Path, folder: str) -> Path:
    """The C program, compiled as its head asks."""
    program = Path(folder) / "limit"
    flags = ["-O3", "-march=native", "-ffp-contract=off", "-fno-math-errno", "-fno-trapping-math"]
    subprocess.run(["gcc", *flags, "-o", program, source, "-lm"], check=True)  # noqa: S607
    return program


def compare(source: Path | None, ticks: int) -> bool:
    """Print the table of contact alone; whether hits agree with C."""
    ours(1_000, 100, 2)
    slopes: dict[tuple[int, int], float] = {}
    agree = True
    print(f"{'shots x shapes':>21}{'ours / C':>10}{'ours, ms':>11}{'C, ms':>10}{'hits':>9}")
    with tempfile.TemporaryDirectory() as folder:
        program = compiled(source, folder) if source else None
        for shots, shapes, side in [*((*size, False) for size in SIZES), (10_000, 1_000, True)]:
            rounds = [(ours(shots, shapes, ticks, side=side),
                       theirs(program, shots, shapes, ticks, side=side) if program else None)
                      for _ in range(3)]  # fmt: skip
            mine = min(each[0] for each, _ in rounds)
            slopes.setdefault((shots, shapes), mine)
            hits, total = rounds[0][0][1:]
            line = f"{'side ' if side else '':>5}{shots:>7,} x {shapes:<6,}"
            if rounds[0][1] is None:
                print(f"{line}{'':>10}{mine:>11.4f}{'':>10}{hits:>9,}")
                continue
            other = min(each[0] for _, each in rounds if each)
            print(f"{line}{mine / other:>10.2f}{mine:>11.4f}{other:>10.4f}{hits:>9,}")
            agree &= hits == rounds[0][1][1] and abs(total - rounds[0][1][2]) < 1e-6
    slope = log(slopes[100_000, 1_000] / slopes[1_000, 1_000]) / log(100)
    print(f"\ngrowth exponent from 1,000 to 100,000 shots among 1,000 shapes: {slope:.2f}")
    if source:
        print("hits and the sum of their times agree with C" if agree else "HITS DIFFER FROM C")
    return agree


def outliers(ticks: int) -> None:
    """Print what one very fast or very large shot among thousands does."""
    base, _, _ = ours(10_000, 1_000, ticks)
    for what, row, value in (
        ("100,000 units a second", ShotColumn.VX, 1e5),
        ("a radius of 50", ShotColumn.RADIUS, 50.0),
    ):
        crowd, spent = Crowd(10_000, 1_000), []
        crowd.segments[row, 5_000] = value
        for _ in range(ticks):
            start = perf_counter()
            crowd.query()
            spent.append((perf_counter() - start) * 1e3)
        print(f"one shot of {what} among 10,000: {median(spent) / base:.2f} x the tick without it")


def memory() -> None:
    """Print the peak memory of contact among 100,000 shots, above what the compiled kernels already take."""
    ours(1_000, 100, 2)
    before = resource.getrusage(resource.RUSAGE_SELF).ru_maxrss
    crowd = Crowd(100_000, 1_000)
    crowd.query()
    after = resource.getrusage(resource.RUSAGE_SELF).ru_maxrss
    print(f"peak memory with 100,000 shots and 1,000 shapes: {(after - before) / 1024:.0f} MB above import and kernels")


FIELD = """
[settings]
max_seats = 1000
max_shots = 12000
[kinds.glass]
[fighters.caster]
speed = 1
attacks = ["spray"]
body = { radius = 0.35, height = 1.8 }
pools.health = { max = 1e9, vital = true }
hurtboxes.chest = { from = [0, 0.4], to = [0, 1.4], radius = 0.35 }
[attacks.spray]
kind = "glass"
damage = 1
rate = 0.5
shot = { radius = 0.2, speed = 15, life = 6, gravity_share = 0, muzzle = [0.6, 1], count = 15, fan_deg = 360 }
[arenas.field]
space = "top"
bounds = { low = [0, 0], high = [170, 170] }
"""


def whole_step(ticks: int) -> None:
    """Print what a whole tick of a bout costs with 1,000 fighters, half of them walking, and 10,000 shots in flight."""
    bout = ew.Bout(ew.Rulebook.parse(FIELD), arena="field", seed=1)
    rng = np.random.default_rng(1)
    for number in range(1000):
        seat = bout.enter("caster", at=tuple(rng.uniform(1, 169, 2)), facing=float(rng.uniform(0, 360)))
        if number % 2:
            turn = rng.uniform(0, 2 * np.pi)
            seat.order(move=(0.99 * np.cos(turn), 0.99 * np.sin(turn)))
    waiting = list(bout.seats)
    spent, wounds, live, phases = [], [], [], dict.fromkeys((phase.__name__ for phase in PHASES), 0.0)
    for tick in range(480 + ticks):
        for _ in range(9 if tick < 120 else 0):
            if waiting:
                waiting.pop().order(hold="spray")
        start = perf_counter()
        found = bout.step()
        if tick >= 480:
            spent.append((perf_counter() - start) * 1e3)
            wounds.append(sum(isinstance(event, ew.events.Wounded) for event in found))
            live.append(bout._world.counts[Count.SHOTS_FLYING])
    for _ in range(ticks):
        for phase in PHASES:
            start = perf_counter()
            phase(bout._world)
            phases[phase.__name__] += (perf_counter() - start) * 1e3 / ticks
        bout._world.events.clear()
    print(f"\na whole tick with 1,000 fighters, {median(live):,.0f} shots, {median(wounds):.0f} wounds: "
          f"{median(spent):.2f} ms at the median")  # fmt: skip
    print("of it, in ms: " + ", ".join(f"{name} {cost:.2f}" for name, cost in phases.items()))


def main() -> int:
    """Print the tables; exit code 1 when the hits differ from those of the C program."""
    ew.prepare()
    parser = argparse.ArgumentParser(description="contact in a crowd")
    parser.add_argument("--limit", type=Path, help="the C program to compare with")
    parser.add_argument("--ticks", type=int, default=30)
    arguments = parser.parse_args()
    memory()
    agree = compare(arguments.limit, arguments.ticks)
    outliers(arguments.ticks)
    whole_step(arguments.ticks * 4)
    return 0 if agree else 1


if __name__ == "__main__":
    sys.exit(main())
