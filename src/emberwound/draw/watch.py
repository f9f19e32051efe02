"""A bout while it runs, in a terminal: bars, lives, scores, shots in flight, and what happened last."""

from __future__ import annotations

from collections import deque
from time import perf_counter, sleep
from typing import TYPE_CHECKING, Self

from rich.console import Group
from rich.live import Live
from rich.table import Table
from rich.text import Text

from emberwound.chronicle.narration import Narrator

if TYPE_CHECKING:
    from collections.abc import Iterator, Sequence

    from rich.console import Console, RenderableType

    from emberwound.bout import Bout, Seat
    from emberwound.bout.views.bars import BarView
    from emberwound.vocabulary.events import Event
    from emberwound.vocabulary.orders import Input

REDRAWS = 30
"""Pictures a second."""
CELLS = 12
LINES = 8
"""How many of the last events are shown."""
STATES = ("frozen", "charging", "guarding", "airborne", "moving")
PATTERNS = {"solid": "█", "striped": "▓", "dotted": "▒", "crossed": "▚"}


class Watch:
    """Shows a bout in a terminal as it runs, `speed` times as fast as in life, or as plain lines where there is none.

    It watches as an observer, and takes nothing of the bout but time.
    """

    def __init__(self, console: Console, title: str, *, speed: float) -> None:
        self.console = console
        self.title = title
        self.speed = speed
        self.redraws = 0
        self.last: deque[str] = deque(maxlen=LINES)
        self._live = Live(console=console, auto_refresh=False, transient=False) if console.is_terminal else None
        self._began = perf_counter()
        self._next = 0.0
        self._seen: Bout | None = None

    def __enter__(self) -> Self:
        """Begin to show it."""
        if self._live is not None:
            self._live.start()
        self._began = perf_counter()
        return self

    def __exit__(self, *_raised: object) -> None:
        """Leave the last picture on the screen."""
        if self._live is not None:
            if self._seen is not None:
                self._live.update(self.picture(self._seen), refresh=True)
            self._live.stop()

    def tick_closed(self, bout: Bout, inputs: Sequence[Input], events: Sequence[Event]) -> None:
        """Take in what happened, and draw if it is time to; wait for the time of life to catch up."""
        del inputs
        self._seen = bout
        for line in self._told(bout, events):
            if self._live is None:
                self.console.print(Text(line), soft_wrap=True)
            self.last.append(line)
        if self._live is None:
            return
        passed = perf_counter() - self._began
        ahead = bout.time / self.speed - passed
        if passed + max(ahead, 0.0) >= self._next or bout.over:
            if ahead > 0.0:
                sleep(ahead)
            self._live.update(self.picture(bout), refresh=True)
            self.redraws += 1
            self._next = max(self._next, perf_counter() - self._began - 1.0 / REDRAWS) + 1.0 / REDRAWS

    def _told(self, bout: Bout, events: Sequence[Event]) -> Iterator[str]:
        narrator = Narrator(bout.tick_rate, bout.rules.book)
        for event in events:
            text = narrator.sentence(event)
            if text:
                yield f"{event.time:8.3f}  {text}"

    def picture(self, bout: Bout) -> RenderableType:
        """What is seen of a bout between two ticks."""
        flying = bout.view().shot_count
        shots = "no shots in flight" if not flying else f"{flying} {'shot' if flying == 1 else 'shots'} in flight"
        state = "   over" if bout.over else ""
        head = Text(
            f"{bout.time:8.2f} s   {shots}{state}   {self.title}", style="bold", no_wrap=True, overflow="ellipsis"
        )
        lines = [Text(line, overflow="ellipsis", no_wrap=True, style="dim") for line in self.last]
        blank = [Text("")] * (LINES - len(lines))
        return Group(head, self._seats(bout), Text(""), *lines, *blank)

    def _seats(self, bout: Bout) -> Table:
        rows = {row.seat: row for row in bout.board()}
        counters = list(next(iter(rows.values())).counters) if rows else []
        table = Table(box=None, header_style="dim", pad_edge=False, expand=False)
        for name in ("seat", "bars"):
            table.add_column(name, no_wrap=True)
        for name in ("lives", *counters[:1]):
            table.add_column(name, no_wrap=True, justify="right")
        table.add_column("does", no_wrap=True, overflow="ellipsis")
        views: dict[str, list[BarView]] = {}
        for view in bout.view(smooth=True).bars:
            views.setdefault(view.seat, []).append(view)
        for seat in bout.seats:
            score = [f"{value:g}" for value in list(rows[seat.name].counters.values())[:1]] if seat.name in rows else []
            lives = "∞" if seat.lives_left is None else str(seat.lives_left)
            table.add_row(seat.name, _bars(seat, views.get(seat.name, [])), lives, *score, _does(seat))
        return table


def _bars(seat: Seat, views: Sequence[BarView]) -> Text:
    """A seat's bars in a row; of a fighter without any, its pools in figures."""
    if not views:
        return Text(", ".join(f"{name} {value:g}" for name, value in seat.pools.items()))
    return Text("  ").join([_cells(view) for view in views])


SEEN = 0.005
"""A share above this shows at least one cell."""


def _cells(view: BarView) -> Text:
    """A bar in letters: what is shown, what is lost of late, what is gone."""
    if view.text:
        return Text(view.text, style=view.colour)
    if any(shape.sort == "arc" for shape in view.shapes):
        return Text(f"{view.pool} {view.shown:.0%}", style=view.colour)
    cells = ["·"] * CELLS
    left, _, width, _ = view.rect
    for shape in (each for each in view.shapes if each.sort == "rect"):
        begins = (shape.rect[0] - left) / width
        ends = round((begins + shape.share * shape.rect[2] / width) * CELLS)
        ends = max(ends, 1) if shape.share > SEEN and shape.opacity == 1.0 else ends
        sign = "░" if shape.opacity < 1.0 else PATTERNS[shape.pattern]
        cells[round(begins * CELLS) : ends] = [sign] * (ends - round(begins * CELLS))
    row = Text("".join(cells), style=view.colour)
    row.highlight_regex("[░·]+", "dim")
    return row + Text(f" {view.value:.3g}")


def _does(seat: Seat) -> str:
    """What a seat's body does, or when it is back."""
    if seat.out:
        return "out"
    if not seat.alive:
        wait = seat.respawns_in
        return "waits" if wait is None else f"back in {wait:.1f} s"
    return " ".join(seat.states[:2]) or "stands"
