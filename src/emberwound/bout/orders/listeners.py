"""Who wants to hear of which events."""

from __future__ import annotations

from dataclasses import dataclass
from inspect import iscoroutinefunction, signature
from typing import TYPE_CHECKING, get_args, get_type_hints

from emberwound.vocabulary.errors import BoutError, ListenerError
from emberwound.vocabulary.events import Died, Event, SeatLeft

if TYPE_CHECKING:
    from collections.abc import Callable, Collection, Sequence

    from emberwound.vocabulary.events import AnyEvent


@dataclass(slots=True)
class Listener:
    """A function that hears of one type of event, of one seat's or all, in one life of that seat or in all, or once.

    `over_since` is the tick in which it heard its last; `rank` is its place in the order of asking.
    """

    kind: type[Event]
    seat: str | None
    by: str | None
    life: int | None
    once: bool
    function: Callable[..., object]
    over_since: int | None = None
    rank: int = 0

    def wants(self, event: Event, life: int) -> bool:
        """Whether this event, in a life of the seat it happened to, is one it asked for."""
        return (
            self.over_since is None
            and isinstance(event, self.kind)
            and (self.seat is None or self.seat == event.seat)
            and (self.by is None or self.by == event.by)
            and (self.life is None or self.life == life)
        )


def check_handler(kind: type[Event], function: Callable[..., object]) -> None:
    """Raise BoutError for a handler that could not hear of `kind`: an async one, or one made for something else."""
    name = getattr(function, "__qualname__", repr(function))
    if not callable(function):
        raise BoutError(f"on: {name} cannot be called; give a function that takes one event")
    if iscoroutinefunction(function) or iscoroutinefunction(type(function).__call__):
        raise BoutError(f"on: {name} is async, and nobody would await it; give a function that returns nothing")
    if not _takes_one(function):
        raise BoutError(f"on: {name} takes {signature(function)}; give a function that takes one event")
    taken = _event_taken(function)
    if taken and not any(issubclass(kind, each) for each in taken):
        names = " or ".join(each.__name__ for each in taken)
        raise BoutError(f"on: {name} takes {names}, and would be called with {kind.__name__}; ask for what it takes")


def _takes_one(function: Callable[..., object]) -> bool:
    """Whether a function can be called with one event; true where that cannot be known."""
    try:
        signature(function).bind(None)
    except TypeError:
        return False
    except ValueError:
        return True
    return True


def _event_taken(function: Callable[..., object]) -> list[type[Event]]:
    """The types of event that a function's first parameter is annotated with; none where that cannot be known."""
    try:
        hints = get_type_hints(function)
        first = next(iter(signature(function).parameters))
    except (NameError, TypeError, ValueError, StopIteration):
        return []
    hint = hints.get(first)
    parts = get_args(hint) or (hint,)
    return [each for each in parts if isinstance(each, type) and issubclass(each, Event)]


ENDED_BY_HOST = -1
"""In place of the tick in which a listener heard its last: its host ended it, and nothing brings it back."""


class Listeners:
    """All functions that hear of a bout's events, in the order in which they asked.

    `returning` names the seats that a restart may bring back after they left: what listens for these goes on.
    """

    def __init__(self, returning: Collection[str] = ()) -> None:
        self._all: list[Listener] = []
        self._ended: list[Listener] = []
        self._returning = returning

    def __len__(self) -> int:
        return len(self._all)

    def add(self, listener: Listener) -> None:
        """Let one more function hear. Raises BoutError for one that could not hear of what it asks for."""
        check_handler(listener.kind, listener.function)
        listener.rank = 1 + max((each.rank for each in (*self._all, *self._ended)), default=0)
        self._all.append(listener)

    def end(self, function: Callable[..., object]) -> None:
        """Let a function hear of nothing any more. Raises BoutError for one that does not listen."""
        found = [each for each in self._all if each.function == function and each.over_since is None]
        if not found:
            name = getattr(function, "__name__", function)
            raise BoutError(f"off: {name!r} does not listen; give what `on` was given")
        for each in found:
            each.over_since = ENDED_BY_HOST
        self._all = [each for each in self._all if each.over_since is None]

    def go_back(self, tick: int) -> None:
        """Let all hear again that heard their last in a tick from `tick` on, now that this is the coming one."""
        again = [each for each in self._ended if each.over_since is not None and each.over_since >= tick]
        for each in again:
            each.over_since = None
        self._ended = [each for each in self._ended if each.over_since is not None]
        self._all = sorted([*self._all, *again], key=lambda each: each.rank)

    def call(self, events: Sequence[AnyEvent], life_of: Callable[[Event], int]) -> ListenerError | None:
        """Tell every listener of every event it wants, in order of events, then of asking; the first error, if any.

        `life_of` gives the life of its seat that an event happened to. What listens for one life is over with its
        death, and what listens for a seat or what it does is over when the seat has left.
        """
        failed: tuple[Listener, AnyEvent, Exception] | None = None
        for event in events:
            life = life_of(event)
            for listener in tuple(self._all):
                ends = self._is_last_for(listener, event, life)
                wants = listener.wants(event, life)
                if listener.over_since is None and (ends or (wants and listener.once)):
                    listener.over_since = event.tick
                if not wants:
                    continue
                try:
                    listener.function(event)
                except Exception as raised:  # noqa: BLE001 (whatever it was, the others must still hear)
                    failed = failed or (listener, event, raised)
        over = [each for each in self._all if each.over_since is not None]
        if over:
            self._ended += [each for each in over if each.over_since != ENDED_BY_HOST]
            self._all = [each for each in self._all if each.over_since is None]
        return None if failed is None else _report(*failed, events)

    def _is_last_for(self, listener: Listener, event: Event, life: int) -> bool:
        """Whether nothing that a listener asked for can come after an event."""
        if isinstance(event, Died):
            return listener.seat == event.seat and listener.life == life
        has_left = isinstance(event, SeatLeft) and event.seat not in self._returning
        return has_left and event.seat in (listener.seat, listener.by)


def _report(listener: Listener, event: AnyEvent, error: Exception, events: Sequence[AnyEvent]) -> ListenerError:
    name = getattr(listener.function, "__qualname__", repr(listener.function))
    report = ListenerError(
        f"the listener {name} raised {type(error).__name__}: {error} "
        f"at event {event.seq} of tick {event.tick}; the tick is whole and all listeners were called; fix the listener",
        events,
    )
    report.__cause__ = error
    return report
