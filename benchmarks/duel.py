"""What a tick of the demo's duel costs, quiet and eventful apart, against a plain per-object Python loop.

    python benchmarks/duel.py [REPEATS]

Both run the same bout in the same process, turn by turn, and must tell the same events. Then the demo's bouts are run
by `advance`, which takes many quiet ticks in one call, and their quiet ticks are timed apart.
"""

from __future__ import annotations

import sys
from importlib.resources import files
from statistics import median
from time import perf_counter_ns
from typing import TYPE_CHECKING

import emberwound as ew
from emberwound import events
from emberwound.bout.phases import PHASES
from emberwound.bout.phases.hits_and_after import judgement
from emberwound.bout.phases.quiet import may_be_quiet
from emberwound.bout.state.layout import Count
from plain_duel import Happening, PlainDuel

if TYPE_CHECKING:
    from collections.abc import Callable

BOUT = "crossing"
UNKNOWN_TO_THE_PLAIN = ("reactions", "stagger_resistance", "ragdoll")
"""What the plain loop knows nothing of, and is taken out of the book for both."""

WORDS: dict[type[events.Event], str] = {
    events.AttackBegan: "began",
    events.Released: "released",
    events.OrderRefused: "refused",
    events.ShotEnded: "ended",
    events.Wounded: "wounded",
    events.Died: "died",
    events.Respawned: "respawned",
    events.BodyRemoved: "removed",
}
BESIDE = (events.SeatEntered, events.LifeLost, events.Eliminated, events.Scored)
"""What follows from the events that both tell."""


def told(event: events.Event) -> Happening:
    """An event in the baseline's words."""
    figure = 0.0
    if isinstance(event, events.ShotEnded):
        figure = event.time
    elif isinstance(event, events.Wounded):
        figure = event.amount
    elif isinstance(event, events.Died):
        figure = float(event.lives_left or 0)
    who = event.by if isinstance(event, events.Released | events.ShotEnded) else event.seat
    return (event.tick, WORDS[type(event)], who or "", figure)


def same(ours: list[Happening], plain: list[Happening]) -> bool:
    """Whether both tell the same, figures within a millionth."""
    pairs = zip(sorted(ours), sorted(plain), strict=False)
    return len(ours) == len(plain) and all(a[:3] == b[:3] and abs(a[3] - b[3]) < 1e-6 for a, b in pairs)


def timed(
    step: Callable[[], object], happened: Callable[[], int], flying: Callable[[], bool], ticks: int
) -> dict[str, list[int]]:
    """Nanoseconds of each tick, by what kind of tick it was."""
    found: dict[str, list[int]] = {"quiet, nothing flies": [], "quiet, a shot flies": [], "eventful": []}
    before = happened()
    for _ in range(ticks):
        in_air = flying()
        start = perf_counter_ns()
        step()
        spent = perf_counter_ns() - start
        after = happened()
        kind = "eventful" if after != before else "quiet, a shot flies" if in_air else "quiet, nothing flies"
        found[kind].append(spent)
        before = after
    return found


def judgement_cost(rules: ew.Rulebook, repeats: int) -> tuple[float, float]:
    """Median microseconds of judging a tick in which a shot wounds somebody, and of one wound asked of the rules."""
    spent, asked = [], []
    for _ in range(repeats):
        bout = ew.Bout.scripted(rules, BOUT)
        world = bout._world
        for _ in range(bout.script_ticks or 0):
            for phase in PHASES:
                before = len(world.events)
                start = perf_counter_ns()
                phase(world)
                cost = perf_counter_ns() - start
                if phase is judgement and any(isinstance(event, events.Wounded) for event in world.events[before:]):
                    spent.append(cost)
            world.events, world.inputs = [], []
    for _ in range(100 * repeats):
        start = perf_counter_ns()
        rules.wound("flare", "wader", hurtbox="head")
        asked.append(perf_counter_ns() - start)
    return median(spent) / 1000, median(asked) / 1000


def at_once(rules: ew.Rulebook, name: str, repeats: int) -> tuple[float, float]:
    """Median microseconds a tick of a whole bout that is advanced, and of its runs of quiet ticks alone."""
    whole, quiet = [], []
    for _ in range(repeats):
        bout = ew.Bout.scripted(rules, name)
        ticks = bout.script_ticks or 0
        start = perf_counter_ns()
        bout.advance(ticks / bout.tick_rate)
        whole.append((perf_counter_ns() - start) / ticks)
        bout, spent, run = ew.Bout.scripted(rules, name), 0, 0
        counts = bout._world.counts
        while bout.tick < ticks:
            before, due = bout.tick, min(counts[Count.NEXT_DUE], ticks) - bout.tick
            if due < 10 or not may_be_quiet(bout._world):
                bout.step()
                continue
            start = perf_counter_ns()
            told = bout.advance(due / bout.tick_rate)
            cost = perf_counter_ns() - start
            if not told:
                spent, run = spent + cost, run + bout.tick - before
        quiet.append(spent / max(run, 1))
    return median(whole) / 1000, median(quiet) / 1000


def main() -> int:
    """Print the table; exit code 1 when the two disagree."""
    ew.prepare()
    repeats = int(sys.argv[1]) if len(sys.argv) > 1 else 20
    rules = ew.Rulebook.parse(files("emberwound.demo").joinpath("saltglass.toml").read_text(encoding="utf-8"))
    rules = rules.edit({f"fighters.{each}.{key}": None for each in rules.book.fighters for key in UNKNOWN_TO_THE_PLAIN})
    rules = rules.edit({f"cues.{name}": None for name in rules.book.cues})
    ew.run(rules, BOUT)
    costs: dict[str, dict[str, list[int]]] = {"emberwound": {}, "plain objects": {}}
    for _ in range(repeats):
        bout = ew.Bout.scripted(rules, BOUT)
        ours: list[events.AnyEvent] = []
        ticks = bout.script_ticks or 0
        counts = bout._world.counts

        def step(bout: ew.Bout = bout, ours: list[events.AnyEvent] = ours) -> None:
            ours += bout.step()

        mine = timed(step, ours.__len__, lambda counts=counts: counts[Count.SHOTS_FLYING] > 0, ticks)  # type: ignore[misc]
        duel = PlainDuel(rules, BOUT)
        theirs = timed(duel.step, duel.told.__len__, lambda duel=duel: bool(duel.shots), ticks)  # type: ignore[misc]
        for name, found in (("emberwound", mine), ("plain objects", theirs)):
            for kind, spent in found.items():
                costs[name].setdefault(kind, []).extend(spent)
        if not same([told(event) for event in ours if not isinstance(event, BESIDE)], duel.told):
            print("the two do not tell the same events")
            return 1
    print(f"{BOUT}: {ticks} ticks, {repeats} times, medians; both tell the same {len(duel.told)} events\n")
    print(f"{'kind of tick':24}{'ticks':>7}{'plain / ours':>14}{'ours, µs':>10}{'plain, µs':>11}")
    for kind, spent in costs["emberwound"].items():
        a, b = median(spent) / 1000, median(costs["plain objects"][kind]) / 1000
        print(f"{kind:24}{len(spent) // repeats:>7}{b / a:>14.2f}{a:>10.2f}{b:>11.2f}")
    a, b = (sum(sum(each) for each in costs[name].values()) for name in costs)
    per_second = repeats * ticks / a * 1e9
    print(f"{'all':24}{ticks:>7}{b / a:>14.2f}{a / repeats / ticks / 1000:>10.2f}{b / repeats / ticks / 1000:>11.2f}")
    print(f"\n{per_second:,.0f} ticks a second: {per_second / 60:,.0f} times real time at 60")
    whole, quiet = at_once(rules, BOUT, repeats)
    print(f"advanced at once: {whole:.2f} µs a tick, {1e6 / whole:,.0f} a second; runs of quiet ticks {quiet:.2f}")
    demo = ew.Rulebook.parse(files("emberwound.demo").joinpath("saltglass.toml").read_text(encoding="utf-8"))
    for name in (BOUT, "passage"):
        whole, quiet = at_once(demo, name, max(repeats // 4, 1))
        print(f"{name} with all its rules, advanced: {whole:.2f} µs a tick; in runs of quiet ticks {quiet:.2f}")
    judged, asked = judgement_cost(rules, repeats)
    print(f"judgement of a tick with a wound: {judged:.1f} µs; rules.wound: {asked:.1f} µs, at the median")
    return 0


if __name__ == "__main__":
    sys.exit(main())
