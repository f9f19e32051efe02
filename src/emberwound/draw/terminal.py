"""The story and the totals of a bout in a terminal."""

from __future__ import annotations

from typing import TYPE_CHECKING

from rich.table import Table
from rich.text import Text

from emberwound.draw.answers import COLUMNS, push_rows
from emberwound.vocabulary.reasons import Reason

if TYPE_CHECKING:
    from collections.abc import Iterable, Sequence

    from rich.console import Console

    from emberwound.chronicle import Chronicle
    from emberwound.chronicle.narration import Line
    from emberwound.study.knockback import KnockbackReport
    from emberwound.study.lives import Life
    from emberwound.study.reaction import Advantage, Exchange, NextAttack, ReactionReport
    from emberwound.study.summary import Summary
    from emberwound.study.timing import AttackTiming, TimedWindow
    from emberwound.study.wound import MatchRow, WoundReport

BAR_CELLS = 10
TURNS = {"died": "ends", "life_lost": "ends", "eliminated": "ends", "bout_restarted": "begins", "respawned": "begins"}
"""What ends a life and what begins one."""
STYLES = {"died": "bold red", "respawned": "green", "order_refused": "yellow", "interrupted": "yellow"}


def show_bout(console: Console, chronicle: Chronicle, lines: Sequence[Line], summary: Summary) -> None:
    """Print the head line, the story, and the totals."""
    header = chronicle.header
    title = chronicle.rules.book.settings.title or header.source
    bout = f"{title} · {header.script or header.arena}"
    console.print(
        Text(bout, style="bold"),
        Text(f"  {chronicle.seconds:g} s at {header.tick_rate} ticks a second, seed {header.seed}"),
    )
    parts: list[Table | str] = [*([story_table(lines)] if lines else []), seats_table(summary)]
    if any(life.end != "alive" for life in summary.lives):
        parts.append(lives_table(summary))
    if summary.attacks:
        parts.append(attacks_table(summary))
    if any(row.counters for row in summary.board):
        parts.append(board_table(summary))
    said = [shots_line(summary), *([cues_line(summary)] if summary.cues else [])]
    for part in (*parts, "\n".join(said)):
        console.print(part)
        console.print()


def story_table(lines: Iterable[Line]) -> Table:
    """A row for each line of the story, with what is left of the health that was lost; a gap where a life ends."""
    table = Table(box=None, show_header=True, header_style="dim", pad_edge=False)
    table.add_column("seconds", justify="right", no_wrap=True)
    table.add_column("what happened")
    table.add_column("health left", no_wrap=True)
    last = ""
    for line in lines:
        turn = TURNS.get(line.event, "")
        if turn != last and (turn == "begins" or last):
            table.add_row()
        last = turn
        left = "" if line.left is None or line.most is None else bar(line.left, line.most)
        table.add_row(f"{line.time:.3f}", Text(line.text, style=STYLES.get(line.event, "")), left)
    return table


def bar(left: float, most: float) -> str:
    """A share as a short bar with its figures; anything above nothing shows at least one cell."""
    share = left / most if most else 0.0
    cells = max(round(share * BAR_CELLS), 1) if left > 0.0 else 0
    return f"{'█' * cells}{'░' * (BAR_CELLS - cells)} {left:g} / {most:g}"


def seats_table(summary: Summary) -> Table:
    """Each seat as it stood at the end."""
    table = Table(box=None, header_style="dim", pad_edge=False)
    for name in ("seat", "fighter", "end", "health"):
        table.add_column(name, no_wrap=True)
    for name in ("died", "lives", "shots", "swings", "hits"):
        table.add_column(name, justify="right", no_wrap=True)
    for seat in summary.seats:
        table.add_row(
            seat.seat,
            seat.fighter,
            "alive" if seat.alive else "dead" if seat.lives_left == 0 else "waiting",
            bar(seat.vital_left, seat.vital_max),
            str(seat.deaths),
            "∞" if seat.lives_left is None else str(seat.lives_left),
            str(seat.shots),
            str(seat.swings),
            str(seat.hits),
        )
    return table


def attacks_table(summary: Summary) -> Table:
    """What each attack came to."""
    table = Table(box=None, header_style="dim", pad_edge=False)
    table.add_column("attack", no_wrap=True)
    for name in ("used", "hit", "missed", "guarded", "unfinished", "damage", "healed", "kills"):
        table.add_column(name, justify="right", no_wrap=True)
    for each in summary.attacks:
        counts = (each.used, each.hit, each.missed, each.guarded, each.unfinished, each.damage, each.healed, each.kills)
        table.add_row(each.attack, *(f"{count:.10g}" for count in counts))
    return table


def lives_table(summary: Summary) -> Table:
    """Each life: where it began, from when to when, what it dealt and took, and what ended it."""
    table = Table(box=None, header_style="dim", pad_edge=False)
    table.add_column("life of", no_wrap=True)
    for name in ("no", "from s", "to s"):
        table.add_column(name, justify="right", no_wrap=True)
    table.add_column("began at", no_wrap=True)
    for name in ("dealt", "taken"):
        table.add_column(name, justify="right", no_wrap=True)
    table.add_column("ended by")
    for life in sorted(summary.lives, key=lambda each: [seat.seat for seat in summary.seats].index(each.seat)):
        table.add_row(
            life.seat,
            str(life.number),
            f"{life.began:.2f}",
            "" if life.ended is None else f"{life.ended:.2f}",
            life.checkpoint or "entry",
            f"{life.dealt:g}",
            f"{life.taken:g}",
            _ending(life),
        )
    return table


def _ending(life: Life) -> str:
    if life.end != "died":
        return {"alive": "", "restarted": "the restart", "left": "leaving"}[life.end]
    what = f"{life.by}'s {life.attack}" if life.by else f"the {life.attack}"
    return f"{what}, credited to {life.credit}" if life.credit not in (life.by, None) else what


def board_table(summary: Summary) -> Table:
    """All seats by what they count, the best first."""
    table = Table(box=None, header_style="dim", pad_edge=False)
    table.add_column("place", justify="right", no_wrap=True)
    for name in ("seat", "team"):
        table.add_column(name, no_wrap=True)
    for name in summary.board[0].counters:
        table.add_column(name, justify="right", no_wrap=True)
    for row in summary.board:
        counters = [f"{value:g}" for value in row.counters.values()]
        table.add_row(str(row.place), row.seat, row.team or "", *counters, "out" if row.out else "")
    return table


def cues_line(summary: Summary) -> str:
    """How often each cue was given, and was silent."""
    said = [f"{cue.cue} {cue.given}" + (f" ({cue.silent} silent)" if cue.silent else "") for cue in summary.cues]
    return f"cues: {', '.join(said)}"


def shots_line(summary: Summary) -> str:
    """How the shots ended, in one line that adds up."""
    shots = summary.shots
    words = {
        Reason.FLOOR.value: "on the floor",
        Reason.WALL.value: "on a wall",
        Reason.RANGE_OVER.value: "at its range",
        Reason.OUT_OF_BOUNDS.value: "out of the arena",
    }
    ends = [f"{shots.hit} hit"]
    ends += [f"{count} {words.get(reason, reason.replace('_', ' '))}" for reason, count in shots.ended.items()]
    ends.append(f"{shots.flying} still flying")
    return f"shots: {shots.fired} fired = {' + '.join(ends)}; orders refused: {summary.refused}"


def show_wound(console: Console, report: WoundReport) -> None:
    """Print one wound: its head line, a row for each step of the ledger, and what is left."""
    ledger = report.ledger
    console.print(Text(report.heading(), style="bold"))
    table = Table(box=None, header_style="dim", pad_edge=False)
    table.add_column("step", no_wrap=True)
    for name in ("before", "after"):
        table.add_column(name, justify="right", no_wrap=True)
    table.add_column("why")
    for step in ledger.steps:
        table.add_row(step.rule, f"{step.before:g}", f"{step.after:g}", Text(step.why))
    console.print(table)
    left = ", ".join(f"{name} {report.before[name]:g} -> {value:g}" for name, value in report.after.items())
    console.print(f"pools: {left}{report.outcome()}")


def match_rows(rows: Iterable[MatchRow]) -> Table:
    """A row for each attack, fighter and hurtbox."""
    table = Table(box=None, header_style="dim", pad_edge=False)
    table.add_column("attack", overflow="fold")
    for name in ("fighter", "hurtbox"):
        table.add_column(name, no_wrap=True)
    for name in ("damage", "hits to kill", "s to kill", "damage/s"):
        table.add_column(name, justify="right", no_wrap=True)
    last = ("", "")
    for row in rows:
        attack = f"{row.attack}: {row.blast}" if row.blast and not row.is_death else row.attack
        shown = (attack if attack != last[0] else "", row.victim if (attack, row.victim) != last else "")
        last = (attack, row.victim)
        kills = ("never", "never") if row.hits is None else (str(row.hits), f"{row.seconds:.2f}")
        table.add_row(*shown, row.hurtbox, f"{row.damage:g}", *kills, f"{row.per_second:.1f}")
    return table


WIDE = 110
"""Columns of a terminal from which a timing has a column for each of its parts, and a push a name in its row."""


def timing_rows(timings: Iterable[AttackTiming], width: int) -> Table:
    """A row for each attack: its parts, and the windows of it that matter; stacked where the terminal is narrow."""
    table = Table(box=None, header_style="dim", pad_edge=False)
    table.add_column("attack", no_wrap=True)
    for name in PARTS if width >= WIDE else ():
        table.add_column(name, justify="right", no_wrap=True)
    table.add_column("what happens when")
    for timing in timings:
        parts = dict(zip(PARTS, _parts(timing), strict=True))
        said = ", ".join(
            f"{window.what} {window.name}".removesuffix(" invulnerable").removesuffix(" lunge") + f": {_ticks(window)}"
            for window in timing.windows
        )
        if width >= WIDE:
            table.add_row(timing.attack, *parts.values(), said)
            continue
        lines = [
            ", ".join(f"{name} {parts[name]}" for name in names if parts[name] != "-")
            for names in (PARTS[:3], PARTS[3:])
        ]
        table.add_row(timing.attack, "\n".join(line for line in (*lines, said) if line))
    return table


PARTS = ("windup", "active", "recovery", "whole", "cooldown")


def _parts(timing: AttackTiming) -> list[str]:
    figures = (
        (timing.windup_ticks, timing.windup),
        (timing.active_ticks, timing.active),
        (timing.recovery_ticks, timing.recovery),
        (timing.whole_ticks, timing.whole),
        (timing.cooldown_ticks, timing.cooldown),
    )
    return [f"{ticks} · {seconds:.3g} s" if ticks else "-" for ticks, seconds in figures]


def _ticks(window: TimedWindow) -> str:
    return (
        str(window.first_tick) if window.first_tick == window.last_tick else f"{window.first_tick}-{window.last_tick}"
    )


def advantage_rows(rows: Iterable[Advantage]) -> Table:
    """Two rows for each attack, on a hit and on a guard: when each of the two can attack again, what lands first."""
    table = Table(box=None, header_style="dim", pad_edge=False)
    table.add_column("attack", overflow="fold")
    table.add_column("reach", justify="right", no_wrap=True)
    for name in ("case", "reaction"):
        table.add_column(name, overflow="fold")
    for name in ("victim", "owner", "ahead"):
        table.add_column(name, justify="right", no_wrap=True)
    for name in ("answer", "next"):
        table.add_column(name, overflow="fold")
    for told in rows:
        cases = [("hit", told.on_hit, told.after_hit), ("guarded", told.on_guard, told.after_guard)]
        for case, report, exchange in cases:
            if report is not None:
                reach = "-" if told.reach is None or told.reach.distance is None else f"{told.reach.distance:.3g}"
                head = (told.attack, reach) if case == "hit" else ("", "")
                table.add_row(*head, case, *_exchange_cells(report, exchange))
    return table


def _exchange_cells(report: ReactionReport, exchange: Exchange | None) -> list[str]:
    if exchange is None:
        return [report.reaction or "nothing", "-", "-", "-", "meets nobody in front", "-"]
    free = (str(exchange.victim_free), str(exchange.owner_free), f"{exchange.advantage:+d}")
    return [
        exchange.reaction or "nothing", *free, _lands(exchange.answers), _lands(exchange.follows)
    ]  # fmt: skip


def _lands(attacks: Sequence[NextAttack]) -> str:
    """What of some attacks lands first; where none does, how far the furthest comes."""
    first = next((each for each in attacks if each.lands is not None), None)
    if first is not None:
        return f"{first.attack} {first.lands}"
    reaching = [each for each in attacks if each.reach is not None]
    if not reaching:
        return "none"
    best = max(reaching, key=lambda each: each.reach or 0.0)
    if (best.reach or 0.0) >= best.distance:
        return f"{best.attack} misses"
    return f"{best.attack} reaches {best.reach:.3g} of {best.distance:.3g}"


def push_table(ways: Sequence[tuple[str, KnockbackReport]], units: str, width: int) -> Table:
    """A row for each way of a push, with the figures that its picture shows; named below in a narrow terminal."""
    table = Table(box=None, header_style="dim", pad_edge=False, caption_justify="left", caption_style="")
    for number, name in enumerate(COLUMNS):
        table.add_column(name, justify="right" if number else "left", no_wrap=number > 0, overflow="fold")
    rows = push_rows(ways, units)
    if width < WIDE and len(rows) > 1:
        table.caption = Text("\n".join(f"{number}: {row[0]}" for number, row in enumerate(rows, 1)))
        rows = [(str(number), *row[1:]) for number, row in enumerate(rows, 1)]
    for row in rows:
        table.add_row(*row)
    return table
