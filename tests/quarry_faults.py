"""Sixty faults of the slate quarry: what was changed, what its author would ask, and the words that name the change."""

from __future__ import annotations

import re
from pathlib import Path
from typing import TYPE_CHECKING, Any, NamedTuple

if TYPE_CHECKING:
    from collections.abc import Iterable

    import emberwound as ew

QUARRY = (Path(__file__).parent / "quarry.toml").read_text(encoding="utf-8")
WORDS = frozenset(
    {"active", "at", "facing", "first", "from", "full", "heal", "health", "life", "near", "on", "order", "to"}
)
"""Keys that are also words of a sentence: they count only where a key or a line of the book is told."""


class Fault(NamedTuple):
    """Pieces of the book that were replaced, what is asked of which bout, and what names the change."""

    edits: tuple[tuple[str, str], ...]
    bout: str
    asked: tuple[str, Any]
    names: tuple[str, ...]

    @property
    def text(self) -> str:
        """The book with its pieces replaced; each must be there."""
        text = QUARRY
        for old, new in self.edits:
            assert old in text, old
            text = text.replace(old, new, 1)
        return text

    def named_by_check(self, found: Iterable[ew.study.Finding]) -> bool:
        """That a finding names the key or the value that was changed."""
        return any(self._named(each.key, f"{each.what}; {each.advice}") for each in found)

    def named_by(self, answer: ew.study.Answer) -> bool:
        """That the first cause of an inquest names it."""
        return self._named(" ".join(answer.cause.set_by), answer.cause.text)

    def _named(self, keys: str, sentence: str) -> bool:
        """One of the names stands among keys, or in a sentence unless it is a word of it anyway."""
        return _has(keys, self.names) or _has(sentence, set(self.names) - WORDS)


def _has(text: str, names: Iterable[str]) -> bool:
    return any(re.search(rf"(?<!\w){re.escape(name)}(?!\w)", text) for name in names)


SLING = '[attacks.sling]\nkind = "stone"\n'
BEETLE = "[fighters.beetle]\n"
FACE = "[arenas.face]\nfloor = 0\n"
GALLERY = "[arenas.gallery]\nfloor = 0\n"
POINT = "strike.hitboxes.point = { from = [0.5, 1.1], to = [1.3, 0.8], radius = 0.2 }"
PICK = '[attacks.pick]\nkind = "stone"\n'
GRUB = 'seats.grub = { fighter = "beetle", at = "east", team = "vermin" }'
WAT = 'seats.wat = { fighter = "quarrier", at = "west", team = "crew" }'
NEAR = 'at = "near", team = "vermin" }\norders'
FIRST_PICK = '{ time = 0.2, seat = "wat", press = "pick" }'
FIRST = ("shot", 1)
SWUNG = ("swing", ("wat", 18))


def fault(bout: str, asked: tuple[str, Any], names: str, *pieces: str) -> Fault:
    """A fault: its pieces are old, new, old, new, ..."""
    return Fault(tuple(zip(pieces[::2], pieces[1::2], strict=True)), bout, asked, tuple(names.split()))


FAULTS = (
    fault("sling", ("order", ("wat", 30)), "windup", 'damage = 8\nwindup = "6f"', "damage = 8\nwindup = 3"),
    fault("sling", FIRST, "range", "life = 3, range = 20", "life = 3, range = 4"),
    fault("sling", FIRST, "life", "life = 3, range = 20", "life = 0.2, range = 20"),
    fault("sling", FIRST, "speed", "speed = 18", "speed = 3"),
    fault("sling", FIRST, "aim", "aim = [1, -0.07]", "aim = [1, 0.5]"),
    fault(
        "melee",
        SWUNG,
        "layers layer plate",
        "radius = 0.45, route",
        'radius = 0.45, layer = "plate", route',
        "radius = 0.2, multiplier",
        'radius = 0.2, layer = "plate", multiplier',
        PICK,
        f'{PICK}layers = ["body"]\n',
    ),
    fault("sling", FIRST, "team crew", GRUB, GRUB.replace('"vermin"', '"crew"')),
    fault("sling", FIRST, "damage_taken", BEETLE, f"{BEETLE}damage_taken = {{ stone = 0 }}\n"),
    fault("sling", FIRST, "flat_reduction", BEETLE, f"{BEETLE}flat_reduction = 30\n"),
    fault("sling", FIRST, "damage", f"{SLING}damage = 8\n", f"{SLING}damage = 0\n"),
    fault("sling", FIRST, "damage", f"{SLING}damage = 8\n", SLING),
    fault("sling", ("order", ("wat", 90)), "cooldown", "cooldown = 0.8", "cooldown = 5"),
    fault("sling", ("order", ("wat", 30)), "cost", SLING, f"{SLING}cost = {{ wind = 60 }}\n"),
    fault(
        "melee",
        ("order", ("wat", 12)),
        "guard guarding allowed_while",
        FIRST_PICK,
        f'{{ time = 0, seat = "wat", hold = "guard" }},\n  {FIRST_PICK}',
    ),
    fault("sling", ("order", ("wat", 90)), "max_shots", 'units = "m"', 'units = "m"\nmax_shots = 1'),
    fault(
        "sling",
        FIRST,
        "postures",
        "radius = 0.45, route",
        'radius = 0.45, postures = ["airborne"], route',
        "radius = 0.2, multiplier = 2",
        'radius = 0.2, postures = ["airborne"], multiplier = 2',
    ),
    fault("sling", FIRST, "gravity_share", "life = 3, range = 20", "life = 3, range = 20, gravity_share = 6"),
    fault("melee", FIRST, "direction facing", 'direction = "foe"', 'direction = "facing", lift_deg = 40'),
    fault("sling", FIRST, "post", FACE, f"{FACE}walls.post = {{ at = [3, 1], size = [0.3, 2] }}\n"),
    fault("sling", FIRST, "bounds", "high = [26, 12] }\nentries.west", "high = [26, 1.2] }\nentries.west"),
    fault("melee", SWUNG, "point from to", POINT, POINT.replace("0.5,", "-0.5,").replace("1.3,", "-1.3,")),
    fault("melee", SWUNG, "point from to", POINT, POINT.replace("1.1]", "2.1]").replace("0.8]", "2.2]")),
    fault(
        "melee",
        SWUNG,
        "point to",
        POINT,
        "strike.hitboxes.point = { from = [0.5, 1.1], to = [0.6, 0.9], radius = 0.1 }",
    ),
    fault("melee", SWUNG, "active", 'active = "5f"', "active = 0"),
    fault("melee", SWUNG, "on", POINT, POINT.replace(" }", ", on = [{ from = 0.4, until = 0.5 }] }")),
    fault(
        "melee",
        ("swing", ("grub", 12)),
        "interrupted_by stone",
        "damage = 14\n",
        'damage = 14\ninterrupted_by = ["stone"]\n',
        "time = 2.5, seat",
        "time = 0.2, seat",
    ),
    fault(
        "melee",
        SWUNG,
        "facing",
        WAT + '\nseats.grub = { fighter = "beetle", at = "near"',
        WAT.replace(" }", ', facing = "left" }') + '\nseats.grub = { fighter = "beetle", at = "near"',
    ),
    fault("melee", SWUNG, "near at", "near = { at = [1.6, 0]", "near = { at = [3.4, 0]"),
    fault(
        "melee",
        SWUNG,
        "invulnerable",
        "damage = 14\n",
        "damage = 14\ninvulnerable = [{ until = 0.75 }]\n",
        "time = 2.5, seat",
        "time = 0.2, seat",
    ),
    fault("melee", FIRST, "damage_share", "damage_share = 0.2", "damage_share = 0"),
    fault("melee", FIRST, "classes", "arc_deg = 160", 'arc_deg = 160, classes = ["low"]'),
    fault("melee", FIRST, "perfect", 'perfect = "6f"', 'perfect = "600f"'),
    fault("melee", SWUNG, "shell 4000", "shell = { max = 20 }", "shell = { max = 4000 }"),
    fault("melee", ("alive", "grub"), "refill", "shell = { max = 20 }", "shell = { max = 20, refill = 200 }"),
    fault("sling", ("alive", "grub"), "health 50000 50,000", "max = 50, vital", "max = 50000, vital"),
    fault("sling", ("alive", "grub"), "refill", "max = 50, vital", "max = 50, refill = 40, vital"),
    fault("crew", ("swing", ("wat", 115)), "hits_allies", "hits_allies = true\n", ""),
    fault("crew", ("swing", ("wat", 115)), "heal", "heal = 15\n", "heal = 0\n"),
    fault(
        "gallery", ("missing", ("respawn", "wat")), "respawn_seconds", "respawn_seconds = 1.5", "respawn_seconds = 40"
    ),
    fault("gallery", ("missing", ("respawn", "wat")), "lives", "lives = 3", "lives = 1"),
    fault(
        "gallery", ("missing", ("checkpoint", "wat")), "winch", "winch = { at = [14, 0.8]", "winch = { at = [14, 6.8]"
    ),
    fault("gallery", ("missing", ("checkpoint", "wat")), "order", "1.6], order = 1", "1.6], order = 3"),
    fault(
        "gallery",
        ("missing", ("checkpoint", "wat")),
        "beam",
        GALLERY,
        f"{GALLERY}walls.beam = {{ at = [12.5, 1], size = [0.5, 2] }}\n",
    ),
    fault("gallery", ("missing", ("pickup", "wat")), "slate", "slate = { at = [11, 0.6]", "slate = { at = [11, 5]"),
    fault(
        "gallery", ("missing", ("pickup", "wat")), "flask full wind", "gives = { health = 5 }", "gives = { wind = 5 }"
    ),
    fault("melee", ("missing", ("cue", "grub")), "min_points", "min_points = 5", "min_points = 50"),
    fault(
        "sling",
        ("missing", ("cue", "grub")),
        "healed",
        '[cues.alarm]\non = ["wounded"]\nbelow = 0.4',
        '[cues.alarm]\non = ["healed"]',
    ),
    fault("melee", ("missing", ("cue", "grub")), "kinds", "min_points = 5", 'kinds = ["balm"]\nmin_points = 5'),
    fault(
        "gallery",
        ("alive", "wat"),
        "schedule first",
        "rehit_every = 0.6",
        "schedule = { first = 30, on = 1, off = 1 }, rehit_every = 0.6",
        "until = 6.5",
        "until = 3",
    ),
    fault("gallery", ("alive", "wat"), "chasm", "chasm = { at = [24, 0.4]", "chasm = { at = [24, 4]"),
    fault("gallery", ("alive", "wat"), "fatal chasm", "fatal = true }", "fatal = false }"),
    fault(
        "melee",
        ("push", ("wat", "grub")),
        "push",
        "hit_stop = 0.05\npush = { speed = 4, lift_deg = 20 }",
        "hit_stop = 0.05",
    ),
    fault("melee", ("push", ("wat", "grub")), "weight", "weight = 1.5", "weight = 500"),
    fault(
        "melee", ("push", ("wat", "grub")), "heap", FACE, f"{FACE}walls.heap = {{ at = [2.3, 1], size = [0.3, 2] }}\n"
    ),
    fault(
        "melee", ("push", ("wat", "grub")), "push_share", "radius = 0.45, route", "radius = 0.45, push_share = 0, route"
    ),
    fault("gallery", ("order", ("wat", 0)), "speed", "speed = 4\nattacks", "speed = 0.01\nattacks"),
    fault(
        "gallery",
        ("order", ("wat", 0)),
        "beam",
        GALLERY,
        f"{GALLERY}walls.beam = {{ at = [0.7, 1], size = [0.5, 2] }}\n",
    ),
    fault(
        "melee",
        ("order", ("wat", 240)),
        "hold",
        '{ time = 4, seat = "wat", hold = "guard" }',
        '{ time = 4, seat = "wat", hold = ["pick", "sling"] }',
    ),
    fault("sling", FIRST, "falloff", SLING, f"{SLING}falloff = {{ near = 0.1, far = 1 }}\n"),
    fault("sling", ("alive", "grub"), "until", GRUB, GRUB.replace(" }", ", until = 0.5 }")),
)
