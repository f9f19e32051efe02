"""The figure of a reaction: what a victim does after a hit, unguarded against guarded, and how strong that is."""

from __future__ import annotations

from textwrap import fill
from typing import TYPE_CHECKING

import numpy as np

from emberwound.combat.reaction import blend
from emberwound.draw.palette import EMBER, GROUND, INK, SOFT_INK, seat_look
from emberwound.draw.style import dress, figure, headline
from emberwound.rulebook.terms import reaction_terms

if TYPE_CHECKING:
    from collections.abc import Sequence

    from matplotlib.axes import Axes
    from matplotlib.figure import Figure

    from emberwound.face import Rulebook
    from emberwound.study.reaction import Advantage, ReactionReport

TALL = 0.55
LETTERS = 112
"""So many letters of a title find room across a figure."""


def draw_reaction(
    rules: Rulebook, attack: str, victim: str, *, variants: Sequence[tuple[str, Rulebook]] = ()
) -> Figure:
    """Attacker and victim after a hit lands, in ticks: hit stop, reaction, its blend, and who is free first.

    `variants` are other rules with names, side by side with these. Raises RulebookError for names a book does not have.
    """
    books = [("as in the book", rules), *variants]
    columns = [(name, each, _cases(each.advantage(attack, victim))) for name, each in books]
    told = rules.advantage(attack, victim)
    most = max(len(cases) for _, _, cases in columns)
    sheet = figure(height=3.0 + 2.4 * most)
    places = sheet.subplots(most, len(columns), sharex=True, squeeze=False)
    longest = max(_last_tick(each, report) for _, _, cases in columns for each, _, report, _ in cases)
    for column, (book_name, book, cases) in enumerate(columns):
        for axes, (each, name, report, ahead) in zip(places[:, column], cases, strict=False):
            said = f"{name}: {_said(attack, victim, report, ahead)}"
            title = fill(f"{book_name}, {said}", LETTERS // len(columns)) if variants else said
            draw_case(book, each, report, axes, title)
            axes.set_xlim(0, 1.06 * longest)
            if axes is not places[len(cases) - 1, column]:
                axes.set_xlabel("")
        for axes in places[len(cases) :, column]:
            axes.set_visible(False)
    headline(sheet, f"{attack} hits {victim} on its tick {told.hit_tick}: who can act first")
    return sheet


def _cases(told: Advantage) -> list[tuple[Advantage, str, ReactionReport, int]]:
    """What is drawn of an attack: it is not guarded, and where there is a guard, it is."""
    cases = [(told, "not guarded", told.on_hit, told.advantage_on_hit)]
    if told.on_guard is not None and told.advantage_on_guard is not None:
        cases.append((told, "guarded", told.on_guard, told.advantage_on_guard))
    return cases


def _said(attack: str, victim: str, report: ReactionReport, ahead: int) -> str:
    what = report.reaction or "no reaction"
    who = "both can act at once" if ahead == 0 else f"the one who does {attack} acts first, by {ahead} ticks"
    return f"{what}; {who if ahead >= 0 else f'{victim} acts first, by {-ahead} ticks'}"


def _last_tick(told: Advantage, report: ReactionReport) -> int:
    stop = report.hit_stop_ticks
    return max(stop + report.ticks, stop + told.free_tick - told.hit_tick - 1, 1)


def draw_case(rules: Rulebook, told: Advantage, report: ReactionReport, axes: Axes, title: str) -> Axes:
    """One case: a lane for the attacker, a lane for the victim, and over that how strong the reaction is."""
    rate, stop = rules.book.settings.tick_rate, report.hit_stop_ticks
    strikes = rules.book.attacks[told.attack].strike is not None
    left = told.free_tick - told.hit_tick - 1
    begins = stop if strikes else 0
    if stop:
        for lane in (0, 1) if strikes else (0,):
            _bar(axes, lane, 0, stop, "hit stop", GROUND, "xx")
    _bar(axes, 1, begins, left, f"rest of {told.attack}", "#e6a07c", "")
    if report.ticks:
        _bar(axes, 0, stop, report.ticks, f"{report.reaction}, {report.ticks} ticks", seat_look(1)[0], "")
        _draw_blend(rules, report, axes, stop, rate)
    rows = {row.name: row for row in rules.book.fighters[told.victim].reactions}
    if report.guarded and report.reaction and "guard" in rows[report.reaction].locks:
        axes.annotate("guard up again, if it is still held", (stop + report.ticks, 0), (6, 0), va="center",
                      textcoords="offset points", color=INK)  # fmt: skip
    axes.set_yticks([0, 1], [told.victim, told.attack])
    axes.set_ylim(-0.5, 2.6)
    axes.grid(axis="x", color=SOFT_INK, alpha=0.35, linewidth=0.6)
    dress(axes, title, f"ticks of 1/{rate} s since the tick after the hit", "")
    return axes


def _bar(axes: Axes, lane: int, begins: int, ticks: int, text: str, colour: str, hatch: str) -> None:
    axes.barh(lane, ticks, TALL, begins, facecolor=colour, edgecolor=INK, linewidth=0.8, hatch=hatch, alpha=0.75)
    if ticks:
        axes.annotate(text, (begins + ticks / 2, lane), ha="center", va="center", color=INK, fontsize=10,
                      bbox={"facecolor": "white", "edgecolor": "none", "alpha": 0.75, "pad": 1.5})  # fmt: skip


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
