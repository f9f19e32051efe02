"""Is the true cause named first? One line of a sound book is broken, with its cause labelled by hand, and both ask.

python benchmarks/mutations.py [--write]   (then also docs/mutations.md)
"""

from __future__ import annotations

import sys
from importlib.resources import files
from pathlib import Path
from time import perf_counter
from typing import Any, NamedTuple

ROOT = Path(__file__).parent.parent
sys.path.insert(0, str(ROOT / "tests"))

import emberwound as ew
from sound_books import sound_book
from test_check import BROKEN, SOUND

SOUND_BOOKS = 300
HEAD = """# Mutations

One line of a book that is sound is broken, by hand and with its true cause noted; then `check` looks at the book, or
`inquest` at its bout. The true cause must come first. `python benchmarks/mutations.py --write` writes this page.

"""


class Mutation(NamedTuple):
    """A line replaced in a book, what is asked (nothing: a check), and the causes that are true."""

    book: str
    old: str
    new: str
    true: str
    bout: str = ""
    asked: tuple[str, Any] | None = None


def of_demo(old: str, new: str, true: str, bout: str = "", *asked: Any) -> Mutation:
    """One of the demo's book."""
    return Mutation("saltglass", old, new, true, bout, (asked[0], asked[1]) if asked else None)


def of_crab(old: str, new: str, true: str, *asked: Any) -> Mutation:
    """One of the crab's book, in its only bout."""
    return Mutation("three-lives", old, new, true, "pinched", (asked[0], asked[1]) if asked else None)


FLARE = "[attacks.flare.shot]\n"
WADER = "[fighters.wader]\n"
CAUSEWAY = "[arenas.causeway]\n"
LAMPS = "[fighters.lamplighter]\n"
HURTBOX = "head = { from = [0.12, 1.55], radius = 0.2, multiplier = 1.5 }"

MUTATIONS = [
    of_demo('damage = 12\nwindup = "12f"', 'damage = 12\nwindup = "90f"', "late-release"),
    of_demo("drag = 0.2\nlife = 4", "drag = 0.2\nlife = 90", "endless-shot"),
    of_demo(FLARE, f"{FLARE}range = 2\n", "short-shot"),
    of_demo(
        'gravity_share = 0.6\nlife = 4\nmuzzle = "hand"',
        "gravity_share = 0.6\nlife = 4\nmuzzle = [-0.5, 1.4]",
        "muzzle-behind",
    ),
    of_demo("rehit_every = 0.5\nschedule", "rehit_every = 0.01\nschedule", "hazard-every-tick"),
    of_demo("edge = { at = [18, 0]", "edge = { at = [19.8, 0]", "fatal-entry"),
    of_demo("respawn_at = [19, 0]", "respawn_at = [19, 3]", "checkpoint-in-air"),
    of_demo("mid_cairn = { at = [19, 0.8]", "mid_cairn = { at = [19, 7]", "checkpoint-unreachable"),
    of_demo(HURTBOX, "head = { from = [0, 0.7], radius = 0.1 }", "nested-hurtbox"),
    of_demo(HURTBOX, "head = { from = [0.12, 1.55], radius = 2.5 }", "oversized-hurtbox"),
    of_demo("head = { from = [0.15, 2.05]", "head = { from = [0.15, 2.9]", "gap-in-hurtboxes"),
    of_demo("push = { distance = 0.9 }", "push = { speed = 60, lift_deg = 45 }", "knockback-out-of-bounds"),
    of_demo("[kinds.iron]", "[kinds.tar]\n\n[kinds.iron]", "kind-unused"),
    of_demo("glass = { max = 20, refill = 4, delay = 3 }", "glass = { max = 20, refill = 400 }", "endless-shield"),
    of_demo(f'{CAUSEWAY}space = "side"\ngravity = 9.81', f'{CAUSEWAY}space = "side"\ngravity = 0.02', "scale-mismatch"),
    of_demo(
        "guard = { arc_deg = 150, damage_share = 0.2, drain = 1,",
        "guard = { arc_deg = 360, damage_share = 0, drain = 0,",
        "guard-total",
    ),
    of_demo("oil = { max = 20,", "breath = { max = 5 }\noil = { max = 20,", "untouched-pool"),
    of_demo("gap = 0.03\nhalf_life = 0.04", "gap = 0\nhalf_life = 0.04", "bars-overlap"),
    of_demo('rehit_every = "6f"', 'rehit_every = "1f"', "hazard-every-tick"),
    of_demo("cost = { oil = 3 }", "cost = { oil = 30 }", "cost-above-pool"),
    of_demo('windup = "15f"\nactive = "8f"', 'windup = "15f"\nactive = 0', "hitbox-never-on"),
    of_demo('name = "fall"\npush = 4\n', 'name = "fall"\n', "reaction-shadowed"),
    of_demo('time = 9.5\nseat = "amber"', 'time = 95\nseat = "amber"', "order-to-nobody"),
    of_demo(
        "talons = { from = [0.2, 1.25], to = [0.75, 0.95]",
        "talons = { from = [0.2, 3.25], to = [0.75, 3.2]",
        "unreachable-height",
    ),
    of_demo("[attacks.flare]\n", "[attacks.flare]\nhits_owner = true\n", "hits-own-body"),
    of_demo(WADER, f"{WADER}flat_reduction = 90\n", "zero-wound"),
    of_demo(
        "[templates.hazards.shards]",
        "[templates.hazards.spray]\nradius = 1\n\n[templates.hazards.shards]",
        "template-unused",
    ),
    of_demo("aim = [1, 0.03]\npress", "aim = [1, 0.4]\npress", "out-of-reach", "crossing", "shot", 1),
    of_demo("life = 4\nmuzzle", "life = 0.3\nmuzzle", "ended:life", "crossing", "shot", 1),
    of_demo(FLARE, f"{FLARE}range = 4\n", "ended:range", "crossing", "shot", 1),
    of_demo("gravity_share = 0.6", "gravity_share = 4", "ended:floor", "crossing", "shot", 1),
    of_demo(
        CAUSEWAY,
        f"{CAUSEWAY}walls.post = {{ at = [4, 1.2], size = [0.3, 2.4] }}\n",
        "ended:wall",
        "crossing",
        "shot",
        1,
    ),
    of_demo("[attacks.flare]\n", '[attacks.flare]\nlayers = ["plate"]\n', "passed-over:layer", "crossing", "shot", 1),
    of_demo(
        'at = [8, 0], facing = "left", team = "tide" }',
        'at = [8, 0], facing = "left", team = "lamps" }',
        "passed-over:ally",
        "sluice",
        "shot",
        1,
    ),
    of_demo(WADER, f"{WADER}damage_taken = {{ ember = 0 }}\n", "immune", "crossing", "shot", 1),
    of_demo(WADER, f"{WADER}flat_reduction = 50\n", "zero", "crossing", "shot", 1),
    of_demo(
        "cooldown = 0.6\n\n[attacks.flare.shot]",
        "cooldown = 3\n\n[attacks.flare.shot]",
        "refused:cooldown",
        "crossing",
        "order",
        ("amber", 84),
    ),
    of_demo(
        "[attacks.flare]\n",
        "[attacks.flare]\ncost = { oil = 15 }\n",
        "refused:cost",
        "crossing",
        "order",
        ("amber", 84),
    ),
    of_demo(
        'reed = { fighter = "wader", at = "shallows", lives = 2 }',
        'reed = { fighter = "wader", at = "shallows" }',
        "out-of-lives",
        "crossing",
        "missing",
        ("respawn", "reed"),
    ),
    of_demo(
        "respawn_seconds = 3.7\nbody = { radius = 0.35",
        "respawn_seconds = 20\nbody = { radius = 0.35",
        "not-due-yet",
        "crossing",
        "missing",
        ("respawn", "reed"),
    ),
    of_demo(
        "talons = { from = [0.2, 1.25], to = [0.75, 0.95]",
        "talons = { from = [-0.6, 1.25], to = [-0.3, 0.95]",
        "out-of-reach",
        "vent",
        "swing",
        ("reed", 260),
    ),
    of_demo(
        "recovery = 0.15\ncooldown = 0.6",
        "recovery = 2\ncooldown = 0.6",
        "refused:attacking",
        "crossing",
        "order",
        ("amber", 84),
    ),
    of_demo(
        'brack = { fighter = "tidewader", at = "tide" }',
        'brack = { fighter = "tidewader", at = "tide", until = 5 }',
        "never-entered",
        "crossing",
        "alive",
        "brack",
    ),
    of_crab("windup = 0.2", "windup = 2", "late-release"),
    of_crab(
        "claw = { from = [0.5, 0.5], to = [1.3, 0.7], radius = 0.3 }",
        "claw = { from = [0.5, 2.5], to = [1.3, 2.7], radius = 0.3 }",
        "unreachable-height",
    ),
    of_crab("lives = 3,", 'lives = "endless",', "endless-lives"),
    of_crab("[0, 1.5], radius = 0.3", "[0, 1.5], radius = 3", "oversized-hurtbox"),
    of_crab("speed = 3\n", "speed = 3\nflat_reduction = 50\n", "zero-wound"),
    of_crab("respawn_seconds = 1\n", 'respawn_seconds = "1/7"\n', "off-grid-time"),
    of_crab("damage = 18", "damge = 18", "refused"),
    of_crab("at = [0, 0], lives", "at = [3.2, 0.2], lives", "refused"),
    of_crab(
        "walls.rock",
        'hazards.urchin = { at = [3.2, 0.15], size = [0.2, 0.2], kind = "claw", damage = 1 }\nwalls.rock',
        "hazard-behind-wall",
    ),
    of_crab("cooldown = 0.5", "cooldown = 0.5\nhit_stop = 0.1\nlayers = ['shell']", "refused"),
    of_crab("lives = 3,", "lives = 1,", "out-of-lives", "missing", ("respawn", "moss")),
    of_crab("to = [1.3, 0.7], radius = 0.3", "to = [0.6, 0.6], radius = 0.1", "out-of-reach", "alive", "moss"),
    of_crab("speed = 3\n", "speed = 3\ndamage_taken = { claw = 0 }\n", "immune", "alive", "moss"),
    of_crab("speed = 3\n", "speed = 3\nflat_reduction = 50\n", "zero", "alive", "moss"),
    of_crab('facing = "left" }', 'facing = "left", team = "people" }', "passed-over:ally", "alive", "moss"),
    of_crab("respawn_seconds = 1\n", "respawn_seconds = 50\n", "not-due-yet", "missing", ("respawn", "moss")),
    of_crab('{ time = 0, seat = "crab", hold = "claw" },', "", "never-ordered", "alive", "moss"),
    of_crab(
        "pools.health = { max = 30, vital = true }",
        "pools.health = { max = 3000, vital = true }",
        "not-due-yet",
        "alive",
        "moss",
    ),
]
MUTATIONS += [Mutation("pier", SOUND, text, name) for name, (text, _) in BROKEN.items()]


def books() -> dict[str, str]:
    """The three sound books."""
    return {
        "saltglass": files("emberwound.demo").joinpath("saltglass.toml").read_text(encoding="utf-8"),
        "three-lives": (ROOT / "examples" / "three-lives" / "book.toml").read_text(encoding="utf-8"),
        "pier": SOUND,
    }


def first_cause(text: str, mutation: Mutation, file: Path) -> str:
    """What is told first of a broken book."""
    if mutation.asked is None:
        file.write_text(text, encoding="utf-8")
        return next((each.name for each in ew.check(file)), "nothing")
    what, value = mutation.asked
    chronicle = ew.run(ew.Rulebook.parse(text), mutation.bout)
    return ew.inquest(chronicle, **{what: value}).cause.name


def line_of(mutation: Mutation) -> str:
    """The lines that are new in the broken book, in one."""
    old = mutation.old.splitlines() if mutation.book != "pier" else SOUND.splitlines()
    new = [each.strip() for each in mutation.new.splitlines() if each and each not in old]
    return "; ".join(new[:2])[:90] or "(a line taken out)"


def main() -> None:
    """Print what was told first of each broken book, and what was found in sound ones."""
    texts, rows, right = books(), [], 0
    file = Path(__file__).parent / "mutated.toml"
    begun = perf_counter()
    for mutation in MUTATIONS:
        text = texts[mutation.book]
        if mutation.old not in text:
            sys.exit(f"{mutation.book} has no {mutation.old!r}")
        told = first_cause(text.replace(mutation.old, mutation.new, 1), mutation, file)
        good = told == mutation.true
        right += good
        asked = "check" if mutation.asked is None else f"inquest, {mutation.asked[0]}"
        shown = line_of(mutation).replace("|", "\\|")
        rows.append(f"| {mutation.book} | `{shown}` | {asked} | {mutation.true} | {'yes' if good else f'no: {told}'} |")
        if not good:
            print(f"{mutation.book}: {line_of(mutation)}: {told}, not {mutation.true}", file=sys.stderr)
    file.unlink(missing_ok=True)
    clean = {name: [each.name for each in ew.check(ew.Rulebook.parse(text))] for name, text in texts.items()}
    found = sum(len(ew.check(ew.Rulebook.parse(sound_book(seed)))) for seed in range(SOUND_BOOKS))
    share = f"{right} of {len(MUTATIONS)} ({right / len(MUTATIONS):.0%})"
    told = f"The true cause came first in {share}. In the three books as they are: {sum(map(len, clean.values()))} "
    told += f"findings. In {SOUND_BOOKS} random books that are sound by construction: {found} findings."
    print(f"{told}\n{perf_counter() - begun:.0f} s")
    if "--write" in sys.argv[1:]:
        table = ["| book | the line | asked | true cause | first |", "| --- | --- | --- | --- | --- |", *rows]
        page = ROOT / "docs" / "mutations.md"
        page.write_text(f"{HEAD}{told}\n\n" + "\n".join(table) + "\n", encoding="utf-8")


if __name__ == "__main__":
    main()
