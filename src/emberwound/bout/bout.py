"""A bout: rules running at a fixed tick."""

from __future__ import annotations

from hashlib import blake2b
from typing import TYPE_CHECKING, Literal, NoReturn, Protocol, TypeVar

import msgspec

from emberwound.bout.handles import props_of, shots_of
from emberwound.bout.hits.passed_over import PassedOverFinder
from emberwound.bout.lives.counters import BoardRow, board
from emberwound.bout.orders import validate
from emberwound.bout.orders.entering import MOST_LIVES, stand_props
from emberwound.bout.orders.inputs import INPUT_RULES, give, take
from emberwound.bout.orders.listeners import Listener, Listeners
from emberwound.bout.phases import PHASES
from emberwound.bout.phases.hits_and_after import judgement
from emberwound.bout.phases.quiet import may_be_quiet, run_quiet, stands_still
from emberwound.bout.seat import Seat, seat_of
from emberwound.bout.state.layout import Count, SeatMark
from emberwound.bout.state.snapshot import Snapshot
from emberwound.bout.state.world import World
from emberwound.bout.views.frame import view_of
from emberwound.plan import compile_plan
from emberwound.plan.script import compile_script
from emberwound.rulebook.checks.timelines import too_fast
from emberwound.rulebook.outline import dotted
from emberwound.vocabulary.clock import BILLION
from emberwound.vocabulary.errors import BoutError, ListenerError, shortened
from emberwound.vocabulary.events import Event
from emberwound.vocabulary.orders import EndShot, Enter, Input

if TYPE_CHECKING:
    from collections.abc import Callable, Mapping, Sequence

    from emberwound.bout.handles import Prop, Shot
    from emberwound.bout.hits.passed_over import PassedOver
    from emberwound.bout.views.frame import View
    from emberwound.plan.script import Script
    from emberwound.rulebook import Rules
    from emberwound.vocabulary.events import AnyEvent
    from emberwound.vocabulary.orders import Facing

Kind = TypeVar("Kind", bound=Event)


class Observer(Protocol):
    """Sees every tick when it is whole; without it every result is the same."""

    def tick_closed(self, bout: Bout, inputs: tuple[Input, ...], events: tuple[AnyEvent, ...]) -> None:
        """Hear of the tick just run: the inputs it took and the events it made."""


class PassedOverObserver(Protocol):
    """Hears whom attacks touch and leave alone, which costs time in every tick; it may be an Observer besides."""

    def passed_over(self, bout: Bout, found: PassedOver) -> None:
        """Hear of an attack that touched a hurtbox in this tick and left it alone, before the tick is over."""


class Bout:
    """A running bout in one arena of a rulebook.

    Fighters enter on seats, seats are given orders, time is advanced, events come out; the bout keeps none of them.
    The same rules, `seed` of random draws, `tick_rate` and inputs give the same bits; without a `tick_rate` the book's
    counts. Raises BoutError for names the book does not have, and for what cannot happen as often at that rate.
    """

    def __init__(self, rules: Rules, *, arena: str, seed: int = 0, tick_rate: int | None = None) -> None:
        self._open(rules, arena, seed, tick_rate, None)

    @classmethod
    def scripted(cls, rules: Rules, bout: str, *, seed: int | None = None, tick_rate: int | None = None) -> Bout:
        """One of the book's own bouts: its seats have entered, its orders come in time. Raises BoutError.

        `seed` and `tick_rate` take the place of the book's own.
        """
        validate.name("bout", bout, rules.book.bouts)
        rate = _tick_rate(rules, tick_rate)
        script = compile_script(rules, bout, rate)
        made = cls.__new__(cls)
        drawn_from = script.seed if seed is None else seed
        made._open(rules, rules.book.bouts[bout].arena, drawn_from, rate, script)  # noqa: SLF001 (a bout of its own making)
        return made

    def _open(self, rules: Rules, arena: str, seed: int, tick_rate: int | None, script: Script | None) -> None:
        validate.name("arena", arena, rules.book.arenas)
        self._rules = rules
        self._plan = compile_plan(rules, arena, _tick_rate(rules, tick_rate))
        self._world = World(self._plan, script)
        self._world.counts[Count.SEED] = validate.count("seed", seed, 0, 2**63 - 1)
        self._world.counts[Count.NEXT_DUE] = self._world.soonest()
        restarts = self._plan.on_elimination == "restart"
        self._listeners = Listeners(script.late | script.leaving if script and restarts else ())
        self._observers: list[Observer | PassedOverObserver] = []
        self._tick_observers: list[Observer] = []
        self._passed_over_observers: list[PassedOverObserver] = []
        self._phases: tuple[Callable[[World], None], ...] = PHASES
        self._remainder = self._dropped = 0
        self._running = False
        self._broken = ""
        self._finder = PassedOverFinder()
        stand_props(self._world)
        for entry in script.entries if script else ():
            take(self._world, entry)

    @property
    def rules(self) -> Rules:
        """Its rules."""
        return self._rules

    @property
    def seed(self) -> int:
        """The seed of its random draws."""
        return self._world.counts[Count.SEED]

    @property
    def arena(self) -> str:
        """The name of its arena."""
        return self._plan.arena

    @property
    def script(self) -> str | None:
        """The name of the book's bout that it follows, or None."""
        return self._world.script.name if self._world.script else None

    @property
    def script_ticks(self) -> int | None:
        """How many ticks its script lasts, or None without one."""
        return self._world.script.ticks if self._world.script else None

    @property
    def tick_rate(self) -> int:
        """Ticks a second."""
        return self._plan.tick_rate

    @property
    def tick(self) -> int:
        """The number of ticks run so far, which is the number of the coming one."""
        return self._world.counts[Count.TICK]

    @property
    def time(self) -> float:
        """Seconds run so far, whole ticks only."""
        return self.tick / self.tick_rate

    @property
    def over(self) -> bool:
        """Whether it has ended: ticks still pass, but nothing happens in them."""
        return bool(self._world.counts[Count.OVER])

    @property
    def seats(self) -> tuple[Seat, ...]:
        """All seats, in the order in which they entered."""
        first = len(self._plan.props)
        return tuple(seat_of(self._world, first + at) for at, name in enumerate(self._world.names[first:]) if name)

    @property
    def props(self) -> tuple[Prop, ...]:
        """The props of the arena, in its order."""
        return props_of(self._world)

    @property
    def shots(self) -> tuple[Shot, ...]:
        """The shots in flight, by their ids."""
        return shots_of(self._world)

    @property
    def _seat_names(self) -> list[str]:
        return [name for name in self._world.names[len(self._plan.props) :] if name]

    @property
    def pending_inputs(self) -> tuple[Input, ...]:
        """The inputs that the coming tick will take."""
        return tuple(self._world.inputs)

    def seat(self, name: str) -> Seat:
        """The seat of that name. Raises BoutError when nobody entered on it."""
        names = self._world.names
        if name not in names or names.index_of(name) < len(self._plan.props):
            validate.name("seat", name, self._seat_names)
        return seat_of(self._world, names.index_of(name))

    def enter(  # noqa: PLR0913 (each is a field of the input, by name)
        self,
        fighter: str,
        *,
        at: str | Sequence[float],
        seat: str | None = None,
        facing: Facing | None = None,
        lives: int | Literal["endless"] | None = 1,
        team: str | None = None,
        pools: Mapping[str, float] | None = None,
        damage_dealt: float = 1.0,
        speed_share: float = 1.0,
    ) -> Seat:
        """Let a fighter enter on a new seat, at a named entry or at a point; the seat.

        Without a name the seat is called after the fighter, with a number; without a team it is a team of its own.
        `lives` is a number, or "endless"; `facing` is as for `Seat.order`, without it as the entry says, else "right".
        `pools` are the maxima of pools that are not as large as the fighter's, `damage_dealt` is a factor on the
        damage of all that the seat hits with, `speed_share` one on its walking speed; they last over all its lives.
        Raises BoutError for unknown names, a point outside the arena, a seat already taken, when
        settings.max_seats are taken, and when the bout is over.
        """
        given = give(
            self._world,
            Enter,
            -1,
            fighter=fighter,
            at=at,
            seat=seat,
            facing=facing,
            lives=lives,
            team=team,
            pools={} if pools is None else pools,
            damage_dealt=damage_dealt,
            speed_share=speed_share,
        )
        return seat_of(self._world, self._world.names.index_of(given.seat))

    def board(self) -> tuple[BoardRow, ...]:
        """All seats with what they count, the best first by the book's `settings.board`."""
        return board(self._world)

    def view(self, *, smooth: bool = False) -> View:
        """A frozen picture of this moment for whoever draws: bodies, shots, areas, bars and cues.

        `smooth` counts in what `advance` has kept of a tick, so that what moves glides between ticks.
        """
        return view_of(self._world, self._remainder / BILLION if smooth else 0.0)

    def give(self, given: Input) -> None:
        """Hand in an input as a chronicle records it; it counts for the coming tick, whatever tick it names."""
        if not isinstance(given, Input):
            raise BoutError(f"give: give an input as a chronicle records it; got {given!r}")
        if type(given) not in INPUT_RULES:
            raise BoutError(f"give: give an input as a chronicle records it; got {given!r}")
        told = {name: getattr(given, name) for name in given.__struct_fields__ if name not in Input.__struct_fields__}
        if isinstance(given, Enter):
            give(self._world, Enter, -1, seat=given.seat, **told)
        elif isinstance(given, EndShot):
            give(self._world, EndShot, -1, **told)
        else:
            self.seat(given.seat)._give(type(given), **told)  # noqa: SLF001 (a seat of its own)

    def on(
        self,
        kind: type[Kind],
        *,
        seat: Seat | str | None = None,
        by: Seat | str | None = None,
        life: int | None = None,
        once: bool = False,
    ) -> Callable[[Callable[[Kind], None]], Callable[[Kind], None]]:
        """A decorator: the function is called with every event of `kind`, when its tick is whole.

        `seat` asks for those that happened to one seat, `by` for those it did; the seat may enter later. `life` asks
        for those of that life of the seat alone, up to its death; `once` for the first one alone. `off` ends it, and
        so does the leaving of the seat, unless it is one of the script's that a restart brings back.
        Raises BoutError for what is no type of event, for a life without a seat or already over, and for a function
        that is async or that takes another event.
        """
        if not (isinstance(kind, type) and issubclass(kind, Event)):
            raise BoutError(f"on: give a type of event, such as emberwound.events.Died; got {kind!r}")
        name = _name_of(seat)
        if life is not None:
            self._check_life(name, validate.count("life", life, 1, MOST_LIVES))

        def listen(function: Callable[[Kind], None]) -> Callable[[Kind], None]:
            self._listeners.add(Listener(kind, name, _name_of(by), life, once, function))
            return function

        return listen

    def off(self, function: Callable[..., object]) -> None:
        """Let a function hear of nothing any more. Raises BoutError for one that does not listen."""
        self._listeners.end(function)

    def _check_life(self, seat: str | None, life: int) -> None:
        if seat is None:
            raise BoutError(f"life: {life} of whom? name the seat")
        if seat in self._seat_names:
            known = self.seat(seat)
            if life < known.life or (life == known.life and not known.alive):
                raise BoutError(f"life: {life} of seat {seat!r} is over; its life is now number {known.life}")

    def _life_of(self, event: Event) -> int:
        """Which life of its seat an event happened to."""
        told = getattr(event, "life", None)
        if isinstance(told, int):
            return told
        names, lives = self._world.names, self._world.block.seat_marks[SeatMark.LIFE]
        return int(lives[names.index_of(event.seat)]) if event.seat in names else 0

    def watch(self, observer: Observer | PassedOverObserver) -> Callable[[], None]:
        """Let an observer see every tick from now on; a function that ends it.

        Its method `tick_closed` hears of every tick, its method `passed_over` of whom attacks touch and leave alone,
        and why; it needs one of them. Raises BoutError for what has neither.
        """
        validate.observer(observer, ("tick_closed", "passed_over"))

        def end() -> None:
            self._observers = [each for each in self._observers if each is not observer]
            self._choose_phases()

        self._observers = [*self._observers, observer]
        self._choose_phases()
        return end

    def _choose_phases(self) -> None:
        """See who wants to hear of what; a tick looks for whom attacks pass over only while somebody wants to."""
        self._tick_observers = [each for each in self._observers if _hears("tick_closed", each)]  # type: ignore[misc]
        self._passed_over_observers = [each for each in self._observers if _hears("passed_over", each)]  # type: ignore[misc]
        wanted = bool(self._passed_over_observers)
        at = PHASES.index(judgement)
        self._phases = (*PHASES[:at], self._finder.begin, *PHASES[at:]) if wanted else PHASES
        self._world.hear_blast = self._finder.blast if wanted else None

    def step(self) -> list[AnyEvent]:
        """Run one tick; its events. Raises ListenerError after the tick when a listener raised.

        Whatever else is raised, such as by an own step, breaks the tick off: the bout can then only be restored.
        """
        if self._running:
            raise BoutError("the bout is running a tick; a listener may give orders, but not advance it")
        if self._broken:
            raise BoutError(f"tick {self.tick} was broken off ({self._broken}); restore the bout from a snapshot")
        return self._whole(self._run_tick)

    def _whole(self, run: Callable[[], list[AnyEvent]]) -> list[AnyEvent]:
        """Run ticks to their end; what is raised in one breaks the bout off, but for what listeners raise after it."""
        self._running = True
        try:
            return run()
        except ListenerError:
            raise
        except BaseException as error:  # an interrupt from the keyboard leaves half a tick behind as well
            self._broken = str(error) or type(error).__name__
            raise
        finally:
            self._running = False

    def _run_tick(self) -> list[AnyEvent]:
        world = self._world
        if world.counts[Count.OVER] or (not (self._passed_over_observers or world.inputs) and stands_still(world)):
            world.counts[Count.TICK] += 1
        else:
            for phase in self._phases:
                phase(world)
        return self._hand_out(world)

    def _hand_out(self, world: World) -> list[AnyEvent]:
        """Let everybody hear what happened in the tick that was run; its events."""
        events, world.events = world.events, []
        if events or world.inputs or self._observers:
            inputs, world.inputs = world.inputs, []
            self._report_passed_over()
            if self._tick_observers:
                taken, told = tuple(inputs), tuple(events)
                for observer in self._tick_observers:
                    observer.tick_closed(self, taken, told)
            failed = self._listeners.call(events, self._life_of) if self._listeners else None
            if failed:
                raise failed
        return events

    def _report_passed_over(self) -> None:
        found, self._finder.found = self._finder.found, []
        for each in found:
            for observer in self._passed_over_observers:
                observer.passed_over(self, each)

    @property
    def dropped_seconds(self) -> float:
        """The seconds that the last `advance` dropped because of its `at_most`."""
        return self._dropped / BILLION / self.tick_rate

    def advance(self, seconds: float, *, at_most: float | None = None) -> list[AnyEvent]:
        """Run the whole ticks that `seconds` add up to; their events. What is left of a tick counts the next time.

        With `at_most` no more seconds than that are run; `dropped_seconds` are left out. Raises BoutError for
        a time that is negative or not finite.
        """
        asked = validate.billionths("advance", seconds, self.tick_rate)
        wanted = self._remainder + asked
        self._remainder = wanted
        if at_most is not None:
            most = validate.billionths("at_most", at_most, self.tick_rate)
            self._remainder = min(wanted, max(most, BILLION - 1))
        self._dropped = wanted - self._remainder
        events: list[AnyEvent] = []
        while self._remainder >= BILLION:
            try:
                events += self._go_on()
            except ListenerError as error:
                raise ListenerError(str(error), [*events, *error.events]) from error.__cause__
        return events

    def _go_on(self) -> list[AnyEvent]:
        """Run the next tick that `advance` owes, and with it all that go by without anything happening; the events."""
        world = self._world
        owed = self._remainder // BILLION
        if owed == 1 or self._observers or self._running or self._broken or not may_be_quiet(world):
            self._remainder -= BILLION
            return self.step()
        before = world.counts[Count.TICK]
        try:
            return self._whole(lambda: self._run_quiet(before + owed))
        finally:
            self._remainder -= (world.counts[Count.TICK] - before) * BILLION

    def _run_quiet(self, until: int) -> list[AnyEvent]:
        run_quiet(self._world, until)
        return self._hand_out(self._world)

    def snapshot(self) -> Snapshot:
        """The bout as it stands between two ticks. Raises BoutError after a tick that was broken off."""
        if self._broken:
            raise BoutError(f"tick {self.tick} was broken off ({self._broken}); there is no whole state to save")
        world = self._world
        named = tuple(world.names), tuple(world.teams)
        return Snapshot(self._made_for(), *named, tuple(world.inputs), self._remainder, world.packing.packed()).sealed()

    def restore(self, saved: Snapshot) -> None:
        """Go on from a snapshot, made by this bout or by another of the same rules, arena, tick rate and script.

        Listeners and observers stay; listeners that heard their last in a tick that is still to come hear again. All
        else is as it was. Raises BoutError for a snapshot of another kind of bout.
        """
        if self._running:
            raise BoutError("the bout is running a tick; restore it between two ticks")
        if not isinstance(saved, Snapshot):
            raise BoutError(f"restore: give a snapshot of a bout; got {shortened(saved)}")
        if not saved.is_whole:
            raise BoutError("restore: the snapshot was damaged since it was made; give one as `snapshot` made it")
        if saved.made_for != self._made_for():
            here, there = self._made_for(), saved.made_for
            what = ("rules", "arena", "tick rate", "script")
            pairs = zip(what, there, here, strict=True)
            which = "; ".join(f"{name}: snapshot {a}, bout {b}" for name, a, b in pairs if a != b)
            raise BoutError(f"the snapshot is of another bout ({which}); restore it into one made alike")
        try:
            self._world.packing.replace(saved.state)
        except ValueError as error:
            raise BoutError(f"the snapshot is cut off, or of another version of the library: {error}") from None
        self._world.names.replace(saved.names)
        self._world.teams[:] = saved.teams
        self._world.inputs[:] = saved.pending
        self._remainder = saved.remainder
        self._broken = ""
        self._world.clear_scratch()
        self._world.look_for_dealers()
        self._listeners.go_back(self.tick)
        self._finder = PassedOverFinder()
        self._choose_phases()

    def digest(self) -> str:
        """A hash of the whole state: equal digests are equal bouts, bit for bit.

        The part of a tick that `advance` keeps is the host's and not in it.
        """
        names = "\n".join([*self._world.names, "", *self._world.teams]).encode()
        waiting = [each for each in self._world.inputs if each.in_tick]
        told = msgspec.json.encode(waiting) if waiting else b""
        return blake2b(self._world.packing.packed() + names + told, digest_size=16).hexdigest()

    def _made_for(self) -> tuple[str, str, int, str | None]:
        return (self.rules.hash, self.arena, self.tick_rate, self.script)

    def __reduce_ex__(self, _protocol: object) -> NoReturn:
        raise BoutError(
            "a bout cannot be copied or pickled; keep bout.snapshot(), and restore it into a bout of the same rules"
        )

    def __repr__(self) -> str:
        return f"<Bout in {self.arena}: tick {self.tick} at {self.tick_rate} a second, {len(self._seat_names)} seats>"


def _tick_rate(rules: Rules, asked: int | None) -> int:
    if asked is None:
        return rules.book.settings.tick_rate
    book, rate = rules.book, validate.count("tick_rate", asked, 1, 1000)
    for key, seen, allowed in too_fast(book.attacks, book.afflictions, book.arenas, book.settings.frame_rate, rate):
        raise BoutError(f"tick_rate {rate}: {dotted(key)}: {seen}; {allowed}")
    return rate


def _hears(method: str, observer: object) -> bool:
    return callable(getattr(observer, method, None))


def _name_of(seat: Seat | str | None) -> str | None:
    return seat.name if isinstance(seat, Seat) else seat
