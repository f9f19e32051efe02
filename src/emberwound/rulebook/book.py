"""The rulebook a user holds in hand."""

from __future__ import annotations

import hashlib
from pathlib import Path
from typing import TYPE_CHECKING, Any

import msgspec

from emberwound.combat.terms import OwnStep
from emberwound.rulebook.edit import edited
from emberwound.rulebook.load import read_file, read_toml, validate
from emberwound.rulebook.reactions import advantage, reaction_report
from emberwound.rulebook.reports import report
from emberwound.rulebook.throws import push_report
from emberwound.rulebook.timing import timing

if TYPE_CHECKING:
    from collections.abc import Callable, Mapping

    from emberwound.combat.terms import WoundContext
    from emberwound.rulebook.models import Book
    from emberwound.rulebook.reactions import Advantage, ReactionReport
    from emberwound.rulebook.reports import WoundReport
    from emberwound.rulebook.throws import PushReport
    from emberwound.rulebook.timing import AttackTiming

    Steps = Mapping[str, tuple[Callable[[float, WoundContext], float], str]]


class Rulebook:
    """Validated rules, frozen. `book` holds the tables, `source` the file's name, `hash` a digest of the content.

    Two rulebooks with the same content and own steps are equal, wherever they came from.
    """

    def __init__(self, book: Book, source: str, steps: Mapping[str, OwnStep] | None = None) -> None:
        self.book = book
        self.source = source
        self.steps = dict(steps or {})
        self.hash = hashlib.sha256(msgspec.json.encode(self.canonical())).hexdigest()

    @classmethod
    def load(cls, path: str | Path, steps: Steps | None = None) -> Rulebook:
        """Read a TOML file. Raises RulebookError with every problem of the file.

        `steps` registers own steps of the ledger, name to (function, version), for a book that names them in
        `settings.steps`; the file itself never runs code. A function takes the points so far and a `WoundContext` and
        gives points, depending on nothing else.
        """
        return cls.parse(read_file(path), Path(path).name, steps)

    @classmethod
    def parse(cls, text: str, source: str = "rulebook", steps: Steps | None = None) -> Rulebook:
        """Read TOML text; `source` names it in messages, `steps` is as for `load`. Raises RulebookError."""
        return cls._validated(read_toml(text, source), source, steps)

    @classmethod
    def from_canonical(cls, tables: dict[str, Any], source: str = "rulebook", steps: Steps | None = None) -> Rulebook:
        """Read back what `canonical` gave; `steps` is as for `load`. Raises RulebookError with every problem."""
        return cls._validated(tables, source, steps)

    @classmethod
    def _validated(cls, tables: dict[str, Any], source: str, steps: Steps | None) -> Rulebook:
        known = {name: OwnStep(name, function, version) for name, (function, version) in (steps or {}).items()}
        book = validate(tables, source, list(known))
        return cls(book, source, {name: known[name] for name in book.settings.steps})

    @property
    def step_versions(self) -> dict[str, str]:
        """The own steps that the book names, with their versions."""
        return {name: step.version for name, step in self.steps.items()}

    def wound(self, attack: str, victim: str, **how: Any) -> WoundReport:
        """What an attack would do to a fighter, with its ledger; no bout is needed.

        `hurtbox` is the first when it is not named; `guarded` asks the victim's guard from the front; `distance` is
        that flown; `charge` a share from 0 to 1; `in_a_row` how many wounds came shortly before; `pools` the values
        before it, the start of each where it is not named. Raises RulebookError for what the book does not have.
        """
        return report(self, attack, victim, **how)

    def timing(self, attack: str) -> AttackTiming:
        """When an attack does what, in ticks of the book's rate and in seconds. Raises RulebookError."""
        return timing(self, attack)

    def push_path(self, attack: str, victim: str, **how: Any) -> PushReport:
        """Where the push of an attack takes a standing victim, if it meets nothing.

        How, all of it optional: `arena` (the first), `hitbox`, `hurtbox`, and `guarded`. Raises RulebookError.
        """
        return push_report(self, attack, victim, **how)

    def reaction(self, attack: str, victim: str, **how: Any) -> ReactionReport:
        """How a standing victim would react to an attack.

        How, all of it optional: `hitbox`, `hurtbox`, `guarded`, and the `side` it comes from. Raises RulebookError.
        """
        return reaction_report(self, attack, victim, **how)

    def advantage(self, attack: str, victim: str) -> Advantage:
        """Who can act first after an attack lands, on a hit and on a guard, by how many ticks. Raises RulebookError."""
        return advantage(self, attack, victim)

    def edit(self, changes: Mapping[str, Any]) -> Rulebook:
        """The same rules with some values changed, by dotted keys: `{"attacks.flare.damage": 12}`.

        None takes a key away. Raises RulebookError with every problem of the changed book.
        """
        steps = {step.name: (step.function, step.version) for step in self.steps.values()}
        return Rulebook.from_canonical(edited(self.canonical(), changes, self.source), self.source, steps)

    def canonical(self) -> dict[str, Any]:
        """The whole content as plain tables, defaults included, in the book's own order; JSON can hold it."""
        return self.book.model_dump(mode="json", by_alias=True, exclude_none=True)

    def __eq__(self, other: object) -> bool:
        return isinstance(other, Rulebook) and self._identity == other._identity

    def __hash__(self) -> int:
        return hash(self.hash)

    @property
    def _identity(self) -> tuple[str, dict[str, OwnStep]]:
        return (self.hash, self.steps)

    def __repr__(self) -> str:
        book = self.book
        return f"<Rulebook {self.source}: {len(book.fighters)} fighters, {len(book.attacks)} attacks, {self.hash[:12]}>"
