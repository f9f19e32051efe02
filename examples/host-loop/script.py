"""A game that moves its runner by its own rules, at frames of 7 to 40 ms, with one long hitch."""

import math
import random

import emberwound as ew

rules = ew.Rulebook.load("book.toml")
bout = ew.Bout(rules, arena="gap", seed=1)
pipe = bout.enter("blowpipe", seat="pipe", at=(0, 0), facing="right")
runner = bout.enter("runner", seat="runner", at=(12, 0), facing="left")
recorder = ew.Recorder(bout)
pipe.order(aim=(1, 0), hold="dart")

frames = random.Random(4)
time, hops = 0.0, 0
while time < 2.5:
    frame = 0.4 if hops == 60 else frames.uniform(0.007, 0.04)  # once the game is busy elsewhere
    hops += 1
    time += frame
    x = 12 - 4 * time  # the game's own movement: it runs, and hops
    z = max(0.0, 0.8 * math.sin(3 * time))
    if runner.alive:
        runner.place((x, z), velocity=(-4, 0))
    for event in bout.advance(frame, at_most=0.25):
        if isinstance(event, ew.events.Wounded):
            print(f"frame {hops}: {event.attack} hits at {event.time:.3f} s, {event.vital_left:g} left")
    if bout.dropped_seconds:
        print(f"frame {hops}: {bout.dropped_seconds:.3f} s were left out")
view = bout.view(smooth=True)
print(f"{hops} frames, {bout.tick} ticks; to be drawn: {len(view.shots)} darts, {len(view.bodies)} bodies")
recorder.chronicle().save("dash.jsonl")
