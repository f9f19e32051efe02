"""The bars at 30 and at 144 frames a second, and an aim that glides to a new target."""

import emberwound as ew

rules = ew.Rulebook.load("book.toml")
for frames in (30, 144):
    bout = ew.Bout.scripted(rules, "gongs")
    for _ in range(frames * 5 // 3):
        bout.advance(1 / frames)
    print(f"after 5/3 s at {frames} frames a second:")
    for bar in bout.view(smooth=True).bars:
        if bar.seat == "gong":
            print(f"  {bar.bar}: true {bar.share:.3f}, shown {bar.shown:.3f}, trail {bar.trail:.3f}")

aim = ew.Follower((1.0, 0.0), half_life=0.1)
aim.follow((1.0, 1.0), time=0.0)
for time in (0.0, 0.1, 0.2, 0.5):
    across, up = aim.at(time)
    print(f"the aim {time:.1f} s later: ({across:.3f}, {up:.3f})")
