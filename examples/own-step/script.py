"""Register a step, read it in ledgers, and run a bout with it."""

import emberwound as ew


def rain(points: float, hit: ew.records.WoundContext) -> float:
    """Half of what an ember does beyond 3 m; nothing else is wet."""
    return points / 2 if hit.kind == "ember" and hit.distance > 3 else points


rules = ew.Rulebook.load("book.toml", steps={"rain": (rain, "1.0")})
print(rules.wound("ember", "stoker", hurtbox="head", distance=2))
print(rules.wound("ember", "stoker", hurtbox="head", distance=6))

bout = ew.Bout(rules, arena="porch", seed=1)
here = bout.enter("stoker", seat="here", at="door")
there = bout.enter("stoker", seat="there", at="step")
recorder = ew.Recorder(bout)
here.order(aim=(1, 0), press="ember")
for event in bout.advance(1):
    if isinstance(event, ew.events.Wounded):
        print(f"{event.time:.3f} s: {event.amount:g} of {event.vital_max:g}")
        print(*(f"{step.rule} {step.before:g} -> {step.after:g}" for step in event.ledger.steps), sep=", ")
ew.draw.write_figure(ew.draw.draw_story(recorder.chronicle()), "rain.png")
