"""Rulebooks: what is read, and what each mistake is told."""

from __future__ import annotations

import copy
from fractions import Fraction
from typing import TYPE_CHECKING

import msgspec
import pytest
from hypothesis import given
from hypothesis import strategies as st

import emberwound as ew
from conftest import range_text
from emberwound.vocabulary.clock import Duration, ticks_in

if TYPE_CHECKING:
    from pathlib import Path

BOUT = """
[bouts.drill]
arena = "range"
seconds = 5
seats.amber = { fighter = "thrower", at = "line" }
[[bouts.drill.orders]]
time = 1
seat = "amber"
press = "dart"
"""

NUMBER = "allowed: a finite number between -1e9 and 1e9"
POSITIVE = "allowed: a finite number from 1e-6 to 1e9"
FROM_0 = "allowed: a finite number from 0 to 1e9"
SECONDS = 'allowed: seconds (0.2), a fraction of a second ("1/30") or frames ("12f"), '

REHIT = 'allowed: "leave", or seconds (0.2), a fraction of a second ("1/30") or frames ("12f"), from 0.001 to a million'

LOB = "shot = { radius = 0.1, speed = 5, muzzle = [0.5, 1.0] }"
ENTRIES = "[arenas.range.entries]"


RANGE = "[arenas.range]\n"


def flag(more: str, name: str = "flag") -> str:
    """A checkpoint at the head of the arena."""
    return f"{RANGE}checkpoints.{name} = {{ at = [1, 0], radius = 1, {more} }}\n"


def strike(hitbox: str) -> str:
    """A strike in the place of a shot."""
    return f"windup = 0.1\nactive = 0.3\nstrike.hitboxes.{hitbox}"


def hazard(lines: str) -> str:
    """A hazard before the entries."""
    return f"[arenas.range.hazards.vent]\n{lines}\n{ENTRIES}"


MISTAKES = {
    ("windup = 0", "windop = 0"): "attacks.dart.windop: unknown key (did you mean 'windup'?); allowed here: kind, damage, against, "
    "guard_class, afflicts, push, hit_stop, layers, hits_allies, hits_owner, heal, revive, falloff, "
    "windup, releases, active, recovery, cooldown, rate, allowed_while, when_held, cost, charge, lunge, poses, "
    "withstands_severity, interrupted_by, cancels, follow_ups, invulnerable, hurtboxes_off, shot, ray, strike, grab, throw, blast, blast_on, blast_at",
    ('fighter = "thrower"', 'fighter = "throwr"'): 'bouts.drill.seats.amber.fighter: there is no fighter "throwr" '
    "(did you mean 'thrower'?); known: thrower, post",
    ('kind = "ember"\ndamage = 1\n', 'kind = "embr"\ndamage = 1\n'): 'attacks.lob.kind: there is no kind "embr" '
    "(did you mean 'ember'?); known: ember",
    ('attacks = ["dart", "lob"]', 'attacks = ["dart", "loob"]'): 'fighters.thrower.attacks[1]: there is no attack "loob" '
    "(did you mean 'lob'?); known: dart, lob",
    ('attacks = ["dart", "lob"]', 'attacks = ["dart", "dart"]'): 'fighters.thrower.attacks[1]: "dart" for the second time; '
    "each may stand here once",
    ("speed = 20", "speed = nan"): f"attacks.dart.shot.speed: NaN; {POSITIVE}",
    ("speed = 20", "speed = inf"): f"attacks.dart.shot.speed: Infinity; {POSITIVE}",
    ("speed = 20", "speed = -2"): f"attacks.dart.shot.speed: -2; {POSITIVE}",
    ("speed = 20", 'speed = "fast"'): f'attacks.dart.shot.speed: "fast"; {POSITIVE}',
    ("speed = 20", "speed = true"): f"attacks.dart.shot.speed: true; {POSITIVE}",
    ("speed = 20", "speed = 1e99"): f"attacks.dart.shot.speed: 1E+99; {POSITIVE}",
    ("radius = 0, speed", "radius = -1, speed"): f"attacks.dart.shot.radius: -1; {FROM_0}",
    ("damage = 12", "damage = -12"): f"attacks.dart.damage: -12; {FROM_0}; healing has a key of its own, heal",
    ('kind = "ember"\ndamage = 12\n', "damage = 12\n"): "attacks.dart.kind: missing; required where damage is above 0: "
    "what kind of wound is it?",
    ("life = 60", "life = 0"): f"attacks.dart.shot.life: 0; {SECONDS}above 0, up to a million",
    ("buffer = 0.1", "buffer = -0.1"): f"settings.buffer: -0.1; {SECONDS}from 0 to a million",
    ("buffer = 0.1", 'buffer = "6 frames"'): f'settings.buffer: "6 frames"; {SECONDS}from 0 to a million',
    ("buffer = 0.1", "buffer = 1e-400000"): f"settings.buffer: 1E-400000; {SECONDS}from 0 to a million",
    ("tick_rate = 60", "tick_rate = 59.94"): "settings.tick_rate: 59.94; allowed: a whole number from 1 to 1000",
    ("muzzle = [0.5, 1.0]", "muzzle = [0.5]"): "attacks.dart.shot.muzzle: [0.5]; allowed: the name of a joint, "
    "an offset [ahead, up] or [ahead, up, left], or { joint, offset, turns }",
    ("muzzle = [0.5, 1.0]", "muzzle = [0.5, 200]"): "attacks.dart.shot.muzzle: [0.5, 200]; thrower is 1.8 high: "
    "allowed within 180 of its feet",
    ("muzzle = [0.5, 1.0]", 'muzzle = "hnd"'): 'attacks.dart.shot.muzzle: there is no joint of thrower "hnd"; known: none',
    ("muzzle = [0.5, 1.0]", "muzzle = [0, 1], lift_deg = 20"): "attacks.dart.shot.lift_deg: 20 with an aim; "
    'lift_deg raises the facing; set direction = "facing", or leave it out',
    ("muzzle = [0.5, 1.0]", 'muzzle = [0, 1], on_wall = "bounce"'): "attacks.dart.shot.bounce: no bounce; "
    'on_wall = "bounce" and bounce = { restitution, times } belong together',
    ("muzzle = [0.5, 1.0]", 'muzzle = [0, 1], on_wall = "bounce", bounce = { restitution = 1.5, times = 2 }'):
    "attacks.dart.shot.bounce.restitution: 1.5; allowed: a share from 0 to 1",
    ("muzzle = [0.5, 1.0]", "muzzle = [0, 1], count = 0"): "attacks.dart.shot.count: 0; allowed: a whole number from 1 to 64",
    ("recovery = 0\n", "recovery = 0\nreleases = [0, 0.2, 0.1]\n"): "attacks.dart.releases[2]: 0.1 after 0.2; times must ascend",
    ("cooldown = 0\n", "cooldown = 0\nrate = 2\n"): "attacks.dart.rate: a rate and a cooldown; rate is 1 / cooldown; "
    "give one of them",
    ("cooldown = 0\n", "rate = 0\n"): f"attacks.dart.rate: 0; {POSITIVE}",
    ("cooldown = 0\n", "rate = 61\n"): "attacks.dart.rate: 61; allowed: above 0, up to settings.tick_rate, 60: "
    "no attack is released twice in a tick",
    ("cooldown = 0\n", "cost = { oil = 1 }\n"): 'attacks.dart.cost.oil: there is no pool of thrower "oil"; known: health',
    ("cooldown = 0\n", "cost = { health = 91 }\n"): "attacks.dart.cost.health: 91; thrower never holds more than 90; "
    "it could never begin this",
    ("cooldown = 0\n", 'layers = ["bdy"]\n'): 'attacks.dart.layers[0]: there is no hurtbox with the layer "bdy" '
    "(did you mean 'body'?); known: body",
    ("cooldown = 0\n", 'allowed_while = ["running"]\n'): 'attacks.dart.allowed_while[0]: "running"; allowed: a list of "moving", '
    '"airborne" and "guarding"',
    ("cooldown = 0\n", "poses.hand = [{ at = 0, offset = [0, 1] }]\n"): 'attacks.dart.poses.hand: there is no joint of '
    'thrower "hand"; known: none',
    ("shot = { radius = 0.1, speed = 5, muzzle = [0.5, 1.0] }", ""): "attacks.lob.damage: 1 with nothing to carry it; "
    "give the attack a shot, a ray, a strike or a throw",
    ("damage = 1\n", "damage = 1\nheal = 2\n"): "attacks.lob.heal: 2 beside a damage of 1; an attack damages or heals; make two",
    ("damage = 1\n", "damage = 1\nrevive = true\n"): "attacks.lob.revive: true without healing; give it heal, the points it heals",
    ("damage = 1\n", "damage = 1\nfalloff = { near = 5, far = 5 }\n"): "attacks.lob.falloff.far: 5; it must lie beyond near, 5",
    ("damage = 1\n", "damage = 1\nagainst = { tide = 2 }\n"): 'attacks.lob.against.tide: there is no fighter with the label "tide"; '
    "known: none",
    ("pools.shield = { max = 60 }", "pools.shield = { max = 60, share = -1 }"): f"fighters.post.pools.shield.share: -1; {FROM_0}",
    ("pools.shield = { max = 60 }", "pools.shield = { max = 60 }\ndamage_taken = { embr = 2 }"): 'fighters.post.damage_taken.embr: there is no kind "embr" '
    "(did you mean 'ember'?); known: ember",
    ("pools.shield = { max = 60 }", "pools.shield = { max = 60 }\nguard = { drain = 1 }"): "fighters.post.guard.pool: missing; "
    "required where a guard drains: which pool does it cost?",
    ("radius = 0.1 }\nhurtboxes.crown", 'radius = 0.1, route = ["shield", "shield"] }\nhurtboxes.crown'):
    'fighters.post.hurtboxes.trunk.route[1]: "shield" for the second time; each may stand here once',
    ("max_seats = 4", 'max_seats = 4\nsteps = ["storm"]'): 'settings.steps[0]: there is no own step registered with Rulebook.load "storm"; '
    "known: none",
    ("max_seats = 4", "max_seats = 4\ncombo = { seconds = 1, shares = [] }"): "settings.combo.shares: an empty list; "
    "give a share for each wound of a combo",
    ("[attacks.lob]", "[afflictions.smart]\nkind = 'ember'\ndamage = 1\nseconds = 1\n[attacks.lob]"): "afflictions.smart.every: "
    "1 never dealt; damage and every belong together",
    ("[attacks.lob]", "[afflictions.smart]\nkind = 'ember'\ndamage = 1\nevery = 2\nseconds = 1\n[attacks.lob]"): "afflictions.smart.every: "
    "2; it would never work: it is over after 1 s",
    ("[attacks.lob]", "[afflictions.smart]\nseconds = 1\nmax_stacks = 3\n[attacks.lob]"): "afflictions.smart.max_stacks: 3; "
    'only stacking = "add" has more than one at a time',
    ("damage = 1\n", "damage = 1\nafflicts = ['smart']\n"): 'attacks.lob.afflicts[0]: there is no affliction "smart"; known: none',
    ("speed = 5, muzzle", "muzzle"): f"attacks.lob.shot.speed: missing; required; {POSITIVE}",
    ("radius = 0.1 }\nhurtboxes.crown", "size = [0.2, 1] }\nhurtboxes.crown"): "fighters.post.hurtboxes.trunk.to: "
    "a box with a second end; a box lies round its place `from`; leave `to` out",
    ("hurtboxes.crown = { from = [0.0, 1.9], radius = 0.1,", "hurtboxes.crown = { from = [0.0, 1.9],"):
    "fighters.post.hurtboxes.crown: neither radius nor size; a sphere or capsule has a radius, a box has a size; "
    "give one of them",
    ("[arenas.range.entries]", "[arenas.range.walls]\npier = { at = [50, 1], size = [0, 2] }\n[arenas.range.entries]"):
    "arenas.range.walls.pier.size: [0, 2]; each size of a wall must be above 0: a wall has a thickness",
    ("[arenas.range.entries]", "[arenas.range.walls]\npier = { at = [10, 0], size = [1, 2] }\n[arenas.range.entries]"):
    "arenas.range.entries.butts.at: [10, 0] is inside the wall pier; choose a place beside it",
    ("[arenas.range.entries]", "[arenas.range.paths]\nshore = { points = [[1, 0]] }\n[arenas.range.entries]"):
    "arenas.range.paths.shore.points: 1 points; a path needs at least 2",
    ("[arenas.range]", '[arenas.range]\nspace = "3d"'): 'arenas.range.bounds.low: [-1000, -10]; '
    'a point of an arena with space = "3d" is [x, y, z]',
    ("[arenas.range]", '[arenas.range]\nspace = "top"'): "arenas.range.floor: 0; seen from the top there are no heights; "
    "leave the floor out",
    ('press = "dart"', "move = 2"): "bouts.drill.orders[0].move: 2; seen from the side a move is a number from -1 (left) to 1 (right)",
    ('press = "dart"', "move = 1"): "bouts.drill.orders[0].move: an order to walk; thrower has no speed; give it one",
    ('press = "dart"', 'hold = ["guard"]'): 'bouts.drill.orders[0].hold[0]: there is no attack, posture or guard of thrower "guard"; '
    "known: dart, lob",
    ('press = "dart"', 'patrol = "shore"'): 'bouts.drill.orders[0].patrol: there is no path of arena range "shore"; known: none',
    ('press = "dart"', "aim = [1, 0]\nevery = 1"): "bouts.drill.orders[0].every: nothing to press; every repeats a press; "
    "give it one",
    ('press = "dart"', 'press = "dart"\nevery = 0.5\nuntil = 1'): "bouts.drill.orders[0].until: 1; it must come after time, 1",
    ('press = "dart"', "facing = 90"): 'bouts.drill.orders[0].facing: 90; seen from the side a fighter looks "left" or "right"',
    ("floor = 0", 'floor = "low"'): f'arenas.range.floor: "low"; {NUMBER}',
    ("floor = 0", "floor = 2000"): "arenas.range.floor: 2000; the floor must lie in the bounds: -10 to 1000",
    ("low = [-1000, -10]", "low = [1000, -10]"): "arenas.range.bounds: low [1000, -10], high [1000, 1000]; "
    "each number of low must be less",
    ("butts = { at = [10, 0]", "butts = { at = [10, -5]"): "arenas.range.entries.butts.at: [10, -5] is outside the arena; "
    "allowed: [-1000, 0] to [1000, 1000]",
    ('facing = "left"', 'facing = "west"'): 'arenas.range.entries.butts.facing: "west"; allowed: "left" or "right", '
    "or degrees in an arena seen from the top or in 3d",
    ("[arenas.range]", '[arenas.range]\nspace = "back"'): 'arenas.range.space: "back"; allowed: "side", "top" or "3d"',
    ("pools.health = { max = 90, vital = true }\nhurtboxes.chest", "pools.health = { max = 90 }\nhurtboxes.chest"):
    "fighters.thrower.pools: no pool is vital; exactly one pool of a fighter needs vital = true",
    ("pools.shield = { max = 60 }", "pools.shield = { max = 60, vital = true }"):
    "fighters.post.pools: vital pools: shield, health; exactly one pool of a fighter needs vital = true",
    ("pools.shield = { max = 60 }", "pools.shield = { max = 60, start = 61 }"):
    "fighters.post.pools.shield.start: 61 is above max; allowed: 0 to 60",
    ("pools.health = { max = 90, vital = true }", "pools.health = { max = 90, start = 0, vital = true }"):
    "fighters.thrower.pools.health.start: 0; the vital pool must start above 0: at 0 the fighter is dead",
    ('route = ["shield", "health"]', 'route = ["shield"]'): 'fighters.post.route: "health" is missing; '
    "a wound must be able to reach the vital pool",
    ('route = ["shield", "health"]', 'route = ["sheild", "health"]'): 'fighters.post.route[0]: there is no pool "sheild" '
    "(did you mean 'shield'?); known: shield, health",
    ("hurtboxes.chest = { from = [0.0, 0.4], to = [0.0, 1.4], radius = 0.3 }", "hurtboxes = {}"):
    "fighters.thrower.hurtboxes: no hurtbox; a fighter without a hurtbox can never be hit; give it one",
    ("hurtboxes.trunk", 'hurtboxes."trunk 2"'): 'fighters.post.hurtboxes.trunk 2: the name "trunk 2"; '
    "allowed: a letter, then letters, digits, '_' and '-', at most 60 in all",
    ('arena = "range"\n', ""): "bouts.drill.arena: missing; required; allowed: a letter, then letters, digits, "
    "'_' and '-', at most 60 in all",
    ('at = "line"', 'at = "lime"'): 'bouts.drill.seats.amber.at: there is no entry of arena range "lime" '
    "(did you mean 'line'?); known: line, butts",
    ('at = "line"', "at = [1, 2, 3]"): "bouts.drill.seats.amber.at: [1, 2, 3]; a point of an arena with "
    'space = "side" is [x, z]',
    ('seat = "amber"', 'seat = "ambr"'): 'bouts.drill.orders[0].seat: there is no seat "ambr" '
    "(did you mean 'amber'?); known: amber",
    ('press = "dart"', 'press = "drat"'): 'bouts.drill.orders[0].press: there is no attack of thrower "drat" '
    "(did you mean 'dart'?); known: dart, lob",
    ('press = "dart"', "aim = [0, 0]"): "bouts.drill.orders[0].aim: [0, 0]; an aim needs a direction: "
    "give a number other than 0",
    ('press = "dart"', "teleport = true"): "bouts.drill.orders[0].teleport: true without a place; "
    "a teleport needs a place to go to",
    ("time = 1", "time = 5"): "bouts.drill.orders[0].time: 5; the bout is over after 5 s; an order must come before",
    ("damage = 1\n", "damage = 1\npush = { speed = 3, distance = 2 }\n"): "attacks.lob.push: speed and a distance; "
    "give speed (and per_point), or the distance it goes, and the rest follows",
    ("damage = 1\n", "damage = 1\npush = { }\n"): "attacks.lob.push: neither a speed nor a distance; "
    "give speed (and per_point), or the distance it goes, and the rest follows",
    ("damage = 1\n", "damage = 1\npush = { distance = 2, apex = 1, seconds = 1 }\n"): "attacks.lob.push.seconds: an apex and seconds; "
    "one follows from the other; give one of them",
    (
        "gravity = 9.81\n",
        "gravity = 0\n",
        "[arenas.range]",
        "[blasts.b]\nradius = 1\npush = { distance = 2, apex = 1 }\n[arenas.range]",
    ):
    "blasts.b.push.apex: 1; arena range has no gravity: nothing comes down there; give the distance alone",
    (LOB, strike("r = { from = [0, 1], radius = 0.1, push = { speed = 1, heading = 'travel' } }")): "attacks.lob.strike.hitboxes.r.push.heading: "
    '"travel"; only shots and rays travel; allowed here: "away", "towards", "facing", "radial", "fixed"',
    ("pools.shield = { max = 60 }", "weight = 0\npools.shield = { max = 60 }"): f"fighters.post.weight: 0; {POSITIVE}",
    ("pools.shield = { max = 60 }", "pools.shield = { max = 60 }\nreactions = [{ name = 'a', seconds = 1 }, { name = 'b', seconds = 1, damage = 3 }]"):
    "fighters.post.reactions[1]: b can never be reached; row 0 (a) fits all that this one fits: put it later",
    ("pools.shield = { max = 60 }", "pools.shield = { max = 60 }\nreactions = [{ name = 'a', seconds = 1, variants = [] }]"):
    "fighters.post.reactions[0].variants: an empty list; name one, or leave it out",
    ("pools.shield = { max = 60 }", "pools.shield = { max = 60 }\nragdoll = { radius = 0.1, points = { top = [0, 1], toe = [0, 0.1] }, links = [['top', 'toez']] }"):
    "fighters.post.ragdoll.links[0][1]: there is no point of the ragdoll \"toez\" (did you mean 'toe'?); known: top, toe",
    ("pools.shield = { max = 60 }", "pools.shield = { max = 60 }\nragdoll = { radius = 0.1, points = { top = [0, 1], toe = [0, 0.1] }, links = [] }"):
    "fighters.post.ragdoll.links: an empty list; give the points links, or leave ragdoll out",
    ("pools.shield = { max = 60 }", "pools.shield = { max = 60 }\nragdoll = { radius = 0.1, points = { top = [0, 1], toe = [0, 0.1] }, links = [['toe', 'toe']] }"):
    "fighters.post.ragdoll.links[0]: toe with itself; a link joins two points",
    ("pools.shield = { max = 60 }", "pools.shield = { max = 60 }\nragdoll = { radius = 0.1, points = { a = [0, 1], b = [0, 0.5], c = [0, 0.1] }, links = [['a', 'b']] }"):
    "fighters.post.ragdoll.links: no chain of links from a to c; all points must hang together",
    ("pools.shield = { max = 60 }", "pools.shield = { max = 60 }\nreactions = [{ name = 'a', seconds = 1, guarded = true }]"):
    "fighters.post.reactions[0].guarded: true without a guard; this fighter has no guard; give it one",
    ("damage = 1\n", "damage = 1\nblast = 'bang'\n"): 'attacks.lob.blast: there is no blast "bang"; known: none',
    ("[attacks.lob]", "[blasts.b]\nradius = 1\n[attacks.lob]"): "blasts.b: a blast that does nothing; "
    "give it damage, a push, or something it afflicts with",
    (LOB, "blast_at = [0, 1]"): "attacks.lob.blast_at: a place without a blast; it is where a blast goes off that nothing carries",
    ("max_seats = 4", "max_seats = 0"): "settings.max_seats: 0; allowed: a whole number from 1 to 100000",
    (LOB, strike("r = { from = [0, 1], radius = 0.1, on = [{ from = 0.3, until = 0.5 }] }")): "attacks.lob.strike.hitboxes.r.on[0]: 0.3 to 0.5; "
    "allowed: within the time of the attack that is active, 0.1 to 0.4 s",
    (LOB, strike("r = { from = [0, 1], radius = 0.1, on = [{ from = 0.1, until = 0.3 }, { from = 0.2 }] }")): "attacks.lob.strike.hitboxes.r.on[1]: "
    "from 0.2; the window before ends at 0.3",
    (LOB, strike("r = { from = [0, 1], radius = 0.1, on = [{ from = 0.3, until = 0.2 }] }")): "attacks.lob.strike.hitboxes.r.on[0]: 0.3 to 0.2; "
    "it must end after it begins",
    (LOB, strike("r = { from = [0, 1], radius = 0.1, on = [] }")): "attacks.lob.strike.hitboxes.r.on: an empty list; "
    "give a window { from, until }, or leave it out",
    (LOB, strike("r = { from = [0, 1], radius = 0.1, swing = { from_deg = 0, to_deg = 90 } }")): "attacks.lob.strike.hitboxes.r.swing.reach: missing; "
    f"required; {POSITIVE}",
    (LOB, strike("r = { from = [0, 1], radius = 0.1, swing = { from_deg = 0, to_deg = 90, reach = 1, inner = 2 } }")):
    "attacks.lob.strike.hitboxes.r.swing.inner: 2; allowed: 0 up to its reach, 1",
    (LOB, strike("r = { from = [0, 1], radius = 0.1, swing = { from_deg = 9, to_deg = 9, reach = 1 } }")):
    "attacks.lob.strike.hitboxes.r.swing.to_deg: 9; it begins there: what does not turn needs no swing",
    (LOB, strike("r = { from = [0, 1], to = [1, 1], radius = 0.1, swing = { from_deg = 0, to_deg = 9, reach = 1 } }")):
    "attacks.lob.strike.hitboxes.r.to: a swing and `to`; what swings lies from inner to reach from its place `from`; leave `to` out",
    (LOB, strike('r = { from = "hnd", radius = 0.1 }')): 'attacks.lob.strike.hitboxes.r.from: there is no joint of thrower "hnd"; known: none',
    (LOB, strike("r = { from = [0, 1] }")): "attacks.lob.strike.hitboxes.r: neither radius nor size; a sphere or capsule has a radius, "
    "a box has a size; give one of them",
    (LOB, "strike.hitboxes = {}\nactive = 1"): "attacks.lob.strike.hitboxes: no hitbox; a strike without a hitbox never hits; give it one",
    (LOB, "strike.hitboxes.r = { from = [0, 1], radius = 1 }"): "attacks.lob.active: no active time; "
    "required with a strike: how long, after the windup, its hitboxes may be on",
    ("recovery = 0.5\n", "recovery = 0.5\nfollow_ups.lobb = {}\n"): 'attacks.lob.follow_ups.lobb: there is no attack "lobb" '
    "(did you mean 'lob'?); known: dart, lob",
    ("recovery = 0.5\n", "recovery = 0.5\nfollow_ups.lob = {}\n"): "attacks.lob.follow_ups: lob -> lob; "
    "give one of them a window of time, `from` or `until`: else each would follow the other at once",
    ("recovery = 0.5\n", "recovery = 0.5\ncancels.dart = { from = 0.4, until = 0.6 }\n"): "attacks.lob.cancels.dart: 0.4 to 0.6; "
    "allowed: within the time of the attack, 0 to 0.5 s",
    ("recovery = 0.5\n", "recovery = 0.5\ncancels.dart = { form = 0.4 }\n"): "attacks.lob.cancels.dart.form: unknown key (did you mean 'from'?); "
    "allowed here: from, until",
    ('attacks = ["dart", "lob"]', 'attacks = ["lob"]\n#'): 'bouts.drill.orders[0].press: there is no attack of thrower "dart"; known: lob',
    ("recovery = 0.5\n", "recovery = 0.5\ninvulnerable = [{ from = 0.1, until = 0.7 }]\n"): "attacks.lob.invulnerable[0]: 0.1 to 0.7; "
    "allowed: within the time of the attack, 0 to 0.5 s",
    ("recovery = 0.5\n", "recovery = 0.5\nhurtboxes_off.chets = [{}]\n"): 'attacks.lob.hurtboxes_off.chets: there is no hurtbox of thrower "chets" '
    "(did you mean 'chest'?); known: chest",
    ("recovery = 0.5\n", 'recovery = 0.5\ninterrupted_by = ["emebr"]\n'): 'attacks.lob.interrupted_by[0]: there is no kind "emebr" '
    "(did you mean 'ember'?); known: ember",
    ("radius = 0.3 }\n\n[fighters.post]", 'radius = 0.3, postures = ["bowed"] }\n\n[fighters.post]'):
    'fighters.thrower.hurtboxes.chest.postures[0]: there is no posture "bowed"; known: standing, airborne',
    ("radius = 0.3 }\n\n[fighters.post]", "radius = 0.3 }\npostures.dart = {}\n\n[fighters.post]"): 'fighters.thrower.postures.dart: the name "dart"; '
    "standing and airborne are there of themselves, and orders name attacks and guard: choose another",
    (ENTRIES, '[props.crate]\nbody = { radius = 0.4, height = 0.8 }\nhurtboxes.boards = { from = [0, 0.4], radius = 0.4 }\n[arenas.range.props]\nbox = { prop = "crat", at = [3, 0] }\n' + ENTRIES): 'arenas.range.props.box.prop: there is no prop "crat" '
    "(did you mean 'crate'?); known: crate",
    (ENTRIES, '[props.crate]\nbody = { radius = 0.4, height = 0.8 }\nhurtboxes.boards = { from = [0, 0.4], radius = 0.4 }\n[arenas.range.props]\nbox = { prop = "crate", at = [3, -4] }\n' + ENTRIES): "arenas.range.props.box.at: [3, -4] is outside the arena; "
    "allowed: [-1000, 0] to [1000, 1000]",
    (ENTRIES, '[props.crate]\nbody = { radius = 0.4, height = 0.8 }\nhurtboxes.boards = { from = [0, 0.4], radius = 0.4, route = ["health"] }\n[arenas.range.props]\nbox = { prop = "crate", at = [3, 0] }\n' + ENTRIES): "props.crate.hurtboxes.boards.route: on a prop; "
    "only fighters have pools and postures; leave it out",
    (ENTRIES, '[props.crate]\nbody = { radius = 0.4, height = 0.8 }\nhurtboxes.boards = { from = [0, 0.4], radius = 0.4 }\nweight = 0\n[arenas.range.props]\nbox = { prop = "crate", at = [3, 0] }\n' + ENTRIES): "props.crate.weight: 0; allowed: a finite number from 1e-6 to 1e9",
    (ENTRIES, "[props.post]\nbody = { radius = 0.4, height = 0.8 }\nhurtboxes.boards = { from = [0, 0.4], radius = 0.4 }\n" + ENTRIES): 'props.post: the name "post"; '
    "there is a fighter of that name: choose another",
    (ENTRIES, hazard("at = [0, 1]\nradius = 1")): "arenas.range.hazards.vent: neither a wound nor fatal; "
    "give it damage and a kind, something it afflicts with, or fatal = true",
    (ENTRIES, hazard("at = [0, 1]\nfatal = true")): "arenas.range.hazards.vent: no shape; "
    "give a radius (and `to` for a capsule), a size for a box, or half_space for all that lies in a direction",
    (ENTRIES, hazard("at = [0, 1]\nradius = 1\nsize = [1, 1]\nfatal = true")): "arenas.range.hazards.vent: radius and size; "
    "give a radius (and `to` for a capsule), a size for a box, or half_space for all that lies in a direction",
    (ENTRIES, hazard("at = [0, 1]\nradius = 1\ndamage = 2")): "arenas.range.hazards.vent.kind: missing; "
    "required where damage is above 0: what kind of wound is it?",
    (ENTRIES, hazard("at = [0, 1]\nhalf_space = [0, 0]\nfatal = true")): "arenas.range.hazards.vent.half_space: [0, 0]; "
    "a direction is needed: give a number other than 0",
    (ENTRIES, hazard("at = [0, 1, 2]\nradius = 1\nfatal = true")): "arenas.range.hazards.vent.at: [0, 1, 2]; "
    'a point of an arena with space = "side" is [x, z]',
    (ENTRIES, hazard("at = [0, 1]\nradius = 1\nfatal = true\npath = 'rail'\nspeed = 1")): "arenas.range.hazards.vent.path: "
    'there is no path of the arena "rail"; known: none',
    (ENTRIES, hazard("at = [0, 1]\nradius = 1\nfatal = true\nspeed = 1")): "arenas.range.hazards.vent.path: "
    "a speed without a path; they belong together: give both or neither",
    (ENTRIES, hazard("at = [0, 1]\nradius = 1\nfatal = true\nrehit_every = 0")): f"arenas.range.hazards.vent.rehit_every: 0; {REHIT}",
    (ENTRIES, hazard("at = [0, 1]\nradius = 1\nfatal = true\nschedule = { on = 1 }")): "arenas.range.hazards.vent.schedule.off: missing; "
    f"required; {SECONDS}above 0, up to a million",
    (RANGE, flag("order = 1")): "arenas.range.checkpoints.flag.respawn_at: missing; "
    "required; allowed: [x, z] from the side, [x, y] from the top, [x, y, z] in 3d; numbers between -1e9 and 1e9",
    (RANGE, flag("order = 1, respawn_at = [0, 0]") + flag("order = 1, respawn_at = [2, 0]", "mast").removeprefix(RANGE)): "arenas.range.checkpoints.mast.order: 1, as of flag; "
    "which is further? give each its own",
    (RANGE, flag("order = 1, respawn_at = [2000, 0]")): "arenas.range.checkpoints.flag.respawn_at: [2000, 0] is outside the arena; "
    "allowed: [-1000, 0] to [1000, 1000]",
    (RANGE, RANGE + 'respawn_entry = "lin"\n'): 'arenas.range.respawn_entry: there is no entry of the arena "lin" '
    "(did you mean 'line'?); known: line, butts",
    (RANGE, RANGE + 'on_elimination = "end"\nelimination_message = "{set} is out"\n'): 'arenas.range.elimination_message: there is no field of the message "set" '
    "(did you mean 'seat'?); known: seat, by, attack, arena, life",
    (RANGE, RANGE + 'elimination_team = "tide"\n'): 'arenas.range.elimination_team: "tide"; '
    'a team decides only with on_elimination = "end" or "restart"',
    (RANGE, RANGE + "pickups.shell = { at = [1, 0], radius = 1 }\n"): "arenas.range.pickups.shell: it gives nothing; "
    "give points of pools, lives, or what is counted",
    (RANGE, RANGE + "pickups.shell = { at = [1, 0], radius = 1, counts = { shells = 3 } }\n"): "arenas.range.pickups.shell.counts.shells: "
    'there is no counter "shells"; known: none',
    ("[settings]", '[settings]\nboard = ["shells"]'): 'settings.board[0]: there is no counter "shells"; known: none',
    ("seats.amber = {", "seats.amber = { lives = 0,"): "bouts.drill.seats.amber.lives: 0; "
    'allowed: a whole number from 1 up to 100000, or "endless"',
}  # fmt: skip


@pytest.mark.parametrize(("change", "message"), MISTAKES.items(), ids=range(len(MISTAKES)))
def test_each_mistake_is_told_where_what_and_what_is_allowed(change: tuple[str, ...], message: str) -> None:
    text = range_text() + BOUT
    for old, new in zip(change[::2], change[1::2], strict=True):
        assert old in text
        text = text.replace(old, new, 1)
    with pytest.raises(ew.RulebookError) as caught:
        ew.Rulebook.parse(text, "range.toml")
    assert f"range.toml: {message}" in [str(problem) for problem in caught.value.problems]


def test_an_error_keeps_its_words_through_a_process_boundary(saltglass: ew.Rulebook) -> None:
    with pytest.raises(ew.RulebookError) as broken:
        ew.Rulebook.parse("[kinds.a]\nabout = 1\nb = 2", "a.toml")
    with pytest.raises(ew.RulebookError) as asked:
        saltglass.wound("flar", "wader")
    assert str(asked.value).startswith("there is no attack 'flar' (did you mean 'flare'?); known: ")
    for error in (broken.value, asked.value, ew.ListenerError("storm", ())):
        again = copy.deepcopy(error)  # by the same road as pickle
        assert (type(again), str(again)) == (type(error), str(error))
        assert getattr(again, "problems", None) == getattr(error, "problems", None)


def test_one_thing_held_needs_no_list() -> None:
    held = [
        ew.Rulebook.parse(range_text() + BOUT.replace('press = "dart"', f"hold = {hold}")).book.bouts["drill"].orders[0]
        for hold in ('"dart"', '["dart"]')
    ]
    assert held[0] == held[1] and held[0].hold == ("dart",)


def test_all_mistakes_of_a_book_are_told_at_once() -> None:
    text = range_text() + BOUT
    news = ("windop = 0", "speed = nan", 'floor = "low"', 'press = "drat"')
    wanted = {change: told for change, told in MISTAKES.items() if change[1] in news}
    for old, new in wanted:
        text = text.replace(old, new, 1)
    with pytest.raises(ew.RulebookError, match="the rulebook has 4 problems") as caught:
        ew.Rulebook.parse(text, "range.toml")
    assert {str(each) for each in caught.value.problems} == {f"range.toml: {told}" for told in wanted.values()}


def test_a_book_has_room_for_sixty_layers_and_says_so() -> None:
    def layered(count: int) -> str:
        boxes = [f'hurtboxes.b{n} = {{ from = [0, 1], radius = 0.1, layer = "l{n}" }}' for n in range(count - 1)]
        return range_text().replace("[attacks.dart]", "\n".join([*boxes, "[attacks.dart]"]), 1)

    rules = ew.Rulebook.parse(layered(60))
    bout = ew.Bout(rules, arena="range")
    amber = bout.enter("thrower", seat="amber", at="line")
    bout.enter("post", seat="post", at="butts")
    amber.order(press="dart")
    assert [event.seat for event in bout.advance(1) if isinstance(event, ew.events.Wounded)] == ["post"]
    with pytest.raises(ew.RulebookError, match="fighters: 61 layers on hurtboxes; allowed: at most 60 in a book"):
        ew.Rulebook.parse(layered(61))


def test_files_that_are_no_rulebook_are_told_so(tmp_path: Path) -> None:
    (tmp_path / "salt.toml").write_text("[settings\n")
    with pytest.raises(ew.RulebookError, match=r"salt.toml: line 1, column 10: not valid TOML: Expected '\]'"):
        ew.Rulebook.load(tmp_path / "salt.toml")
    with pytest.raises(ew.RulebookError, match=r"sald.toml: there is no such file \(did you mean 'salt.toml'\?\)"):
        ew.Rulebook.load(tmp_path / "sald.toml")
    (tmp_path / "marked.toml").write_bytes(b"\xef\xbb\xbf[kinds.ember]\n")
    assert "ember" in ew.Rulebook.load(tmp_path / "marked.toml").book.kinds, "a byte order mark is no mistake"
    (tmp_path / "bytes.toml").write_bytes(b"a = '\xff'")
    with pytest.raises(ew.RulebookError, match="byte 5 is no UTF-8 text"):
        ew.Rulebook.load(tmp_path / "bytes.toml")
    with pytest.raises(ew.RulebookError, match="directory"):
        ew.Rulebook.load(tmp_path)


def test_books_survive_the_way_through_json(saltglass: ew.Rulebook) -> None:
    for rules in (saltglass, ew.Rulebook.parse(range_text(windup='"7f"', cooldown='"1/3"', life="0.1") + BOUT)):
        through = ew.Rulebook.from_canonical(msgspec.json.decode(msgspec.json.encode(rules.canonical())))
        assert through == rules
        assert through.canonical() == rules.canonical()
    assert len({saltglass, ew.Rulebook.parse(range_text()), ew.Rulebook.parse(range_text(damage=13))}) == 3


@pytest.mark.parametrize(
    ("written", "frame_rate", "tick_rate", "ticks"),
    [
        (3.7, 60, 60, 222),
        (0.1, 60, 30, 3),
        (0.3, 60, 10, 3),
        ("12f", 60, 60, 12),
        ("12f", 60, 144, 29),
        ("1/30", 60, 240, 8),
        (1e-9, 60, 60, 1),
        (0, 60, 60, 0),
    ],
)
def test_durations_become_ticks_exactly(written: object, frame_rate: int, tick_rate: int, ticks: int) -> None:
    duration = Duration.parse(written)
    assert ticks_in(duration.seconds(frame_rate), tick_rate) == ticks
    assert Duration.parse(duration.written()) == duration


@given(st.decimals(0, 1000, allow_nan=False, places=4), st.integers(1, 1000))
def test_a_float_means_the_decimal_it_shows(decimal: object, rate: int) -> None:
    by_float, by_decimal = Duration.parse(float(str(decimal))), Duration.parse(decimal)
    assert by_float == by_decimal
    ticks, exact = ticks_in(by_float.seconds(60), rate), Fraction(str(decimal)) * rate
    assert exact <= ticks < exact + 1


POOL = "pools.health = { max = 90, vital = true }"
DART = "[attacks.dart]\n"
PRESS = 'press = "dart"'
BLAST = "[blasts.bang]\nradius = 2\n"
WOUND = "missing; required where damage is above 0: what kind of wound is it?"
AREA = "arenas.range.hazards.vent"
DRILL = "bouts.drill"
PARTS = ", ".join(f"p{n} = [0, {n / 100}]" for n in range(65))
BOXES = "\n".join(f"hurtboxes.b{n} = {{ from = [0, 1], radius = 0.1 }}" for n in range(70))
STANCES = "\n".join(f"postures.p{n} = {{}}" for n in range(40))

RARE_MISTAKES = [
    (RANGE, RANGE + "elimination_seconds = 1\n", "arenas.range.elimination_seconds: 1; a bout that goes on waits for"),
    (ENTRIES, f"[arenas.range.paths]\np = {{ points = [[1, 0], [1, 0]] }}\n{ENTRIES}", "paths.p.points[1]: [1, 0]; the same"),
    (DART, "[attacks.guard]\n" + DART, 'attacks.guard: the name "guard"; guard is what a fighter holds'),
    ("recovery = 0.5", "recovery = 0.5\nray = { range = 5, muzzle = [0, 1] }", "attacks.lob: shot and ray; an attack has one"),
    (LOB, "push = { speed = 1 }", "attacks.lob.push: a push with nothing to carry it; give the attack a shot"),
    ("recovery = 0.5", "recovery = 0.5\nreleases = []", "attacks.lob.releases: an empty list; give"),
    (DART, "[afflictions.ill]\nseconds = 1\ndamage = 1\nevery = 0.1\n" + DART, f"afflictions.ill.kind: {WOUND}"),
    (DART, '[bars.b]\npool = "health"\nshades = []\n' + DART, "bars.b.shades: an empty list; give at least one shade"),
    (DART, '[bars.b]\npool = "health"\nshades = [{ colour = "ink" }, { colour = "ink" }]\n' + DART, "give the lowest shade"),
    (DART, BLAST + "damage = 1\n" + DART, f"blasts.bang.kind: {WOUND}"),
    (LOB, f'blast = "bang"\n{BLAST}', "attacks.lob.blast: "),
    (LOB, f'blast = "bang"\nblast_at = "hand"\n{BLAST}', 'attacks.lob.blast_at.from: there is no joint of thrower "hand"'),
    ("[bouts.drill]", '[bouts.e]\narena = "range"\nseconds = 1\nseats = {}\n[bouts.drill]', "bouts.e.seats: no seat; a bout"),
    ("max_seats = 4", "max_seats = 1", f"{DRILL}.seats: 2 seats; settings.max_seats allows 1"),
    (PRESS, 'move = 1\npatrol = "p"', f"{DRILL}.orders[0].patrol: a patrol and a move; a fighter walks one way at a time"),
    (PRESS, "place = [5000, 0]", f"{DRILL}.orders[0].place: [5000, 0] is outside the arena"),
    (PRESS, PRESS + "\nuntil = 2", f"{DRILL}.orders[0].until: nothing that lasts; until ends a hold"),
    (PRESS, PRESS + "\nevery = 1e-5", f"{DRILL}.orders[0].every: 1e-05; it would press more than"),
    (RANGE, flag('order = 1, respawn_at = [1, 0], refill = ["oil"]'), 'flag.refill[0]: there is no pool of any fighter "oil"'),
    (RANGE, RANGE + "pickups.s = { at = [1, 0], radius = 1, gives = { oil = 1 } }\n", "s.gives.oil: there is no pool of any"),
    (POOL, f"{POOL}\n{BOXES}", "fighters.thrower.hurtboxes: 71 hurtboxes; allowed: at most"),
    (POOL, f"{POOL}\n{STANCES}", "fighters.thrower.postures: 40 postures; allowed: at most"),
    (POOL, f"{POOL}\npostures.low = {{ joints = {{ hand = [0, 1] }} }}", 'postures.low.joints.hand: there is no joint "hand"'),
    ("radius = 0.3 }\n\n[fighters.post]", "radius = 0.3, postures = [] }\n\n[fighters.post]", "it would never be on; name a"),
    (POOL, f'{POOL}\nguard = {{ pool = "oil" }}', 'fighters.thrower.guard.pool: there is no pool "oil"; known: health'),
    (ENTRIES, hazard("at = [0, 1]\nradius = 1\nfatal = true\ndamage = 3"), f"{AREA}.damage: 3 of what is fatal; fatal takes"),
    (ENTRIES, hazard("at = [0, 1]\nto = [0, 2]\nsize = [1, 1]\nfatal = true"), f"{AREA}.to: to without a radius"),
    (ENTRIES, hazard("at = [0, 1]\nradius = 1\nturn_deg = 9\nfatal = true"), f"{AREA}.turn_deg: turn_deg without a size"),
    (ENTRIES, hazard("at = [0, 1]\nsize = [0, 1]\nfatal = true"), f"{AREA}.size: [0, 1]; each size must be above 0"),
    ("radius = 0.3 }\n\n[fighters.post]", "radius = 0.3, turn_deg = 9 }\n\n[fighters.post]", "turn_deg: a turn of what is no box"),
    (DART, "[props.crate]\nbody = { radius = 0.1, height = 1 }\nhurtboxes = {}\n" + DART, "props.crate.hurtboxes: no hurtbox"),
    (LOB, f"push = {{ speed = 1, apex = 1 }}\n{LOB}", "attacks.lob.push.apex: apex without a distance; it says how"),
    (LOB, f"push = {{ distance = 1, apex = 1, seconds = 1 }}\n{LOB}", "push.seconds: an apex and seconds; one follows from"),
    (LOB, f"push = {{ distance = 1, lift_deg = 9 }}\n{LOB}", "push.lift_deg: a lift and a distance; the lift follows from"),
    (LOB, f'push = {{ distance = 1, heading = "travel" }}\n{LOB}', 'push.heading: "travel" and a distance; a distance is'),
    (POOL, f"{POOL}\nragdoll = {{ points = {{ {PARTS} }}, links = [], radius = 0.1 }}", "points: 65 points; allowed: 2 to 64"),
    (POOL, f'{POOL}\nragdoll = {{ points = {{ a = "hand", b = [0, 1] }}, links = [["a", "b"]], radius = 1e-5 }}', "radius: 1e-05;"),
    (POOL, f'{POOL}\nragdoll = {{ points = {{ a = "hand", b = [0, 1] }}, links = [["a", "b"]], radius = 0.1 }}', 'joint "hand"'),
    (POOL, f'{POOL}\nreactions = [{{ name = "flinch", seconds = 1, hurtboxes = ["knee"] }}]', 'there is no hurtbox "knee"'),
]  # fmt: skip


@pytest.mark.parametrize(("old", "new", "message"), RARE_MISTAKES, ids=range(len(RARE_MISTAKES)))
def test_rare_mistakes_are_told_too(old: str, new: str, message: str) -> None:
    text = range_text() + BOUT.replace("[[", 'seats.beryl = { fighter = "post", at = "butts" }\n[[', 1)
    assert old in text
    with pytest.raises(ew.RulebookError) as caught:
        ew.Rulebook.parse(text.replace(old, new, 1), "range.toml")
    told = [str(problem) for problem in caught.value.problems]
    assert any(message in each for each in told), told
