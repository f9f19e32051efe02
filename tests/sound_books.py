"""Random books that are sound by construction: figures within what a game would have, and nothing out of place."""

from __future__ import annotations

import random


def sound_book(seed: int) -> str:
    """A book of two fighters, a few attacks, an arena and a bout, in lengths of a random unit."""
    rng = random.Random(seed)
    unit = rng.choice([1.0, 1.0, 10.0, 100.0])
    tall, wide = rng.uniform(1.2, 2.6) * unit, rng.uniform(0.25, 0.45) * unit
    apart = rng.uniform(5, 9) * unit
    reach = apart - tall
    head, muzzle = 0.12 * tall, [wide * 1.3, 0.62 * tall]
    trunk = wide * rng.uniform(0.8, 1.0)
    top = tall - 2.2 * head - trunk
    health = rng.randint(30, 120)
    damage = rng.randint(3, 9)
    period = f'"{rng.randint(24, 72)}f"'
    reaction = f'"{rng.randint(6, 18)}f"'
    strike = [wide + 0.2 * unit, 0.5 * tall]
    space = rng.choice(["side", "side", "3d"])

    def point(x: float, up: float = 0.0) -> str:
        return f"[{x:.4g}, {up:.4g}]" if space == "side" else f"[{x:.4g}, 0, {up:.4g}]"

    def size(x: float, up: float) -> str:
        return f"[{x:.4g}, {up:.4g}]" if space == "side" else f"[{x:.4g}, {unit}, {up:.4g}]"

    low, high = ("[-6, -3]", "[20, 12]") if space == "side" else ("[-6, -6, -3]", "[20, 6, 12]")

    def scaled(corner: str) -> str:
        return f"[{', '.join(f'{float(each) * unit:.6g}' for each in corner.strip('[]').split(','))}]"

    return f"""
[kinds.salt]
[bars.life]
pool = "health"
[cues.clang]
on = ["wounded"]
gap = 0.1
[fighters.keeper]
body = {{ radius = {wide:.4g}, height = {tall:.4g} }}
speed = {rng.uniform(1, 5) * unit:.4g}
pools.health = {{ max = {health}, vital = true{rng.choice(["", ", refill = 0.5, delay = 2"])} }}
pools.oil = {{ max = 20, refill = 2 }}
pools.pane = {{ max = 10, refill = 1, delay = 3 }}
route = ["pane", "health"]
guard = {{ arc_deg = {rng.randint(60, 180)}, damage_share = 0.2, drain = 1, pool = "pane" }}
hurtboxes.head = {{ from = [0, {tall - head:.4g}], radius = {head:.4g}, multiplier = 1.5 }}
hurtboxes.trunk = {{ from = [0, {trunk:.4g}], to = [0, {max(top, trunk):.4g}], radius = {trunk:.4g} }}
attacks = ["dart", "jab", "lamp"]
bars = ["life"]
respawn_protection = 1
reactions = [{{ name = "reel", seconds = {reaction} }}]
[fighters.straw]
like = "keeper"
pools.health.max = {rng.randint(30, 120)}
[attacks.dart]
kind = "salt"
damage = {damage}
windup = "{rng.randint(0, 30)}f"
cooldown = {period}
shot = {{ muzzle = {muzzle}, radius = {0.05 * unit:.4g}, speed = {rng.uniform(8, 30) * unit:.4g}, life = 4 }}
[attacks.lamp]
kind = "salt"
damage = {damage}
cooldown = {period}
cost = {{ oil = {rng.randint(1, 20)} }}
ray = {{ muzzle = {muzzle}, range = {rng.uniform(1.1, 2) * reach + tall:.4g} }}
[attacks.jab]
kind = "salt"
damage = {damage}
windup = "{rng.randint(3, 20)}f"
active = "{rng.randint(3, 12)}f"
recovery = "{rng.randint(20, 40)}f"
push = {{ speed = {rng.uniform(0.5, 3) * unit:.4g}, lift_deg = {rng.randint(0, 50)} }}
strike.hitboxes.fist = {{ from = {strike}, radius = {0.15 * unit:.4g} }}
[arenas.pier]
space = "{space}"
gravity = {rng.uniform(7, 25) * unit:.5g}
floor = 0
bounds = {{ low = {scaled(low)}, high = {scaled(high)} }}
walls.post = {{ at = {point(16 * unit, unit)}, size = {size(unit, 2 * unit)} }}
hazards.vent = {{ at = {point(14 * unit, 0.2 * unit)}, radius = {0.2 * unit:.4g}, kind = "salt", damage = 2 }}
[arenas.pier.checkpoints.cairn]
at = {point(-3 * unit, 0.5 * unit)}
radius = {0.5 * unit}
order = 1
respawn_at = {point(-3 * unit)}
[bouts.watch]
arena = "pier"
seconds = 8
orders = [
  {{ time = 0.5, seat = "lee", press = "dart" }},
  {{ time = 2.5, seat = "lee", press = "lamp" }},
  {{ time = 4, seat = "sedge", press = "jab" }},
]
[bouts.watch.seats]
lee = {{ fighter = "keeper", at = {point(0)}, lives = {rng.randint(1, 3)} }}
sedge = {{ fighter = "straw", at = {point(apart)}, facing = "left" }}
"""
