"""Random rulebooks of any sort, and any orders to those in them."""

from __future__ import annotations

from typing import TYPE_CHECKING, Any

from conftest import body_of

if TYPE_CHECKING:
    import random
    from collections.abc import Callable

    import emberwound as ew

PUSHES = (
    "",
    "push = { speed = 7, lift_deg = 50 }",
    "push = { distance = 2, apex = 1 }",
    'push = { speed = 900, mode = "add", heading = "radial", lift_deg = -30, per_point = 1 }',
    'push = { distance = 3, seconds = 0.3, heading = "facing" }',
    'push = { speed = 6, heading = "towards", lift_deg = 20 }',
)
LOCKS = ("move", "attack", "guard", "turn")
FALLS = """
stagger_resistance = { points = 4, refill = 3 }
drag = 0.3
restitution = 0.5
death_blast = "bang"
ragdoll.radius = 0.1
ragdoll.points = { crown = [0, 1.2], hip = [0, 0.6], heel = [0.1, 0.1, 0.2], palm = "hand" }
ragdoll.links = [["crown", "hip"], ["hip", "heel"], ["palm", "crown"]]
"""

ENDINGS = ("end", "restart", "last_team")
WAITS = ("", "\nawaits_late_seats = true", "\nawaits_late_seats = false")
LEAVE = '"leave"'
LEAVES = "strike.rehit_every = 'leave'"
STAGES = """
stages = [
    { name = "sore", below = 0.7, attacks = ["x", "y"], speed_share = 2 },
    { name = "wild", below = 0.2, attacks = ["z"], damage_dealt = 3 },
    { name = "dry", below = 0.1, pool = "oil", speed_share = 0 },
]
"""
GRIP = '"hand"'
TURNING = '{ joint = "hand", offset = [0.4, 0.1], turns = true }'
LAUNCH = (
    "muzzle = {muzzle}, spread_deg = {spread}, count = {count}, fan_deg = {fan}, pierce = {pierce}, "
    'direction = "{direction}", on_wall = "{on_wall}"'
)


def attack(rng: random.Random, name: str) -> str:
    """An attack of any sort."""
    kind = rng.choice(["shot", "shot", "ray", "none", "strike", "strike", "blast", "throw"])
    grabs = kind == "strike" and rng.random() < 0.4
    on_wall = rng.choice(["end", "pass", *(["bounce"] if kind == "shot" else [])])
    launch = LAUNCH.format(
        muzzle=rng.choice(["[0.5, 1.0]", "[0, 0]", '"hand"', "[-3, 0.2, 1]", TURNING]),
        spread=rng.choice([0, 5, 180]),
        count=rng.choice([1, 1, 3]),
        fan=rng.choice([0, 30, 360, -90]),
        pierce=rng.choice([0, 1, 5]),
        direction=rng.choice(["aim", "facing", "foe"]),
        on_wall=on_wall,
    )
    points = rng.choice(["damage = 1", "damage = 7", "damage = 0", "damage = 1e8", "heal = 5\nrevive = true"])
    others = [each for each in "xyz" if each != name]
    lines = [
        f'[attacks.{name}]\nkind = "salt"',
        "" if kind in ("none", "blast") else points,
        'blast = "bang"' if kind == "blast" or (kind in ("shot", "ray") and rng.random() < 0.3) else "",
        "blast_at = [1, 1]" if kind == "blast" else "",
        f"windup = {rng.choice([0, 0.1])}\nrecovery = {rng.choice([0, 0.2])}",
        f"releases = {rng.choice(['[0]', '[0, 0.05, 0.3]'])}",
        rng.choice(["", "rate = 7", "cooldown = 0.3"]),
        rng.choice(["", "allowed_while = []", 'allowed_while = ["moving", "guarding"]']),
        rng.choice(["", "cost = { oil = 3 }"]),
        rng.choice(["", "charge = { seconds = 0.3, damage = 2, speed = 3 }"]),
        rng.choice(["", "hits_allies = true", "hits_owner = true"]),
        rng.choice(["", 'afflicts = ["burning", "dazed"]']),
        rng.choice(["", "falloff = { near = 1, far = 9 }"]),
        rng.choice(["", "lunge = { speed = 9, lift_deg = 50, seconds = 0.2, at = 0.05 }", "lunge = { speed = 5 }"]),
        rng.choice(["", 'interrupted_by = ["salt"]']),
        rng.choice(["", f"cancels.{others[0]} = {{ until = 0.05 }}", f"cancels.{name} = {{}}"]),
        rng.choice(["", f'follow_ups.{others[1]} = {{ press = "{name}", from = 0.05 }}']),
        rng.choice(["", "hit_stop = 0.07"]),
        rng.choice(["", "withstands_severity = 1"]),
        "" if kind in ("none", "blast") or grabs else rng.choice(PUSHES),
        rng.choice(["", "", 'when_held = "once"']),
        "throw = true" if kind == "throw" else "",
        f"grab = {{ at = {rng.choice(['[0.7, 0.9]', GRIP])}, seconds = {rng.choice([0.05, 1, 9])} }}" if grabs else "",
        rng.choice(["", "invulnerable = [{ until = 0.04 }, { from = 0.06 }]"]),
        rng.choice(["", "hurtboxes_off.core = [{ from = 0.02 }]"]),
        "active = 0.3",
        rng.choice(["", "poses.hand = [{ at = 0.05, offset = [-0.5, 1.5] }, { at = 0.2, offset = [1, 1] }]"]),
    ]
    if kind == "shot":
        flight = f"speed = {rng.choice([0.01, 8, 300, 1e6])}, gravity_share = {rng.choice([0, 1, 100])}"
        flight += f", radius = {rng.choice([0, 0.1, 2])}, drag = {rng.choice([0, 0.5, 50])}"
        flight += f", life = {rng.choice([0.01, 1, 50])}, velocity_share = {rng.choice([0, 1])}"
        flight += ", bounce = { restitution = 0.7, times = 9 }" if on_wall == "bounce" else ""
        flight += rng.choice(["", "", f", health = {rng.choice([0.5, 6, 1e9])}"])
        flight += rng.choice(["", "", f", homing = {{ turn_deg = {rng.choice([40, 900])} }}"])
        lines.append(f"shot = {{ {flight}{rng.choice(['', ', range = 6'])}, {launch} }}")
    elif kind == "strike":
        swing = "swing = { from_deg = 100, to_deg = -300, inner = 0.3, reach = 2, tilt_deg = 30 }"
        on = "on = [{ from = 0.12, until = 0.13 }, { from = 0.2, until = 0.21 }]"
        hitboxes = [
            f"blade = {{ from = 'hand', radius = 0.1, {swing} }}",
            "edge = { from = [0.2, 1], to = [1.5, 0.2], radius = 0.2, damage = 3 }",
            f"slab = {{ from = 'hand', size = [1, 0.5], turn_deg = 20, {on} }}",
        ]
        lines += [f"strike.hitboxes.{each}" for each in rng.sample(hitboxes, rng.choice([1, 2, 3]))]
        lines.append(rng.choice(["", "strike.rehit_every = 0.03", "strike.rehit_every = 0.003", LEAVES]))
        lines.append(rng.choice(["", "strike.reflects = true"]))
        lines.append(rng.choice(["", 'strike.on_wall = "block"']))
    elif kind == "ray":
        lines.append(f"ray = {{ range = {rng.choice([0.5, 30, 1e8])}, {launch} }}")
    return "\n".join(lines)


def bar(rng: random.Random, name: str, pool: str) -> str:
    """A bar of any style for a pool."""
    style = rng.choice(["bar", "pips", "number", "ring"])
    trail = "trail = { delay = 0.1, half_life = 0.05 }" if style in ("bar", "ring") else ""
    return f"""
[bars.{name}]
pool = "{pool}"
style = "{style}"
size = [1, 0.2]
half_life = {rng.choice([0, 0.01, 2])}
half_life_up = {rng.choice([0, 0.5])}
show = "{rng.choice(["always", "not_full"])}"
shades = [{{ colour = "rose" }}, {{ above = 0.5, colour = "moss" }}]
{f"step = {rng.choice([0.7, 3, 100])}" if style == "pips" else rng.choice(["", trail])}
"""


def reactions(rng: random.Random) -> str:
    """A table of reactions, each of which locks anything."""
    rows = [
        "name = 'jolt', guarded = true, seconds = 0.1",
        "name = 'reel', from = ['back', 'above'], seconds = 0.3, severity = 2, variants = ['a', 'b']",
        "name = 'snap', breaks = true, seconds = 0.2, severity = 100",
        "name = 'drop', dying = true, seconds = 1",
        "name = 'open', parried = true, seconds = 0.4, severity = 3",
        "name = 'toss', airborne = true, push = 2, seconds = 0.5, severity = 0",
        "name = 'flinch', seconds = 0.2",
    ]
    chosen = [row for row in rows if rng.random() < 0.8]
    locks = [[each for each in LOCKS if rng.random() < 0.5] for _ in chosen]
    return f"reactions = [{', '.join(f'{{ {row}, locks = {each} }}' for row, each in zip(chosen, locks, strict=True))}]"


def book(rng: random.Random, space: str) -> str:
    """A whole rulebook of any sort."""

    def point(*figures: float) -> str:
        return str(list(figures[: 3 if space == "3d" else 2]))

    guard = f'reflects = "{rng.choice(["never", "perfect", "always"])}", perfect = {rng.choice([0, 0.1])}'
    fighter = f"""
speed = {rng.choice([1, 8])}
bars = {rng.choice(['["life", "pane"]', '["pane", "souls"]', "[]"])}
gravity_share = {rng.choice([1, 0])}
attacks = ["x", "y", "z"]
body = {{ radius = 0.3, height = {rng.choice([0.5, 1.8])} }}
route = ["shell", "health"]
flat_reduction = {rng.choice([0, 1])}
joints.hand = [0.4, 1.1]
corpse_seconds = {rng.choice([0, 1])}
respawn_seconds = {rng.choice([0, 0.5])}
respawn_protection = {rng.choice([0, 0.3])}
{rng.choice(["", reactions(rng) + FALLS])}
guard = {{ damage_share = {rng.choice([0, 0.5])}, drain = {rng.choice([0, 2])}, pool = "oil", broken = 0.3, {guard} }}
{rng.choice(["", STAGES])}
pools.health = {{ max = 20, vital = true }}
pools.oil = {{ max = 10, refill = {rng.choice([0, 5])}, delay = 0.2 }}
pools.shell = {{ max = 5, share = {rng.choice([0, 1, 2])}, refill = 3, overflow = {rng.choice(["true", "false"])} }}
hurtboxes.core = {{ from = [0, 0.3], to = [0, 1.2], radius = 0.3 }}
hurtboxes.arm = {{ from = [0, 1.2], to = "hand", radius = 0.1 }}
postures.low = {{ speed_share = 0.5, joints = {{ hand = [0.3, 0.4] }} }}
hurtboxes.tail = {{ from = [-0.3, 0.3], radius = 0.2, postures = ["low", "airborne"] }}
hurtboxes.plate = {{ from = [0.5, 0.7], size = [0.2, 0.8, 0.7], turn_deg = 20, layer = "plate" }}
"""
    low = -15 if space == "top" else -2
    floor = "" if space == "top" else rng.choice(["floor = 0", ""])
    ground = 0 if floor or space == "top" else -2
    return f"""
[settings]
buffer = {rng.choice([0, 0.1, 1])}
max_shots = {rng.choice([4, 200])}
combo = {{ seconds = 0.3, shares = [1, 0.5] }}
credit_seconds = 2
board = ["shells"]
{bar(rng, "life", "health")}
{bar(rng, "pane", "shell")}
[bars.souls]
shows = "lives"
style = "pips"
[cues.cry]
on = ["wounded", "died", "released"]
overlap = "{rng.choice(["together", "restart", "wait"])}"
audience = "{rng.choice(["everyone", "victim", "striker"])}"
gap = {rng.choice([0, 0.2])}
seconds = {rng.choice([0.05, 1])}
pitch_spread = 0.5
[counters.shells]
kill = 5
assist = 2
death = -1
per_second = {rng.choice([0, 1])}
on_death = "{rng.choice(["keep", "reset"])}"
[kinds.salt]
[afflictions.burning]
kind = "salt"
damage = 1
every = {rng.choice([0.15, 0.3])}
seconds = 0.9
stacking = "{rng.choice(["refresh", "add", "strongest"])}"
[afflictions.dazed]
seconds = 0.5
speed_share = 0.3
damage_taken_share = 2
disables_guard = true
cured_by = ["salt"]
[blasts.bang]
radius = {rng.choice([0.5, 6])}
kind = "salt"
damage = 4
{rng.choice(PUSHES)}
{rng.choice(["", "hits_direct_victim = true", "hits_owner = true", 'on_wall = "block"'])}
[props.crate]
weight = {rng.choice([0.1, 5])}
body = {{ radius = 0.4, height = 0.8 }}
hurtboxes.boards = {{ from = [0, 0.4], size = [0.8, 0.8] }}
[fighters.a]{fighter}[fighters.b]
like = "a"
pools.health.max = 30
[templates.hazards.thorn]
size = {point(1, 2, 1)}
kind = "salt"
damage = 1
solid = {rng.choice(["true", "false"])}
rehit_every = {rng.choice(["0.2", LEAVE])}
{rng.choice(PUSHES)}
{attack(rng, "x")}
{attack(rng, "y")}
{attack(rng, "z")}
[arenas.pit]
space = "{space}"
{rng.choice(["", 'body_contact = "separate"'])}
{floor}
bounds = {{ low = {point(-15, -15 if space == "3d" else low, -2)}, high = {point(15, 15, 12)} }}
walls.pier = {{ at = {point(5, 1, 1)}, size = {point(1, 4, 3)}, turn_deg = {rng.choice([0, 30])} }}
walls.step = {{ at = {point(-6, 0.5, 0.5)}, size = {point(4, 1, 1)} }}
{hazards(rng, point)}
hazards.east = {{ like = "thorn", at = {point(10, -8, 1)} }}
hazards.west = {{ like = "thorn", at = {point(-11, 6, 1)} }}
{rng.choice(["", *(f'on_elimination = "{each}"{wait}' for each in ENDINGS for wait in WAITS)])}
checkpoint_rule = "{rng.choice(["furthest", "latest"])}"
checkpoints.low = {{ at = {point(-3, 1, 1)}, radius = 1, order = 1, respawn_at = {point(-2, 0, 0)}, refill = ["oil"] }}
checkpoints.high = {{ at = {point(9, 2, 1)}, radius = 3, order = 2, respawn_at = {point(8, 3, 0)}, whole_team = true }}
props.crate = {{ prop = "crate", at = {point(2, 0.5, 0.5)} }}
paths.beat = {{ points = [{point(0, ground, ground)}, {point(3, ground, ground)}, {point(1, ground, ground)}] }}
[arenas.pit.pickups.heart]
at = {point(1, 1, 1)}
radius = 1
lives = 1
gives = {{ health = 3 }}
counts = {{ shells = 1 }}
returns_after = {rng.choice(["0.2", "0.007", LEAVE])}
{rng.choice(["", "for_teams = ['t']"])}
{script(rng, space)}
"""


def script(rng: random.Random, space: str) -> str:
    """A bout of the book: five seats, which may leave before their orders are over, and what each is told."""
    seats, orders = [], []
    for name in ("s0", "s1", "s2", "s3", "s4"):
        (x, *others), lives = place(rng, space), rng.choice(["1", "2", '"endless"'])
        starts = rng.choice([0, 0, rng.uniform(0, 2)])
        more = rng.choice(["", ", pools = { health = 7 }", ", damage_dealt = 2, speed_share = 0.5"])
        more += rng.choice(["", f", time = {starts}, until = {starts + rng.uniform(2.1, 9)}"]) if starts else ""
        starts = starts if "time" in more else 0
        seats.append(f'{name} = {{ fighter = "{rng.choice("ab")}", at = {[x / 4, *others]}, lives = {lives}{more} }}')
        press = f'press = "{rng.choice("xyz")}"'
        told = rng.choice(
            [press, f"{press}, every = {rng.uniform(0.3, 0.9)}", 'hold = ["x", "guard"]', 'patrol = "beat"']
        )
        orders.append(f'{{ time = {starts + rng.uniform(0, 2)}, seat = "{name}", {told} }}')
    return f"""
[bouts.drill]
arena = "pit"
seconds = 30
orders = [{", ".join(orders)}]
[bouts.drill.seats]
""" + "\n".join(seats)


def hazards(rng: random.Random, point: Callable[..., str]) -> str:
    """Some parts of the arena that wound."""
    sting = rng.choice(["kind = 'salt', damage = 3", "fatal = true", "afflicts = ['burning']"])
    shape = rng.choice(
        [
            "radius = 1.5",
            f"radius = 0.5, to = {point(-4, 2, 3)}",
            f"size = {point(1, 2, 1)}",
            f"half_space = {point(-1, 1, 0)}",
        ]
    )
    more = rng.choice(
        ["", ", schedule = { first = 0.2, on = 0.1, off = 0.15 }", ", path = 'beat', speed = 4", ", rehit_every = 0.01"]
    )
    return f"hazards.vent = {{ at = {point(-5, 3, 1)}, {shape}, {sting}{more} }}" if rng.random() < 0.7 else ""


def order(rng: random.Random, space: str) -> dict[str, Any]:
    """An order for anything."""
    told: dict[str, Any] = {}
    if rng.random() < 0.4:
        told["press"] = rng.choice("xyz")
    if rng.random() < 0.3:
        told["hold"] = rng.choice([(), "x", ("y", "guard"), "guard", ("z", "x"), "low", ("low", "guard")])
    if rng.random() < 0.3:
        told["aim"] = tuple(rng.uniform(-1, 1) for _ in range(3 if space == "3d" else 2))
    if rng.random() < 0.2:
        told["facing"] = rng.choice(["left", "right", "foe", *([] if space == "side" else [rng.uniform(-360, 360)])])
    if rng.random() < 0.3:
        told["move"] = rng.uniform(-1, 1) if space == "side" else (rng.uniform(-0.7, 0.7), rng.uniform(-0.7, 0.7))
    elif rng.random() < 0.2:
        told["patrol"] = "beat"
    return told or {"facing": "left"}


def place(rng: random.Random, space: str) -> tuple[float, ...]:
    across, along, up = rng.uniform(-14, 14), rng.uniform(-14, 14), rng.choice([0.0, rng.uniform(0, 10)])
    return {"side": (across, up), "top": (across, along), "3d": (across, along, up)}[space]


def become(seat: ew.Seat, fighter: str, bout: ew.Bout) -> None:
    """Let a seat's next body be of a fighter, where a next one may come."""
    if not seat.out or bout.rules.book.arenas[bout.arena].on_elimination == "restart":
        seat.become(fighter)


def play(bout: ew.Bout, rng: random.Random, space: str, frames: int) -> None:
    """Give five fighters any orders for a while."""
    for _ in range(frames):
        for seat in bout.seats:
            if rng.random() < 0.3:
                seat.order(**order(rng, space))
            if rng.random() < 0.03:
                seat.place(
                    place(rng, space), teleport=rng.random() < 0.5, grounded=rng.choice([None, None, True, False])
                )
            if rng.random() < 0.02:
                become(seat, rng.choice("ab"), bout)
            if rng.random() < 0.05 and seat.alive:
                by_its_host(seat, rng, space)
        if bout.shots and rng.random() < 0.05:
            rng.choice(bout.shots).end()
        if rng.random() < 0.1 and not bout.over:
            rng.choice(bout.seats).leave()
            bout.advance(1.5 / bout.tick_rate)
            if not bout.over:
                enter(bout, rng, space, f"t{bout.tick}")
        bout.advance(rng.uniform(0, rng.choice([3, 3, 3, 20])) / bout.tick_rate)


def by_its_host(seat: ew.Seat, rng: random.Random, space: str) -> None:
    """Do to a body what only its host does."""
    does = rng.choice(["resize", "set", "hurt", "heal", "push"])
    if does == "resize":
        seat.resize(rng.choice(["health", "shell"]), rng.choice([5, 50]))
    elif does == "set":
        pool = rng.choice(["oil", "shell"])
        seat.set_pool(pool, body_of(seat).pool_sizes[pool] * rng.random())
    elif does == "push":
        seat.push(place(rng, space), mode=rng.choice(["set", "add"]))
    else:
        (seat.hurt if does == "hurt" else seat.heal)(rng.choice([0.5, 9]), "salt", by=rng.choice([None, seat]))


def enter(bout: ew.Bout, rng: random.Random, space: str, name: str) -> None:
    lives: Any = rng.choice([1, 2, 99, "endless"])
    how: dict[str, Any] = rng.choice(
        [{}, {}, {"pools": {"health": 7, "oil": 3}}, {"damage_dealt": 0.5, "speed_share": 2}]
    )
    team = rng.choice([None, "tide"])
    bout.enter(rng.choice("ab"), at=place(rng, space), seat=name, lives=lives, team=team, **how)
