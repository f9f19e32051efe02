"""Where the scarecrow's points are: as it dies, before the keg, and after it."""

import emberwound as ew

rules = ew.Rulebook.load("book.toml")
bout = ew.Bout.scripted(rules, "straw")
while bout.time < 3.5:
    for event in bout.step():
        if isinstance(event, ew.events.Died | ew.events.Exploded | ew.events.BodyRemoved):
            print(f"{event.time:.3f} s {type(event).__name__}")
    corpse = bout.seat("scarecrow").corpse
    if corpse is not None and corpse.ragdoll is not None and bout.tick % 30 == 0:
        points = ", ".join(f"{name} ({x:.2f}, {z:.2f})" for name, (x, z) in corpse.ragdoll.points.items())
        print(f"{bout.time:.2f} s {points}{', still' if corpse.ragdoll.still else ''}")
