"""Validated rules, as all floors below the questions know them; changed ones, and what they warn of."""

from __future__ import annotations

import hashlib
import tomllib
from pathlib import Path
from typing import TYPE_CHECKING, Any, Self

import msgspec

from emberwound.combat.terms import OwnStep
from emberwound.rulebook.load import check_depth, printable, read_file, read_toml, validate
from emberwound.rulebook.models.attacks import Attack
from emberwound.rulebook.models.tables import FrozenTable
from emberwound.vocabulary.errors import Problem, RulebookError, shortened

if TYPE_CHECKING:
    from collections.abc import Mapping, Sequence

    from emberwound.combat.terms import OwnSteps
    from emberwound.rulebook.models import Book


def edited(tables: dict[str, object], changes: Mapping[str, object], source: str) -> dict[str, object]:
    """The tables with each dotted key set, and those made that are not there; None takes a key away.

    A row of a list goes by its `name`. `tables` is changed. Raises RulebookError for a key that leads through what is
    no table.
    """
    for key, value in changes.items():
        *path, last = key.split(".") if isinstance(key, str) else [""]
        place: object = tables
        for step in path:
            place = place.setdefault(step, {}) if isinstance(place, dict) else _row(place, step)
        if not isinstance(place, dict) or not last:
            seen = "a key that leads through what is no table, or no row of that name" if last else "no key"
            where = key if isinstance(key, str) else shortened(key)
            raise RulebookError([Problem(source, where, seen, "give a key such as attacks.flare.damage")])
        if value is None:
            place.pop(last, None)
        else:
            place[last] = list(value) if isinstance(value, tuple) else value
    return tables


def _row(rows: object, name: str) -> object:
    """The first row of that name in a list of tables, such as of reactions; None when there is none."""
    if not isinstance(rows, list):
        return None
    return next((row for row in rows if isinstance(row, dict) and row.get("name") == name), None)


def read_change(text: str) -> tuple[str, object]:
    """A change written KEY=VALUE, the value as in TOML; without one the key is taken away. Raises ValueError."""
    key, equals, written = text.partition("=")
    if not equals or not key.strip():
        raise ValueError("give KEY=VALUE, such as attacks.flare.damage=12")
    if "\n" in text.strip() or "\r" in text.strip():
        raise ValueError("a change is one line; give each change an option of its own, or a comma between them")
    if not written.strip():
        return key.strip(), None
    try:
        return key.strip(), tomllib.loads(f"value = {written}")["value"]
    except tomllib.TOMLDecodeError:
        return key.strip(), written.strip()


CARRIERS = ("shot", "ray", "strike", "throw", "blast_at")
FOR_ITS_OWNER = ("lunge", "invulnerable", "hurtboxes_off", "poses")


def warnings_of(book: Book, file: str) -> list[Problem]:
    """What does nothing in a book, attack by attack."""
    found = []
    for name, attack in book.attacks.items():
        key = f"attacks.{name}"
        if carries_nothing(attack):
            seen = "it does nothing: no shot, ray, strike or blast, and nothing for its owner"
            found.append(
                Problem(
                    file,
                    key,
                    seen,
                    "give it one of them, or a lunge, invulnerable or hurtboxes_off",
                    finding="carries-nothing",
                )
            )
        elif _is_harmless(attack):
            seen = "it hits with nothing: no damage, healing, push, affliction or blast"
            found.append(
                Problem(
                    file,
                    f"{key}.{'heal' if attack.hits_allies else 'damage'}",
                    seen,
                    "give it damage and a kind, or another of them",
                    finding="carries-nothing",
                )
            )
        if attack.releases != Attack.model_fields["releases"].get_default(call_default_factory=True) and not any(
            getattr(attack, each) for each in ("shot", "ray", "throw", "blast_at")
        ):
            seen = "releases without a shot, a ray or a blast"
            found.append(
                Problem(
                    file,
                    f"{key}.releases",
                    seen,
                    "give it one of them, or leave the releases out",
                    finding="carries-nothing",
                )
            )
    return found + _throws_nobody(book, file)


def _throws_nobody(book: Book, file: str) -> list[Problem]:
    """Fighters that throw, and have no attack that holds anybody."""
    found = []
    for name, fighter in book.fighters.items():
        attacks = [(each, book.attacks[each]) for each in fighter.all_attacks]
        throws = [each for each, attack in attacks if attack.throw]
        if throws and not any(attack.grab for _, attack in attacks):
            seen = f"{throws[0]} throws, but no attack of {name} holds anybody"
            found.append(
                Problem(
                    file, f"fighters.{name}.attacks", seen, "give it an attack with a grab", finding="carries-nothing"
                )
            )
    return found


def carries_nothing(attack: Attack) -> bool:
    """Whether an attack neither releases nor strikes, and does nothing for its owner."""
    return not any(getattr(attack, each) for each in (*CARRIERS, *FOR_ITS_OWNER))


def _is_harmless(attack: Attack) -> bool:
    """Whether an attack does nothing to whom it hits."""
    if not any(getattr(attack, each) for each in CARRIERS):
        return False
    boxes = attack.strike.hitboxes.values() if attack.strike else ()
    does = (attack.damage, attack.heal, attack.push, attack.afflicts, attack.blast, attack.hit_stop.amount)
    strikes = attack.grab or (attack.strike and attack.strike.reflects)
    own = any(box.damage or box.push or box.afflicts or (box.hit_stop and box.hit_stop.amount) for box in boxes)
    return not (any(does) or strikes or own)


class Rules:
    """Validated rules, frozen; `emberwound.Rulebook` is these with questions.

    `book` holds the tables, `source` the file's name, `text` what it was read from, if it was, and `hash` a digest of
    the content. `warnings` say what does nothing: each has its `key`, what was `seen`, and what is `allowed` instead.

    Two rulebooks with the same content and own steps are equal, wherever they came from.
    """

    book: Book
    source: str
    text: str
    steps: Mapping[str, OwnStep]
    warnings: tuple[Problem, ...]
    hash: str

    def __init__(
        self,
        book: Book,
        source: str,
        steps: Mapping[str, OwnStep] | None = None,
        warnings: Sequence[Problem] | None = None,
        text: str = "",
    ) -> None:
        self.__dict__.update(
            book=book,
            source=source,
            text=text,
            steps=FrozenTable(steps or {}),
            warnings=tuple(warnings_of(book, source) if warnings is None else warnings),
        )
        self.__dict__["hash"] = digest_of(self.canonical())

    def __setattr__(self, name: str, value: object) -> None:
        raise AttributeError(f"{name}: rules are frozen; rules.edit({{key: value}}) gives changed ones")

    @classmethod
    def load(cls, path: str | Path, steps: OwnSteps | None = None) -> Self:
        """Read a TOML file. Raises RulebookError with every problem of the file.

        `steps` registers own steps of the ledger, name to (function, version), for a book that names them in
        `settings.steps`; the file itself never runs code. A function takes the points so far and a `WoundContext` and
        gives points, depending on nothing else.
        """
        return cls.parse(read_file(path), printable(Path(Path(path).name)), steps)

    @classmethod
    def parse(cls, text: str, source: str = "rulebook", steps: OwnSteps | None = None) -> Self:
        """Read TOML text; `source` names it in messages, `steps` is as for `load`. Raises RulebookError."""
        return cls._validated(read_toml(text, source), source, steps, text)

    @classmethod
    def from_canonical(cls, tables: dict[str, object], source: str = "rulebook", steps: OwnSteps | None = None) -> Self:
        """Read back what `canonical` gave; `steps` is as for `load`. Raises RulebookError with every problem."""
        return cls._validated(tables, source, steps)

    @classmethod
    def _validated(cls, tables: dict[str, object], source: str, steps: OwnSteps | None, text: str = "") -> Self:
        check_depth(tables, source)
        _check_steps(steps or {})
        known = {name: OwnStep(name, function, version) for name, (function, version) in (steps or {}).items()}
        book, unused = validate(tables, source, list(known))
        seen, allowed = "a template that nothing is like", "give an entry of an arena `like` it, or leave it out"
        warnings = [
            *warnings_of(book, source),
            *(Problem(source, key, seen, allowed, finding="template-unused") for key in unused),
        ]
        return cls(book, source, {name: known[name] for name in book.settings.steps}, warnings, text)

    @property
    def step_versions(self) -> dict[str, str]:
        """The own steps that the book names, with their versions."""
        return {name: step.version for name, step in self.steps.items()}

    def edit(self, changes: Mapping[str, object]) -> Self:
        """The same rules with some values changed, by dotted keys: `{"attacks.flare.damage": 12}`.

        A row of reactions goes by its name: `fighters.wader.reactions.reel.seconds`. None takes a key away.
        Raises RulebookError with every problem of the changed book.
        """
        steps = {step.name: (step.function, step.version) for step in self.steps.values()}
        return self.from_canonical(edited(self.canonical(), changes, self.source), self.source, steps)

    def canonical(self) -> dict[str, Any]:
        """The whole content as plain tables, defaults included, in the book's own order; JSON can hold it."""
        return self.book.model_dump(mode="json", by_alias=True, exclude_none=True)

    def __eq__(self, other: object) -> bool:
        return isinstance(other, Rules) and self._identity == other._identity

    def __hash__(self) -> int:
        return hash(self.hash)

    @property
    def _identity(self) -> tuple[str, dict[str, OwnStep]]:
        return (self.hash, dict(self.steps))

    def __repr__(self) -> str:
        book = self.book
        content = f"{len(book.fighters)} fighters, {len(book.attacks)} attacks"
        return f"<{type(self).__name__} {self.source}: {content}, {self.hash[:12]}>"


def digest_of(tables: dict[str, object]) -> str:
    """The hash of a rulebook's tables, as `canonical` gives them."""
    return hashlib.sha256(msgspec.json.encode(tables)).hexdigest()


def _check_steps(steps: Mapping[str, object]) -> None:
    """Own steps are a name each, with a function and the text of its version. Raises RulebookError."""
    for name, step in steps.items():
        pair = step if isinstance(step, tuple | list) and len(step) == 2 else (None, None)
        if not isinstance(name, str) or not callable(pair[0]) or not isinstance(pair[1], str):
            allowed = "give a function and the text of its version, such as (storm, '1.0')"
            raise RulebookError([Problem("", f"steps[{shortened(name)}]", shortened(step), allowed)], asked=True)
