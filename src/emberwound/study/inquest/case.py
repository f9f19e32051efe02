"""The record that questions are asked of, and running it again under other rules or orders."""

from __future__ import annotations

from functools import cached_property
from typing import TYPE_CHECKING, Any, NamedTuple, TypeVar

import msgspec

from emberwound.bout import Bout
from emberwound.chronicle.chronicle import check_whole
from emberwound.plan.compile import compile_plan
from emberwound.rulebook.attack_timeline import AttackTimeline
from emberwound.vocabulary.clock import ticks_in
from emberwound.vocabulary.errors import BoutError, ChronicleError, unknown_name
from emberwound.vocabulary.events import AttackBegan, Event, Released, Respawned, SeatEntered, ShotEnded, Wounded
from emberwound.vocabulary.orders import Order

if TYPE_CHECKING:
    from collections.abc import Callable, Iterable, Sequence

    from emberwound.bout import PassedOver, Snapshot
    from emberwound.chronicle import Chronicle
    from emberwound.plan import Plan
    from emberwound.rulebook.models import Book
    from emberwound.rulebook.rules import Rules


class Saved(NamedTuple):
    """A state of a bout that is run again, to come back to."""

    bout: Snapshot
    given: int
    heard: int


class Play:
    """A bout that is run again; `events` are those so far, `touched` the touches passed over while it listened.

    Under the recorded rules all its inputs are given `as_given`, as a host would, those of a script too, so that others
    may take their place; under other rules a script is theirs, unless they change nothing that it says.
    """

    def __init__(self, chronicle: Chronicle, rules: Rules | None = None, *, as_given: bool | None = None) -> None:
        header = chronicle.header
        inputs = [each for each in chronicle.inputs if each.tick < chronicle.end.ticks]
        as_given = rules is None if as_given is None else as_given
        if header.script is None or (as_given and not _returns(chronicle)):
            under = rules or chronicle.rules
            self.bout = Bout(under, arena=header.arena, seed=header.seed, tick_rate=header.tick_rate)
            self._given = [msgspec.structs.replace(each, source="host") for each in inputs]
        else:
            under = rules or chronicle.rules
            self.bout = Bout.scripted(under, header.script, seed=header.seed, tick_rate=header.tick_rate)
            self._given = [each for each in inputs if each.source == "host"]
        self._next = 0
        self.events: list[Event] = []
        self.touched: list[PassedOver] = []
        self._unwatch: Callable[[], None] | None = None

    def take_due(self) -> None:
        """Give the inputs of the tick at hand, so that what is given next comes after them."""
        while self._next < len(self._given) and self._given[self._next].tick <= self.bout.tick:
            self.bout.give(self._given[self._next])
            self._next += 1

    def step(self) -> list[Event]:
        """Run one tick with the inputs that it was given then; its events."""
        self.take_due()
        found: list[Event] = list(self.bout.step())
        self.events += found
        return found

    def until(self, tick: int) -> None:
        """Run all ticks before one."""
        while self.bout.tick < tick and not self.bout.over:
            self.step()

    def listen(self) -> None:
        """Keep the touches that are passed over from now on."""
        self._unwatch = self.bout.watch(self)

    def passed_over(self, _bout: Bout, found: PassedOver) -> None:
        """Keep one of them."""
        self.touched.append(found)

    def save(self) -> Saved:
        """The state at hand, to come back to."""
        return Saved(self.bout.snapshot(), self._next, len(self.events))

    def restore(self, saved: Saved) -> None:
        """Come back to a state, with the events up to it, and listen no more."""
        if self._unwatch is not None:
            self._unwatch()
            self._unwatch = None
        self.touched = []
        self.bout.restore(saved.bout)
        self._next = saved.given
        del self.events[saved.heard :]


def _returns(chronicle: Chronicle) -> bool:
    """Whether a restart may bring back seats of the script that came late or left, which only a script does."""
    book, script = chronicle.rules.book, chronicle.header.script
    restarts = book.arenas[chronicle.header.arena].on_elimination == "restart"
    seats = book.bouts[script].seats.values() if script else ()
    return restarts and any(seat.until is not None or seat.time.amount > 0 for seat in seats)


def played(chronicle: Chronicle, rules: Rules, until: int) -> Play | None:
    """The record's bout under other rules, up to a tick; None where these do not take its inputs."""
    try:
        play = Play(chronicle, rules)
        play.until(until)
    except BoutError:
        return None
    return play


Kind = TypeVar("Kind", bound=Event)


class Case:
    """One record, and what questions ask of it again and again. Raises ChronicleError for one without its start."""

    def __init__(self, chronicle: Chronicle) -> None:
        check_whole(chronicle)
        self.chronicle = chronicle
        self.rules: Rules = chronicle.rules
        self.book: Book = chronicle.rules.book
        self.rate = chronicle.header.tick_rate
        self.plan: Plan = compile_plan(chronicle.rules, chronicle.header.arena, self.rate)
        self._play: Play | None = None
        self._saved: dict[int, Saved] = {}

    def play_at(self, tick: int) -> Play:
        """The bout run again up to a tick; there is one, so what was given before goes on from there as well."""
        if self._play is None:
            self._play = Play(self.chronicle)
            self._saved[0] = self._play.save()
        play = self._play
        play.restore(self._saved[max(each for each in self._saved if each <= max(tick, 0))])
        while play.bout.tick < tick and not play.bout.over:
            play.until(min(tick, (play.bout.tick // self.rate + 1) * self.rate))
            if play.bout.tick % self.rate == 0:
                self._saved.setdefault(play.bout.tick, play.save())
        return play

    def play_now(self) -> Play:
        """The bout run again, where it is now."""
        return self._play or self.play_at(0)

    @cached_property
    def tables(self) -> dict[str, Any]:
        """The book as plain tables, defaults included."""
        return self.rules.canonical()

    @property
    def units(self) -> str:
        """The label of lengths."""
        return self.book.settings.units

    def all(self, kind: type[Kind], *, seat: str | None = None, by: str | None = None) -> list[Kind]:
        """The events of a type, of one seat or by one."""
        return [
            event
            for event in self.chronicle.events
            if isinstance(event, kind) and seat in (None, event.seat) and by in (None, event.by)
        ]

    @cached_property
    def teams(self) -> dict[str, str | None]:
        """The team of every seat that ever entered."""
        return {event.seat or "": event.team for event in self.all(SeatEntered)}

    def are_foes(self, one: str, other: str) -> bool:
        """Whether two seats are on different teams."""
        return one != other and (self.teams.get(one) is None or self.teams.get(one) != self.teams.get(other))

    def known_seat(self, name: str) -> str:
        """A seat of the record by its name. Raises ChronicleError for one that never was there."""
        names = dict.fromkeys([*self.teams, *(each.seat for each in self.chronicle.inputs)])
        script = self.chronicle.header.script
        if script is not None:
            names |= dict.fromkeys(self.book.bouts[script].seats)
        if name not in names:
            raise ChronicleError(unknown_name("seat", name, names))
        return name

    def released(self, shot: int) -> Released:
        """The event of a shot's or ray's release. Raises ChronicleError for an id that none had."""
        releases = self.all(Released)
        found = next((each for each in releases if each.shot == shot), None)
        if found is None:
            nearest = min((each.shot for each in releases), key=lambda each: abs(each - shot), default=None)
            known = "it has none" if nearest is None else f"the nearest id is {nearest}, of {len(releases)} in all"
            raise ChronicleError(f"shot {shot}: this bout has no shot of that id; {known}")
        return found

    def ended(self, shot: int) -> ShotEnded | None:
        """How a shot ended; None for one that still flies."""
        return next((each for each in self.all(ShotEnded) if each.shot == shot), None)

    def attack_at(self, seat: str, tick: int) -> AttackBegan:
        """The attack that a seat was at in a tick. Raises ChronicleError when there was none, with the nearest."""
        begun = self.all(AttackBegan, seat=self.known_seat(seat))
        found = [each for each in begun if each.tick <= tick < max(self.over(each), each.tick + 1)]
        if not found:
            ticks = [each.tick for each in begun]
            raise ChronicleError(self.none_at(f"{seat} is at no attack in tick {tick}", ticks, tick))
        return found[-1]

    def over(self, began: AttackBegan) -> int:
        """The tick at which an attack is over if nothing breaks it off."""
        timeline = AttackTimeline.of(self.book.attacks[began.attack], self.book.settings.frame_rate)
        return began.tick + ticks_in(timeline.whole, self.rate)

    @cached_property
    def _by_seq(self) -> dict[int, Event]:
        return {event.seq: event for event in self.chronicle.events}

    def follows(self, event: Event, first: int) -> bool:
        """Whether an event came of the one with a `seq`, step by step."""
        at: Event | None = event
        while at is not None and at.seq > first:
            at = None if at.cause is None else self._by_seq.get(at.cause)
        return at is not None and at.seq == first

    def orders(self, seat: str) -> list[tuple[Order, str]]:
        """The orders of a seat that press or hold, each with what."""
        return [
            (each, attack)
            for each in self.chronicle.inputs
            if isinstance(each, Order) and each.seat == seat
            for attack in _asked(each)
        ]

    def walks(self, seat: str) -> list[Order]:
        """The orders of a seat that let it walk."""
        return [
            each
            for each in self.chronicle.inputs
            if isinstance(each, Order) and each.seat == seat and (each.patrol is not None or _walks(each.move))
        ]

    def fighter_of(self, seat: str, tick: int) -> str:
        """The fighter whose body a seat had in a tick."""
        found = [event for event in self.chronicle.events if isinstance(event, SeatEntered | Respawned)]
        mine = [event for event in found if event.seat == seat and event.tick <= tick]
        return mine[-1].fighter if mine else next(event.fighter for event in found if event.seat == seat)

    def fighter_or_none(self, seat: str | None, tick: int) -> str | None:
        """The fighter whose body a seat had in a tick; None for a prop and for nobody."""
        return self.fighter_of(seat, tick) if seat in self.teams else None

    def rules_pools(self, seat: str) -> bool:
        """Whether a scripted seat has pools of its own."""
        script = self.chronicle.header.script
        return bool(script and seat in self.book.bouts[script].seats and self.book.bouts[script].seats[seat].pools)

    def holds_guard(self, seat: str, tick: int) -> bool:
        """Whether a seat was last ordered to hold its guard."""
        held = [
            each.hold
            for each in self.chronicle.inputs
            if isinstance(each, Order) and each.seat == seat and each.tick <= tick and each.hold is not None
        ]
        return bool(held) and "guard" in held[-1]

    def vital_of(self, wound: Wounded) -> str:
        """The pool at whose end a wounded body dies."""
        fighter = self.book.fighters[self.fighter_of(wound.seat or "", wound.tick)]
        return next(name for name, pool in fighter.pools.items() if pool.vital)

    def none_at(self, what: str, ticks: Iterable[int], tick: int) -> str:
        """A sentence for a tick at which there is nothing, with the nearest one at which there is."""
        nearest = min(ticks, key=lambda each: abs(each - tick), default=None)
        known = (
            "there is none at all" if nearest is None else f"the nearest is tick {nearest}, {nearest / self.rate:.3f} s"
        )
        return f"{what}; {known}"

    def length(self, value: float) -> str:
        """A length in words."""
        return f"{value:.2g} {self.units}" if value < 1.0 else f"{value:.3g} {self.units}"

    def point(self, place: Sequence[float]) -> str:
        """A place in words."""
        return f"({', '.join(f'{each:.2f}' for each in place)})"


def _walks(move: float | tuple[float, ...] | None) -> bool:
    return any(move) if isinstance(move, tuple) else bool(move)


def _asked(order: Order) -> list[str]:
    return [each for each in (order.press, *(order.hold or ())) if each]
