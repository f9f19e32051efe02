"""The rulebook a user holds in hand: validated rules, and the questions that can be asked of them without a bout."""

from __future__ import annotations

from typing import TYPE_CHECKING, Any

from emberwound.rulebook import Rules
from emberwound.rulebook.schema import json_schema
from emberwound.study.knockback import knockback_report, ragdoll_preview
from emberwound.study.reaction import reaction_report
from emberwound.study.timing import timing, timing_table
from emberwound.study.wound import match_table, report

if TYPE_CHECKING:
    from collections.abc import Mapping
    from pathlib import Path

    from emberwound.combat.reaction import Side
    from emberwound.study.check.survey import Finding
    from emberwound.study.knockback import KnockbackReport, RagdollPreview
    from emberwound.study.reach import Reach
    from emberwound.study.reaction import Advantage, ReactionReport
    from emberwound.study.timing import AttackTiming
    from emberwound.study.wound import MatchRow, WoundReport


class Rulebook(Rules):
    """Validated rules, frozen.

    `book` holds the tables, `source` the file's name, `text` what it was read from, `hash` a digest of the content.
    `warnings` say what does nothing: each has its `key`, what was `seen`, and what is `allowed` instead.

    `load`, `parse` and `from_canonical` make one. Two with the same content and own steps are equal, wherever they
    came from.
    """

    @classmethod
    def of(cls, rules: Rules) -> Rulebook:
        """The same rules as a rulebook, such as those of a chronicle."""
        return (
            rules
            if isinstance(rules, Rulebook)
            else cls(rules.book, rules.source, rules.steps, rules.warnings, rules.text)
        )

    @staticmethod
    def json_schema() -> dict[str, Any]:
        """The JSON Schema of every rulebook, of draft 2020-12, as plain values.

        It checks keys, types and ranges, table by table; what goes beyond one table only loading a book checks.
        """
        return json_schema()

    def wound(  # noqa: PLR0913 (each is a circumstance of its own, by name)
        self,
        attack: str,
        victim: str,
        *,
        hurtbox: str | None = None,
        hitbox: str | None = None,
        blast: bool | None = None,
        guarded: bool = False,
        distance: float = 0.0,
        charge: float | None = None,
        combo_count: int = 0,
        pools: Mapping[str, float] | None = None,
    ) -> WoundReport:
        """What an attack would do to a fighter, with its ledger; no bout is needed.

        Anything you omit has a default: `hurtbox` and `hitbox` are those with which a victim who stands in front meets
        it first, as `met_at` says, else the first match; `blast` is true of an attack that does nothing else. `guarded`
        asks the victim's guard from the front; `distance` is that flown, or from the middle of a blast; `charge` is a
        share from 0 to 1; `combo_count` is how many wounds came shortly before; `pools` are the values before it, the
        start of each that you omit. Raises RulebookError for what the book does not have, and for what its layers
        never touch.
        """
        return report(
            self,
            attack,
            victim,
            hurtbox=hurtbox,
            hitbox=hitbox,
            blast=blast,
            guarded=guarded,
            distance=distance,
            charge=charge,
            combo_count=combo_count,
            pools=pools,
        )

    def check(self) -> list[Finding]:
        """What in the book does not do what it seems to say, the worst first, then by line. No bout is run."""
        from emberwound.study.check import check

        return check(self)

    @staticmethod
    def check_file(path: str | Path) -> list[Finding]:
        """The same of a file, which may be one that cannot be loaded: that is then given as findings called "error".

        Raises RulebookError for a path where there is no TOML file.
        """
        from emberwound.study.check import check

        return check(path)

    def wound_table(self) -> list[MatchRow]:
        """Every attack against every fighter and hurtbox: damage, hits to kill, and seconds to kill."""
        return match_table(self)

    def timing_table(self) -> list[AttackTiming]:
        """The timing of every attack, in the book's order."""
        return timing_table(self)

    def ragdoll(
        self, attack: str, victim: str, *, hurtbox: str | None = None, arena: str | None = None
    ) -> RagdollPreview:
        """How a fighter falls whom a hit of an attack kills, moment by moment.

        It is hit at the first hurtbox when none is named, in the first arena. Raises RulebookError for what the book
        does not have, and for a fighter without a ragdoll.
        """
        return ragdoll_preview(self, attack, victim, hurtbox=hurtbox, arena=arena)

    def timing(self, attack: str) -> AttackTiming:
        """When an attack does what, in ticks of the book's rate and in seconds. Raises RulebookError."""
        return timing(self, attack)

    def knockback_path(  # noqa: PLR0913 (as `wound` has them)
        self,
        attack: str,
        victim: str,
        *,
        arena: str | None = None,
        hurtbox: str | None = None,
        hitbox: str | None = None,
        blast: bool | None = None,
        guarded: bool = False,
        distance: float = 0.0,
        charge: float | None = None,
        combo_count: int = 0,
        pools: Mapping[str, float] | None = None,
    ) -> KnockbackReport:
        """Where the push of an attack takes a standing victim if it meets nothing; all else is as for `wound`.

        The `arena` is the first when it is not named. Raises RulebookError.
        """
        return knockback_report(
            self,
            attack,
            victim,
            arena=arena,
            hurtbox=hurtbox,
            hitbox=hitbox,
            blast=blast,
            guarded=guarded,
            distance=distance,
            charge=charge,
            combo_count=combo_count,
            pools=pools,
        )

    def reaction(  # noqa: PLR0913 (as `wound` has them)
        self,
        attack: str,
        victim: str,
        *,
        side: Side = "front",
        hurtbox: str | None = None,
        hitbox: str | None = None,
        blast: bool | None = None,
        guarded: bool = False,
        distance: float = 0.0,
        charge: float | None = None,
        combo_count: int = 0,
        pools: Mapping[str, float] | None = None,
    ) -> ReactionReport:
        """How a standing victim would react to an attack that comes from a side of it; all else is as for `wound`.

        Its stagger resistance is whole. Raises RulebookError.
        """
        return reaction_report(
            self,
            attack,
            victim,
            side=side,
            hurtbox=hurtbox,
            hitbox=hitbox,
            blast=blast,
            guarded=guarded,
            distance=distance,
            charge=charge,
            combo_count=combo_count,
            pools=pools,
        )

    def reach(self, attack: str, victim: str, *, by: str | None = None, arena: str | None = None) -> Reach:
        """How far an attack comes to a fighter who stands in front of its owner, and which hurtbox it meets there.

        `by` is the first fighter that has the attack when it is not named, and the `arena`, whose space and gravity
        count, the first. Raises RulebookError for what the book does not have, and for an attack that nobody has.
        """
        from emberwound.study.reach import reach_of

        return reach_of(self, attack, victim, by=by, arena=arena)

    def advantage(self, attack: str, victim: str, *, by: str | None = None) -> Advantage:
        """Who can attack first after an attack lands, on a hit and on a guard, and what each can then land.

        `by` is the first fighter that has the attack when it is not named. Raises RulebookError.
        """
        from emberwound.study.reaction import advantage_of

        return advantage_of(self, attack, victim, by=by)
