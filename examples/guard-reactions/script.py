"""Run the same jabs against a flinch of 0.2 s and of 0.45 s."""

import emberwound as ew

rules = ew.Rulebook.load("book.toml")
for seconds in (0.2, 0.45):
    reactions = rules.canonical()["fighters"]["warden"]["reactions"]
    reactions[0]["seconds"] = seconds
    changed = rules.edit({"fighters.warden.reactions": reactions})
    chronicle = ew.run(changed, "jabs")
    print(f"a flinch of {seconds} s:")
    for event in chronicle.events:
        if isinstance(event, ew.events.Guarded):
            print(f"  {event.time:.3f} s guarded: {event.share:.0%} passes")
        elif isinstance(event, ew.events.Wounded):
            print(f"  {event.time:.3f} s {event.amount:g} health lost, {event.vital_left:g} left")
        elif isinstance(event, ew.events.ReactionEnded):
            print(f"  {event.time:.3f} s {event.reaction} over, guard {'up' if event.guarding else 'down'}")
    after = changed.advantage("jab", "warden").after_guard
    assert after is not None  # a jab meets who stands in front
    print(f"  who acts first after a guarded jab: {after.advantage} ticks")
