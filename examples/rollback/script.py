"""Keep the last eight snapshots; when an input comes late, go back, give it, and run again."""

from collections import deque

import emberwound as ew

rules = ew.Rulebook.load("book.toml")
LATE = 8


def opened() -> ew.Bout:
    """A bout with both signallers in it."""
    bout = ew.Bout(rules, arena="lights", seed=2)
    bout.enter("signaller", seat="near", at=(-4, 0), facing="right")
    bout.enter("signaller", seat="far", at=(4, 0), facing="left")
    return bout


# What really happened: near throws in tick 30, far steps back in tick 40.
truth = opened()
for tick in range(90):
    if tick == 30:
        truth.seat("near").order(aim=(1, 0), press="spark")
    if tick == 40:
        truth.seat("far").order(move=1)
    truth.step()

# The same, but the order of tick 40 arrives eight ticks late.
bout = opened()
recorder = ew.Recorder(bout)
saved: deque[ew.Snapshot] = deque(maxlen=LATE)
for tick in range(90):
    if tick == 30:
        bout.seat("near").order(aim=(1, 0), press="spark")
    if tick == 40 + LATE:
        wrong = bout.seat("far").position or ()
        bout.restore(saved[0])
        bout.seat("far").order(move=1)
        for _ in range(LATE):
            bout.step()
        right = bout.seat("far").position or ()
        print(
            f"tick {tick}: back to tick {tick - LATE} and here again; far stands at {right[0]:.3f}, not {wrong[0]:.3f}"
        )
    saved.append(bout.snapshot())
    bout.step()

print(f"the same as if it had come in time: {bout.digest() == truth.digest()}")
recorder.chronicle().save("late.jsonl")
