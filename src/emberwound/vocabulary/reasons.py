"""Why something ended or did not happen: one closed list, each with its sentence."""

from __future__ import annotations

from enum import Enum
from typing import Self


class Reason(Enum):
    """A stated reason. The value goes into files; `sentence` takes figures and is read by people."""

    sentence: str

    HIT = "hit", "hit {victim}'s {hurtbox}"
    WALL = "wall", "hit the wall {wall} at {place}"
    RANGE_OVER = "range_over", "reached its range at {place}"
    FLOOR = "floor", "came down on the floor at {place}"
    OUT_OF_BOUNDS = "out_of_bounds", "left the arena at {place}"
    LIFE_OVER = "life_over", "expired at {place}: lifetime over"
    MUZZLE_IN_FLOOR = "muzzle_in_floor", "spawned inside the floor at {place}"
    MUZZLE_IN_WALL = "muzzle_in_wall", "spawned inside the wall {wall} at {place}"
    MUZZLE_OUT_OF_BOUNDS = "muzzle_out_of_bounds", "spawned outside the arena at {place}"

    DESTROYED = "destroyed", "was destroyed at {place}"

    ATTACKING = "attacking", "still busy with an attack for {wait}"
    FROZEN = "frozen", "in hit stop for {wait}"
    REACTING = "reacting", "still reacting to a hit for {wait}"
    COOLDOWN = "cooldown", "cooling down for {wait} more"
    MOVING = "moving", "not while moving"
    AIRBORNE = "airborne", "not while in the air"
    GUARDING = "guarding", "not while guarding"
    COST = "cost", "needs {needs} {pool}, has {has}"
    DEAD = "dead", "dead; respawns in {wait}"
    OUT_OF_LIVES = "out_of_lives", "dead, with no life left"
    OTHER_STAGE = "other_stage", "this attack is not available in its current stage"
    HELD = "held", "held by another for {wait} more"
    HOLDS_NOBODY = "holds_nobody", "nobody is held that could be thrown"
    REPLACED = "replaced", "a press of another attack took its place"
    OTHER_FIGHTER = "other_fighter", "its new fighter has no such attack"
    HELD_BEHIND = "held_behind", "of several held attacks the first goes alone, for as long as it is held"
    SHOTS_FULL = "shots_full", "no room for one more shot: settings.max_shots are flying"

    FOLLOWED = "followed", "another attack followed"
    GRABBED = "grabbed", "it was grabbed"
    PARRIED = "parried", "it was parried"
    WOUNDED = "wounded", "its owner took damage"

    TARGET_DEAD = "target_dead", "the target is dead"
    OTHER_LAYER = "other_layer", "it does not hit that layer"
    OWN_BODY = "own_body", "it does not hit its owner"
    ALLY = "ally", "it does not hit allies"
    PROTECTED = "protected", "the target is protected"
    TOUCHED_BEFORE = "touched_before", "it hits each victim once"

    ALREADY_BOUND = "already_bound", "one of them holds, or is held, already"
    THROWN = "thrown", "it was thrown"
    KNOCKED_BACK = "knocked_back", "one of them was knocked back"
    PLACED = "placed", "its host placed it elsewhere"

    TIME_OVER = "time_over", "its time was over"
    CURED = "cured", "it was cured"
    VICTIM_DIED = "victim_died", "its victim died"

    CORPSE_TIME_OVER = "corpse_time_over", "its time on the ground was over"
    REVIVED = "revived", "it was revived"
    NEWER_CORPSE = "newer_corpse", "the seat's next body fell"
    OWNER_DIED = "owner_died", "its owner died"
    OWNER_LEFT = "owner_left", "its owner left"
    ENDED_BY_HOST = "ended_by_host", "ended by its host at {place}"
    RESTARTED = "restarted", "the bout restarted"

    CUE_FULL = "cue_full", "limit of simultaneous cues reached"
    CUE_TOO_SOON = "cue_too_soon", "too soon after the last"

    def __new__(cls, value: str, sentence: str) -> Self:
        """Make a member whose value is the first part and whose sentence is the second."""
        member = object.__new__(cls)
        member._value_ = value
        member.sentence = sentence
        return member

    def say(self, **figures: object) -> str:
        """The sentence with its figures filled in."""
        return self.sentence.format(**figures)
