"""A listener that is asked for once and hears of both lives; and why a shot took nothing."""

import emberwound as ew

rules = ew.Rulebook.load("book.toml")
bout = ew.Bout.scripted(rules, "crossing")
recorder = ew.Recorder(bout)


@bout.on(ew.events.Respawned, seat="tern")
def back(event: ew.events.Respawned) -> None:
    """Tell where it respawned."""
    print(f"{event.time:.3f} s life {event.life} begins at {event.position}, by {event.checkpoint}")


@bout.on(ew.events.Wounded, seat="tern")
def hurt(event: ew.events.Wounded) -> None:
    """Tell what it lost."""
    print(f"{event.time:.3f} s {event.attack} takes {event.amount:g}, {event.vital_left:g} left")


@bout.on(ew.events.Died, seat="tern")
def fell(event: ew.events.Died) -> None:
    """Tell when it comes back."""
    print(f"{event.time:.3f} s dead by the {event.attack}, {event.lives_left} life left")


class Doubts:
    """Hears of what touched somebody and left it alone."""

    def passed_over(self, _bout: ew.Bout, found: ew.PassedOver) -> None:
        """Tell why, of shots at tern."""
        if found.seat == "tern" and found.shot:
            print(f"{found.time:.3f} s {found.attack} {found.shot} took nothing: {found.reason.sentence}")


bout.watch(Doubts())
bout.advance(6)
recorder.chronicle().save("crossing.jsonl")
