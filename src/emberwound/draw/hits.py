"""The figures of pushes and of reactions: what a victim does after a hit."""

from __future__ import annotations

from textwrap import fill
from typing import TYPE_CHECKING, NamedTuple

import numpy as np

from emberwound.combat.reaction import blend
from emberwound.draw.answers import COLUMNS, push_rows
from emberwound.draw.palette import EMBER, GROUND, INK, PAPER, SOFT_INK, Look, seat_look
from emberwound.draw.style import dress, figure, headline
from emberwound.rulebook.terms import reaction_terms

if TYPE_CHECKING:
    from collections.abc import Sequence

    from matplotlib.axes import Axes
    from matplotlib.figure import Figure

    from emberwound.face import Rulebook
    from emberwound.study.knockback import KnockbackReport
    from emberwound.study.reaction import Advantage, Exchange, NextAttack, ReactionReport


APART = 0.07
"""Of the height shown: how far below each other the slides of several ways lie."""

FLAT = 0.02
"""Of its length: how high an axis is at the least, so that a slide has room."""


def draw_knockback(
    rules: Rulebook,
    attack: str,
    victim: str,
    *,
    arena: str | None = None,
    hitbox: str | None = None,
    blast: bool | None = None,
    guarded: bool = False,
    variants: Sequence[tuple[str, Rulebook]] = (),
) -> Figure:
    """The paths of pushes: height over the distance along the ground, and below it a table of their figures.

    What is asked is as for `Rulebook.knockback_path`; `variants` are other rules with names, drawn beside these.
    Raises RulebookError for names that a book does not have.
    """
    named = (("as in the book" if variants else "", rules), *variants)
    pushes = [
        (name, each.knockback_path(attack, victim, arena=arena, hitbox=hitbox, blast=blast, guarded=guarded))
        for name, each in named
    ]
    return draw_pushes(pushes, rules.book.settings.units)


def draw_pushes(variants: Sequence[tuple[str, KnockbackReport]], units: str) -> Figure:
    """The paths of pushes that were asked for, with names, and a table of their figures."""
    sheet = figure(height=7.2)
    above, below = sheet.subplots(2, 1, height_ratios=(3.4, 0.42 + 0.3 * len(variants)))
    draw_ways(variants, above, units)
    _draw_table(variants, below, units)
    first = variants[0][1]
    guarded = ", guarded" if first.guarded else ""
    headline(sheet, f"{first.attack} knocks {first.victim}{guarded} back in {first.arena}")
    return sheet


def draw_ways(variants: Sequence[tuple[str, KnockbackReport]], axes: Axes, units: str) -> Axes:
    """Each way with its apex, landing and rest marked, and a dot every tenth of a second.

    What slides lies on the ground; so that ways do not cover each other, each lies a little below the one before.
    """
    far = max(report.rest for _, report in variants) or 1.0
    flies = any(report.landing_seconds for _, report in variants)
    high = max(*(report.apex for _, report in variants), FLAT * far) if flies else 1.0
    apart = APART * high if flies and len(variants) > 1 else 0.0 if flies else 1.0
    for index, (label, report) in enumerate(variants):
        colour, line = seat_look(index)
        points, level = np.array(report.points), -apart * index
        points[points[:, 0] >= report.landing_seconds - 1e-9, 2] += level
        axes.plot(points[:, 1], points[:, 2], color=colour, linestyle=line, linewidth=2.0, zorder=3)
        beats = np.arange(0.0, report.rest_seconds, 0.1)
        axes.plot(np.interp(beats, points[:, 0], points[:, 1]), np.interp(beats, points[:, 0], points[:, 2]), ".",
                  color=colour, markersize=6, zorder=4)  # fmt: skip
        name = f"{label}: " if label else ""
        if report.landing_seconds:
            top = float(np.interp(report.apex_seconds, points[:, 0], points[:, 1]))
            axes.plot(top, report.apex, "^", color=colour, markersize=9, zorder=5)
            near = sum(abs(each.apex - report.apex) < APART * high for _, each in variants[:index])
            said = f"{name}apex {report.apex:.2f} at {report.apex_seconds:.2f} s"
            axes.annotate(
                said,
                (top, report.apex),
                (0, 8 + 14 * near),
                textcoords="offset points",
                ha="center",
                color=colour,
                bbox={"facecolor": PAPER, "edgecolor": "none", "alpha": 0.85, "pad": 1.5},
                zorder=6,
            )
            axes.plot(report.landing, level, "v", color=colour, markersize=9, zorder=5)
        axes.plot(report.rest, level, "s", color=colour, markersize=8, zorder=5)
    if flies:
        axes.axhline(0.0, color=SOFT_INK, linewidth=1.2, zorder=1)
    axes.set_xlim(-0.03 * far, 1.06 * far)
    axes.set_ylim(-0.06 * high - apart * len(variants), 1.3 * max(high, FLAT * far * 4) if flies else 1.0)
    axes.grid(color=SOFT_INK, alpha=0.25, linewidth=0.5)
    key = f"{'▲ apex   ▼ landing   ' if flies else ''}■ rest   • every tenth of a second"
    key += "   slides are drawn below each other" if apart and flies else ""
    is_pushed = any(report.speed for _, report in variants)
    title = "Where it goes if it meets nothing" if is_pushed else "It stays where it is: nothing is left of the push"
    dress(axes, title, f"along the ground ({units})", f"height ({units})" if flies else "it slides", key)
    if not flies:
        axes.set_yticks([-apart * index for index in range(len(variants))], [label for label, _ in variants])
    return axes


def _draw_table(variants: Sequence[tuple[str, KnockbackReport]], axes: Axes, units: str) -> None:
    axes.set_axis_off()
    rows = push_rows(variants, units)
    wide = [0.28, *[0.09] * (len(COLUMNS) - 1)]
    table = axes.table(rows, colLabels=COLUMNS, colWidths=wide, loc="upper center", cellLoc="right")
    table.auto_set_font_size(False)
    table.set_fontsize(10)
    table.scale(1.0, 1.5)
    for (row, column), cell in table.get_celld().items():
        cell.set_facecolor(PAPER)
        cell.set_edgecolor("none")
        cell.get_text().set_color(SOFT_INK if row == 0 else seat_look(row - 1)[0] if column == 0 else INK)


TALL = 0.55
LETTERS = 104
"""So many letters of a title find room across a figure."""

RESTS = "#e6a07c"
"""The colour of what an attacker still waits for."""


class Case(NamedTuple):
    """One panel: under which rules, guarded or not, how the victim reacts and what comes of it."""

    variant: str
    rules: Rulebook
    told: Advantage
    how: str
    report: ReactionReport
    exchange: Exchange | None

    @property
    def last_tick(self) -> int:
        """The last tick that the panel needs to show."""
        stop = self.report.hit_stop_ticks
        ticks = [1, stop + self.report.ticks]
        if self.exchange is not None:
            ticks += [self.exchange.owner_free, self.exchange.victim_free]
            ticks += [each.lands or 0 for each in (self.exchange.answer_lands, self.exchange.follow_lands) if each]
        return max(ticks)


def draw_reaction(
    rules: Rulebook, attack: str, victim: str, *, variants: Sequence[tuple[str, Rulebook]] = ()
) -> Figure:
    """Attacker and victim after the last touch of an attack, in ticks: until when each waits, and what lands first.

    `variants` are other rules with names, below these. Raises RulebookError for names that a book does not have.
    """
    rows = [_cases(name, each, attack, victim) for name, each in (("as in the book", rules), *variants)]
    across = max(len(cases) for cases in rows)
    sheet = figure(height=1.2 + (3.0 if len(rows) == 1 else 2.3) * len(rows))
    places = sheet.subplots(len(rows), across, sharex=True, squeeze=False)
    longest = max(case.last_tick for cases in rows for case in cases)
    for line, cases in zip(places, rows, strict=True):
        for axes, case in zip(line, cases, strict=False):
            said = f"{case.variant}, {case.how}" if variants else case.how
            draw_case(case, axes, fill(f"{said}: {_said(case)}", LETTERS // across))
            axes.set_xlim(0, 1.3 * longest)
            if case.rules is not rows[-1][0].rules:
                axes.set_xlabel("")
        for axes in line[len(cases) :]:
            axes.set_visible(False)
    headline(sheet, f"{rows[0][0].told.by}'s {attack} on {victim}: who can attack first")
    return sheet


def _cases(variant: str, rules: Rulebook, attack: str, victim: str) -> list[Case]:
    """What is drawn of an attack: it is not guarded, and where there is a guard, it is."""
    told = rules.advantage(attack, victim)
    cases = [Case(variant, rules, told, "not guarded", told.on_hit, told.after_hit)]
    if told.on_guard is not None:
        cases.append(Case(variant, rules, told, "guarded", told.on_guard, told.after_guard))
    return cases


def _said(case: Case) -> str:
    what = (case.exchange.reaction if case.exchange else case.report.reaction) or "no reaction"
    if case.exchange is None:
        return f"{what}; the attack meets nobody who stands in front"
    ahead = case.exchange.advantage
    if ahead == 0:
        return f"{what}; both can attack at once"
    who = case.told.by if ahead > 0 else case.told.victim
    who = f"the one who does {case.told.attack}" if case.told.by == case.told.victim and ahead > 0 else who
    return f"{what}; {who} can attack first, by {abs(ahead)} tick{'' if abs(ahead) == 1 else 's'}"


def draw_case(case: Case, axes: Axes, title: str) -> Axes:
    """One panel: a lane for the attacker, a lane for the victim, and over that how strong the reaction is."""
    rules, told, report, exchange = case.rules, case.told, case.report, case.exchange
    rate, stop = rules.book.settings.tick_rate, report.hit_stop_ticks
    held = stop if rules.book.attacks[told.attack].strike is not None else 0
    single = exchange is None or len(exchange.hit_ticks) == 1
    if exchange is not None:
        _lane(axes, 1, held, exchange.owner_free, told.attack, RESTS)
        _lands(axes, 1, exchange.follow_lands)
        guard = "; guard up again, if it is held" if _took_guard_down(case, exchange.reaction) else ""
        _lane(axes, 0, stop, exchange.victim_free, exchange.reaction or "", seat_look(1)[0], guard)
        _lands(axes, 0, exchange.answer_lands)
    elif report.ticks:
        _lane(axes, 0, stop, stop + report.ticks, report.reaction or "", seat_look(1)[0])
    if single and report.ticks:
        _draw_blend(rules, report, axes, stop, rate)
    axes.set_yticks([0, 1], [told.victim, told.by if told.by != told.victim else f"{told.by}\n(attacker)"])
    axes.set_ylim(-0.5, 2.6 if single else 1.5)
    axes.grid(axis="x", color=SOFT_INK, alpha=0.35, linewidth=0.6)
    since = "the hit" if single else f"the last of {len(exchange.hit_ticks) if exchange else 0} touches"
    dress(axes, title, f"ticks of 1/{rate} s since the tick after {since}{'; hatched: hit stop' if stop else ''}", "")
    return axes


def _took_guard_down(case: Case, reaction: str | None) -> bool:
    rows = {row.name: row for row in case.rules.book.fighters[case.told.victim].reactions}
    return case.report.guarded and reaction is not None and "guard" in rows[reaction].locks


def _lane(axes: Axes, lane: int, held: int, free: int, what: str, colour: str, then: str = "") -> None:
    """What keeps one of the two from attacking: hit stop first, then its attack or its reaction."""
    held = min(held, free)
    look: Look = {"edgecolor": INK, "linewidth": 0.8, "alpha": 0.75}
    axes.barh(lane, held, TALL, 0, facecolor=GROUND, hatch="xx", **look)
    axes.barh(lane, free - held, TALL, held, facecolor=colour, **look)
    said = f"{what}: " if what else ""
    axes.annotate(f"{said}free in {free}{then}", (0, lane + TALL / 2), (3, 2), textcoords="offset points", color=INK,
                  fontsize=10)  # fmt: skip


def _lands(axes: Axes, lane: int, following: NextAttack | None) -> None:
    """The next attack of one of the two that lands first: from its beginning to the tick it meets the other."""
    if following is None or following.lands is None:
        return
    axes.plot([following.begins, following.lands], [lane, lane], color=INK, linewidth=1.4, linestyle=":", zorder=3)
    axes.plot(following.lands, lane, marker="D", color=EMBER, markersize=8, zorder=4)
    axes.annotate(f"{following.attack} lands on {following.lands}", (following.lands, lane), (8, 0), va="center",
                  textcoords="offset points", color=INK, fontsize=10, zorder=5,
                  bbox={"facecolor": "white", "edgecolor": "none", "alpha": 0.8, "pad": 1.0})  # fmt: skip


def _draw_blend(rules: Rulebook, report: ReactionReport, axes: Axes, stop: int, rate: int) -> None:
    """How strong the reaction is, as a curve from 1.5 to 2.5 on the axis."""
    rows = reaction_terms(rules.book.fighters[report.victim], rules.book.settings.frame_rate)
    terms = next(each for each in rows if each.name == report.reaction)
    times = np.linspace(0.0, report.seconds, 200)
    values = [1.5 + blend(terms, float(t)) for t in times]
    axes.plot(stop + times * rate, values, color=EMBER, linewidth=1.8)
    for level, text in ((1.5, "0"), (2.5, "1")):
        axes.annotate(text, (0, level), (-8, 0), textcoords="offset points", ha="right", va="center", color=EMBER)
    axes.annotate("blend", (0, 2.0), (-8, 0), textcoords="offset points", ha="right", va="center", color=EMBER)
