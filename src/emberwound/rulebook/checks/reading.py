"""What parsed of a book, entry by entry, and what is found wrong with it; shapes on fighters."""

from __future__ import annotations

import re
from dataclasses import dataclass
from string import Formatter
from typing import TYPE_CHECKING, Any, get_args

from pydantic import BaseModel, ValidationError

from emberwound.rulebook.models import Book, Settings
from emberwound.rulebook.outline import Key, dotted, table_keys, unwrap
from emberwound.vocabulary.errors import Problem, nearest_name
from emberwound.vocabulary.limits import MOST_PROBLEMS_TOLD, SHOT_LAYER, listed

if TYPE_CHECKING:
    from collections.abc import Iterable, Mapping, Sequence
    from fractions import Fraction

    from emberwound.rulebook.models import (
        Affliction,
        Arena,
        Attack,
        Bar,
        Blast,
        BoutTable,
        Counter,
        Cue,
        Fighter,
        Kind,
        PartShape,
        Prop,
    )
    from emberwound.vocabulary.clock import Duration


SHORT_FORMAT = re.compile(r"[<>^]?[+]?0?\d{0,2}(\.\d{1,2})?[dfges%]?")
"""How a field of a text may be written: aligned, with so many places, as a number of some sort."""

POINTS = {"side": "[x, z]", "top": "[x, y]", "3d": "[x, y, z]"}


class Findings:
    """The parts of a book that parsed, and the problems found in them so far."""

    def __init__(self, book: Parsed, file: str) -> None:
        self.book = book
        self.file = file
        self.problems: list[Problem] = []

    def report(
        self, key: Key, seen: str, allowed: str, nearest: str | None = None, *, finding: str | None = None
    ) -> None:
        """Note one problem; `finding` is its name among those that `emberwound check` knows."""
        self.problems.append(Problem(self.file, dotted(key), seen, allowed, nearest, finding))

    def unknown(self, key: Key, what: str, name: str, known: Iterable[str], *, finding: str | None = None) -> None:
        """Note a name that is not there."""
        names = list(known)
        nearest = nearest_name(name, names) if len(self.problems) < MOST_PROBLEMS_TOLD else None
        self.report(key, f'there is no {what} "{name}"', f"known: {listed(names)}", nearest, finding=finding)

    def doubles(self, key: Key, names: Sequence[object]) -> None:
        """Note what stands in a list twice."""
        for index, name in enumerate(names):
            if name in names[:index]:
                self.report((*key, index), f'"{name}" for the second time', "each may stand here once")

    def placeholders(self, key: Key, text: str, what: str, known: Sequence[str]) -> None:
        """Note what a text would have filled in that is not there, and braces and formats that cannot be read."""
        try:
            parts = [part for part in Formatter().parse(text) if part[1] is not None]
            fields = [field or "" for _, field, _, _ in parts]
            for _, field, form, conversion in parts:
                if conversion or not SHORT_FORMAT.fullmatch(form or ""):
                    allowed = "give a short format such as {value:g}, {value:.1f} or {share:.0%}: 99 places at most"
                    self.report(key, f'"{{{field}{"!" if conversion else ":"}{conversion or form}}}"', allowed)
                    return
            if set(fields) <= set(known):
                text.format_map(dict.fromkeys(known, 1.0) if what == "text" else dict.fromkeys(known, ""))
        except ValueError:
            self.report(key, f'"{text}"', "a brace that is meant is written twice: {{ or }}")
            return
        for field in fields:
            if field not in known:
                self.unknown(key, f"field of the {what}", field, known)

    def seconds(self, time: Duration) -> Fraction:
        """A time in seconds."""
        return time.seconds(self.book.settings.frame_rate)

    def owners(self, attack: str) -> list[tuple[str, Fighter]]:
        """The fighters that have an attack."""
        return [(name, fighter) for name, fighter in self.book.fighters.items() if attack in fighter.all_attacks]

    def fits_space(self, key: Key, point: Sequence[float], space: str) -> bool:
        """Whether a point has as many numbers as the space has axes; a problem if it has not."""
        if len(point) != (3 if space == "3d" else 2):
            self.report(key, said(point), f'a point of an arena with space = "{space}" is {POINTS[space]}')
            return False
        return True


def said(numbers: Sequence[float]) -> str:
    """A point in few letters."""
    return f"[{', '.join(f'{each:g}' for each in numbers)}]"


@dataclass(frozen=True)
class Parsed:
    """Each section holds the entries that parsed; `names` holds all names of a section, broken entries included."""

    settings: Settings
    kinds: dict[str, Kind]
    fighters: dict[str, Fighter]
    props: dict[str, Prop]
    counters: dict[str, Counter]
    cues: dict[str, Cue]
    bars: dict[str, Bar]
    afflictions: dict[str, Affliction]
    blasts: dict[str, Blast]
    attacks: dict[str, Attack]
    arenas: dict[str, Arena]
    bouts: dict[str, BoutTable]
    names: dict[str, list[str]]

    def entries(self, section: str) -> dict[str, BaseModel]:
        """The entries of a section that parsed."""
        found: dict[str, BaseModel] = getattr(self, section)
        return found


def entries_of(book: Book) -> Parsed:
    """The entries of a book that parsed as a whole."""
    sections = {section: getattr(book, section) for section in table_keys(Book)}
    return Parsed(**sections, names={name: list(each) for name, each in sections.items() if name != "settings"})


def parse_entries(raw: Mapping[str, object]) -> Parsed:
    """Read every entry of every section by itself.

    An entry that cannot be read is left out; settings that cannot be read are the defaults.
    """
    sections: dict[str, Any] = {}
    names: dict[str, list[str]] = {}
    for section, annotation in table_keys(Book).items():
        table = raw.get(section)
        bare, _ = unwrap(annotation)
        if section == "settings":
            sections[section] = _read(Settings, table or {}) or Settings()
            continue
        model = get_args(bare)[1]
        entries = table if isinstance(table, dict) else {}
        read = {name: _read(model, entry) for name, entry in entries.items()}
        sections[section] = {name: entry for name, entry in read.items() if entry is not None}
        names[section] = list(entries)
    return Parsed(**sections, names=names)


def _read(model: type[BaseModel], raw: object) -> BaseModel | None:
    try:
        return model.model_validate(raw)
    except ValidationError:
        return None


def check_joints(found: Findings, key: Key, part: PartShape, what: str, joints: Mapping[str, object]) -> None:
    """The places of a part must be joints that there are."""
    for end, place in (("from", part.from_), ("to", part.to)):
        if isinstance(place, str) and place not in joints:
            found.unknown((*key, end), what, place, joints)


def check_shape(found: Findings, key: Key, part: PartShape) -> None:
    """A part is a sphere or a capsule, or else a box."""
    if (part.radius is None) == (part.size is None):
        seen = "radius and size" if part.size is not None else "neither radius nor size"
        found.report(key, seen, "a sphere or capsule has a radius, a box has a size; give one of them")
    if part.size is not None and part.to is not None:
        found.report((*key, "to"), "a box with a second end", "a box lies round its place `from`; leave `to` out")
    if part.turn_deg and part.size is None:
        found.report((*key, "turn_deg"), "a turn of what is no box", "only a box, with a size, can be turned")
    if part.size is not None and min(part.size) <= 0.0:
        found.report((*key, "size"), said(part.size), "each size of a box must be above 0")


def layers_named(found: Findings) -> list[str]:
    """The layers of all hurtboxes in the book, and of shots that can be destroyed."""
    bodies = (*found.book.fighters.values(), *found.book.props.values())
    shots = [SHOT_LAYER for attack in found.book.attacks.values() if attack.shot and attack.shot.health]
    return list(dict.fromkeys([*(box.layer for body in bodies for box in body.hurtboxes.values()), *shots]))


def check_layers(found: Findings, key: Key, layers: Sequence[str] | None) -> None:
    """Layers must be those of hurtboxes, each once."""
    if layers is None:
        return
    known = layers_named(found)
    for index, layer in enumerate(layers):
        if layer not in known:
            found.unknown((*key, index), "hurtbox with the layer", layer, known)
    found.doubles(key, layers)
