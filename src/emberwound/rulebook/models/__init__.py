"""The tables of a rulebook as validated, frozen models. Nothing unknown is accepted."""

from pydantic import Field

from emberwound.rulebook.fields import Name
from emberwound.rulebook.models.arenas import (
    Area,
    Arena,
    Bounds,
    Checkpoint,
    Entry,
    Hazard,
    Path,
    Pickup,
    PropEntry,
    Schedule,
    Wall,
)
from emberwound.rulebook.models.attacks import (
    Affliction,
    Attack,
    Bounce,
    ChargeUp,
    Falloff,
    FollowUp,
    Grab,
    Hitbox,
    Homing,
    Launch,
    Lunge,
    Muzzle,
    PoseKey,
    Ray,
    Shot,
    Strike,
    Swing,
    Window,
)
from emberwound.rulebook.models.bouts import BoutTable, SeatEntry, TimedOrder
from emberwound.rulebook.models.fighters import (
    Body,
    Fighter,
    FighterStage,
    Guard,
    Hurtbox,
    Physique,
    Pool,
    Posture,
    Prop,
    Ragdoll,
    Reaction,
    StaggerResistance,
)
from emberwound.rulebook.models.settings import Bar, Combo, Counter, Cue, Kind, Settings, Shade, Trail
from emberwound.rulebook.models.tables import Blast, HitOptions, HitOverrides, OwnedHitOptions, PartShape, Push, Table

__all__ = [
    "Affliction",
    "Area",
    "Arena",
    "Attack",
    "Bar",
    "Blast",
    "Body",
    "Book",
    "Bounce",
    "Bounds",
    "BoutTable",
    "ChargeUp",
    "Checkpoint",
    "Combo",
    "Counter",
    "Cue",
    "Entry",
    "Falloff",
    "Fighter",
    "FighterStage",
    "FollowUp",
    "Grab",
    "Guard",
    "Hazard",
    "HitOptions",
    "HitOverrides",
    "Hitbox",
    "Homing",
    "Hurtbox",
    "Kind",
    "Launch",
    "Lunge",
    "Muzzle",
    "OwnedHitOptions",
    "PartShape",
    "Path",
    "Physique",
    "Pickup",
    "Pool",
    "PoseKey",
    "Posture",
    "Prop",
    "PropEntry",
    "Push",
    "Ragdoll",
    "Ray",
    "Reaction",
    "Schedule",
    "SeatEntry",
    "Settings",
    "Shade",
    "Shot",
    "StaggerResistance",
    "Strike",
    "Swing",
    "Table",
    "TimedOrder",
    "Trail",
    "Wall",
    "Window",
]


class Book(Table):
    """A whole rulebook."""

    settings: Settings = Field(default_factory=Settings)
    """What holds for the whole book."""
    kinds: dict[Name, Kind] = Field(default_factory=dict)
    """Kinds of wounds."""
    fighters: dict[Name, Fighter] = Field(default_factory=dict)
    """Bodies that can fight."""
    props: dict[Name, Prop] = Field(default_factory=dict)
    """Bodies without health."""
    counters: dict[Name, Counter] = Field(default_factory=dict)
    """What is counted for each seat."""
    cues: dict[Name, Cue] = Field(default_factory=dict)
    """Sounds, flashes and shakes that events trigger."""
    bars: dict[Name, Bar] = Field(default_factory=dict)
    """How pools are shown."""
    afflictions: dict[Name, Affliction] = Field(default_factory=dict)
    """Wounds that linger."""
    blasts: dict[Name, Blast] = Field(default_factory=dict)
    """What hurts all within a radius."""
    attacks: dict[Name, Attack] = Field(default_factory=dict)
    """What fighters can do."""
    arenas: dict[Name, Arena] = Field(default_factory=dict)
    """Places that bouts are held in."""
    bouts: dict[Name, BoutTable] = Field(default_factory=dict)
    """Scripted bouts."""

    @property
    def bodies(self) -> dict[str, Fighter]:
        """All that can stand in an arena: the fighters, and the props as fighters that have and can nothing."""
        props = {
            name: Fighter.model_construct(**{key: getattr(prop, key) for key in Physique.model_fields}, pools={})
            for name, prop in self.props.items()
        }
        return {**self.fighters, **props}
