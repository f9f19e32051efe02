"""Which of the hits are heard, when each sound runs, and why the others are silent."""

from matplotlib.figure import Figure

import emberwound as ew

rules = ew.Rulebook.load("book.toml")
chronicle = ew.run(rules, "drumming")
hits = [event.time for event in chronicle.events if isinstance(event, ew.events.Wounded)]
cues = [event for event in chronicle.events if isinstance(event, ew.events.Cue)]
silent = [event for event in chronicle.events if isinstance(event, ew.events.CueSkipped)]
for cue in cues:
    print(f"{cue.cue:6} {cue.medium:5} from {cue.starts:.3f} to {cue.ends:.3f} s, {cue.pitch:.0f} Hz")
for skipped in silent:
    print(f"{skipped.cue:6} silent at {skipped.time:.3f} s: {skipped.reason.sentence}")

figure = Figure(figsize=(12.8, 8), layout="constrained")
axes = figure.subplots()
axes.set_title(f"{len(hits)} hits, {len(cues) - 1} of them heard: no two booms within 0.25 s, no three at once")
axes.vlines(hits, 0, 3, color="grey", linestyle=":", label="a hit")
free = [0.0, 0.0]  # when each lane of booms is free again
for cue in cues:
    lane = 2 if cue.cue == "rattle" else int(cue.starts < free[0])
    if lane < 2:
        free[lane] = cue.ends
    hatch = "///" if lane == 2 else ""
    axes.broken_barh(
        [(cue.starts, cue.ends - cue.starts)], (lane + 0.1, 0.8), hatch=hatch, alpha=0.6, edgecolor="black"
    )
    axes.text(cue.starts + 0.01, lane + 0.95, f"{cue.starts:.2f} s")
axes.set(xlabel="time (s)", yticks=[0.5, 1.5, 2.5], yticklabels=["boom", "boom", "rattle (shake)"])
axes.legend(loc="upper right")
ew.draw.write_figure(figure, "sounds.png")
