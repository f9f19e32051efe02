"""Is the true cause named? Sound books are broken in one place each, and check and inquest are asked.

python benchmarks/mutations.py [--write]   (then also docs/mutations.md)
"""

from __future__ import annotations

import contextlib
import random
import re
import sys
from importlib.resources import files
from pathlib import Path
from tempfile import TemporaryDirectory
from time import perf_counter
from typing import Any, NamedTuple

ROOT = Path(__file__).parent.parent
sys.path.insert(0, str(ROOT / "tests"))

import emberwound as ew
from quarry_faults import FAULTS, QUARRY
from sound_books import sound_book
from test_check import BROKEN, SOUND

SOUND_VARIANTS = 100
"""Of each of five books."""

FIRST_SCORE = "23 of 60 (check 11, inquest 15)"
"""Of the quarry's faults, on the day they were written, by the tools as they were then."""

FIGURES = re.compile(r"\b(damage|max|refill|speed|cost)( = )(\d+(?:\.\d+)?)\b")
"""Figures that a book may have a tenth more or less of, and stays sound."""
HEAD = """# Mutations

How often do `check` and `inquest` name what is wrong with a book? Two measures of it, and a third of what they say
about books with which nothing is wrong. `python benchmarks/mutations.py --write` measures and writes this page.

"""
QUARRY_HEAD = """## Sixty faults of the quarry

Each is one change of the book `tests/quarry.toml`, which is sound, with the question that its author would ask. Both
tools are asked about every one. A fault counts as told if an answer names the key that was changed, or its value:
`check` in a key or a sentence of any finding, `inquest` in its first cause.
Words that any sentence has count only in a key.
"""
BROKEN_HEAD = """## One line broken

Each is a line of a book that is sound, broken with its true cause noted by hand. Here the *name* of the first cause
must be the one noted. `check` is asked, or `inquest` about the bout.
"""
SOUND_HEAD = """## Sound books

Each variant has every damage, pool, cost, refill and speed of a sound book a tenth more or less, at random.
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
        "too-late",
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
    of_crab("cooldown = 0.5", 'cooldown = "1/7"', "off-grid-time"),
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
    of_crab("respawn_seconds = 1\n", "respawn_seconds = 50\n", "too-late", "missing", ("respawn", "moss")),
    of_crab('{ time = 0, seat = "crab", hold = "claw" },', "", "never-ordered", "alive", "moss"),
    of_crab(
        "pools.health = { max = 30, vital = true }",
        "pools.health = { max = 3000, vital = true }",
        "still-alive",
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
        return next((each.name for each in ew.Rulebook.check_file(file)), "nothing")
    what, value = mutation.asked
    chronicle = ew.run(ew.Rulebook.parse(text), mutation.bout)
    return ew.inquest(chronicle, **{what: value}).cause.name


def line_of(mutation: Mutation) -> str:
    """The lines that are new in the broken book, in one."""
    old = mutation.old.splitlines() if mutation.book != "pier" else SOUND.splitlines()
    new = [each.strip() for each in mutation.new.splitlines() if each and each not in old]
    return "; ".join(new[:2])[:90] or "(a line taken out)"


def of_quarry(file: Path) -> list[str]:
    """What both tools say of the sixty faults: a sentence and a table."""
    rows, score = [], dict.fromkeys(("check", "inquest", "either", "tried"), 0)
    for fault in FAULTS:
        file.write_text(fault.text, encoding="utf-8")
        by_check, by_inquest, tried = fault.named_by_check(ew.Rulebook.check_file(file)), False, False
        with contextlib.suppress(ew.RulebookError, ew.ChronicleError):
            answer = ew.inquest(ew.run(ew.Rulebook.load(file), fault.bout), **{fault.asked[0]: fault.asked[1]})
            by_inquest, tried = fault.named_by(answer), answer.trial is not None
        for name, good in zip(score, (by_check, by_inquest, by_check or by_inquest, tried), strict=True):
            score[name] += good
        changed = "; ".join(new if len(new) < 70 else new.replace(old, "...").strip() for old, new in fault.edits)
        shown = " ".join(changed.split()).replace("|", "\\|")[:90]
        cells = (f"`{shown}`", fault.asked[0], *("yes" if each else "no" for each in (by_check, by_inquest, tried)))
        rows.append(f"| {' | '.join(cells)} |")
    told = (
        f"Told by either: {score['either']} of {len(FAULTS)}; `check` {score['check']}, the first cause of `inquest` "
    )
    told += f"{score['inquest']}; {score['tried']} answers tell of a change that was tried. The first score, before "
    told += f"anything was mended for them, was {FIRST_SCORE}."
    return [told, "", "| changed | asked | check | inquest | tried |", "| --- | --- | --- | --- | --- |", *rows]


def of_lines(file: Path, texts: dict[str, str]) -> list[str]:
    """Which cause comes first of each broken line: a sentence and a table."""
    rows, right = [], 0
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
    told = f"The true cause came first in {right} of {len(MUTATIONS)}."
    return [told, "", "| book | the line | asked | true cause | first |", "| --- | --- | --- | --- | --- |", *rows]


def variant(text: str, seed: int) -> str:
    """A book with its figures a tenth more or less."""
    rng = random.Random(seed)  # noqa: S311

    def other(found: re.Match[str]) -> str:
        return f"{found[1]}{found[2]}{float(found[3]) * rng.uniform(0.9, 1.1):.3g}"

    return FIGURES.sub(other, text)


def of_sound(texts: dict[str, str]) -> list[str]:
    """What is found in books with which nothing is wrong."""
    rows, total = [], dict.fromkeys(("error", "warning", "hint"), 0)
    for name in (*texts, "random"):
        count = dict.fromkeys(total, 0)
        for seed in range(SOUND_VARIANTS):
            text = sound_book(seed) if name == "random" else variant(texts[name], seed)
            worst = next((each.severity for each in ew.Rulebook.parse(text).check()), None)
            if worst:
                count[worst] += 1
        rows.append(f"| {name} | {SOUND_VARIANTS} | {' | '.join(str(each) for each in count.values())} |")
        total = {each: total[each] + count[each] for each in total}
    told = (
        f"{sum(total.values())} of {SOUND_VARIANTS * (len(texts) + 1)} are said to have something: {total['error']} an "
    )
    told += f"error, {total['warning']} a warning, {total['hint']} a hint."
    return [told, "", "| book | variants | an error | a warning | a hint |", "| --- | --- | --- | --- | --- |", *rows]


def main() -> None:
    """Print how many faults were told of, and what was found in sound books; with --write as a page too."""
    texts = books()
    begun = perf_counter()
    with TemporaryDirectory() as folder:
        file = Path(folder) / "book.toml"
        parts = [
            (QUARRY_HEAD, of_quarry(file)),
            (BROKEN_HEAD, of_lines(file, texts)),
            (SOUND_HEAD, of_sound(texts | {"quarry": QUARRY})),
        ]
    for _, lines in parts:
        print(lines[0])
    print(f"{perf_counter() - begun:.0f} s")
    if "--write" in sys.argv[1:]:
        page = "\n".join(f"{head}\n" + "\n".join(lines) + "\n" for head, lines in parts)
        (ROOT / "docs" / "mutations.md").write_text(HEAD + page, encoding="utf-8")


if __name__ == "__main__":
    main()
