"""What an inquest answers: causes by name, the first true one first, and the change that would have been enough."""

from __future__ import annotations

import msgspec

CAUSES: dict[str, str] = {
    "hit": "it hit and took points",
    "killed": "the seat died",
    "happened": "what was asked for did happen",
    "carried-out": "it was done, and touches nobody by itself",
    "no-damage": "it hit, and its attack has no damage or healing",
    "no-push": "it hit, and its attack has no knockback",
    "refused": "the order was refused, for the reason named",
    "held-behind": "another held attack goes first for as long as it is held",
    "out-of-reach": "it touched no hurtbox; the answer says how near it came",
    "passed-over": "it touched a hurtbox and left it alone: because of its layer, an ally, its owner, the dead, "
    "protection, a touch before, a window or a posture in which the hurtbox was off, or a wall between",
    "guarded": "a guard took all of it",
    "immune": "its victim takes no damage of that kind",
    "zero": "the points, or the knockback, came to 0 on the way",
    "absorbed": "the pool named took all of it before the vital one",
    "healed": "it was healed again",
    "still-alive": "what hit it was not enough",
    "ended": "the shot was over before: its life, its range, the bounds, a wall, the floor, or no room among the shots",
    "too-late": "it comes later than the record goes, or later than anybody waits",
    "wrong-order": "a checkpoint further on was reached before",
    "taken": "another took it before",
    "full": "it would have given nothing",
    "below-threshold": "it asks for more than there was",
    "filtered": "it asks for something else than what happened",
    "never-happened": "nothing of the sort happened",
    "out-of-lives": "no life is left",
    "no-free-spot": "there was no free place to stand",
    "interrupted": "its attack was broken off before",
    "blocked": "a wall, the bounds or a lock kept the body from moving",
    "switched-off": "the hazard was not on, or not ready to wound again",
    "never-ordered": "nobody was ordered to",
    "never-entered": "the seat was not there",
}
"""The closed list of causes; what stands behind a colon in an answer says which layer, pool, reason or end."""


class Cause(msgspec.Struct, frozen=True, kw_only=True):
    """Why something did not happen: a name of the closed list, a sentence with figures, and when."""

    name: str
    """The cause, such as `out-of-reach` or `passed-over:ally`."""
    told: str
    """The sentence."""
    brief: str | None = None
    """The same in a line of the story, which says already what it is about, and when."""
    time: float | None = None
    """When, in seconds of the bout."""
    tick: int | None = None
    """In which tick."""
    seat: str | None = None
    """The seat that it is about."""
    hurtbox: str | None = None
    """The hurtbox that it is about."""
    gap: float | None = None
    """How far it was from touching, where that is the cause."""
    place: tuple[float, ...] | None = None
    """Where it then was."""
    set_by: tuple[str, ...] = ()
    """The lines of the book that decided it, each `key = value`, the most telling first."""


class Trial(msgspec.Struct, frozen=True, kw_only=True):
    """A change with which the bout was run again, the smallest that was enough, and what then happened."""

    change: str
    """What was changed."""
    then: str
    """What then happened, as it was seen."""
    runs: int
    """How often the bout was run again to find it."""


class Attempt(msgspec.Struct, frozen=True, kw_only=True):
    """One attack of a seat on another, and what became of it."""

    time: float
    """When it began, or was refused, in seconds of the bout."""
    tick: int
    """In which tick."""
    attack: str
    """Which attack."""
    shot: int
    """Number of its shot or ray; 0 for a strike, and for what was refused."""
    cause: Cause
    """What became of it."""


class Answer(msgspec.Struct, frozen=True, kw_only=True):
    """The answer to one question: its causes, the first true one first, and what would have been enough.

    As text it is the first cause, what set it, the trial, and what else there is, a line each.
    """

    question: str
    """What was asked."""
    causes: tuple[Cause, ...]
    """Why, the first true cause first."""
    trial: Trial | None = None
    """The smallest change that was enough; none if there was none to try, or nothing tried was."""
    attempts: tuple[Attempt, ...] = ()
    """Every attempt of one seat on another, where that was asked."""
    lines: tuple[str, ...] = ()
    """What else belongs to it, a sentence each, such as the wounds before a death."""

    @property
    def cause(self) -> Cause:
        """The first true cause."""
        return self.causes[0]

    def __str__(self) -> str:
        told = [self.cause.told, *([f"set by {', '.join(self.cause.set_by)}"] if self.cause.set_by else [])]
        told += [f"{self.trial.change}: {self.trial.then}"] if self.trial else []
        rows = [f"{each.time:.3f} s {each.attack}: {each.cause.told}" for each in self.attempts]
        return "\n".join([*told, *(each.told for each in self.causes[1:]), *rows, *self.lines])
