"""Who wants to hear of which events."""

from __future__ import annotations

from dataclasses import dataclass
from typing import TYPE_CHECKING, Any, Protocol

from emberwound.vocabulary.errors import ListenerError
from emberwound.vocabulary.events import Died, Left

if TYPE_CHECKING:
    from collections.abc import Callable, Sequence

    from emberwound.bout.bout import Bout
    from emberwound.vocabulary.events import Event
    from emberwound.vocabulary.orders import Input


class Observer(Protocol):
    """Sees every tick when it is whole; taking it away changes no result."""

    def tick_closed(self, bout: Bout, inputs: Sequence[Input], events: Sequence[Event]) -> None:
        """Hear of the tick just run: the inputs it took and the events it made."""


@dataclass(slots=True)
class Listener:
    """A function that hears of one type of event, of one seat's or all, in one life of that seat or in all, or once.

    `over` says that it hears no more.
    """

    kind: type[Event]
    seat: str | None
    by: str | None
    life: int | None
    once: bool
    function: Callable[[Any], object]
    over: bool = False

    def wants(self, event: Event, life: int) -> bool:
        """Whether this event, in a life of the seat it befell, is one it asked for."""
        return (
            not self.over
            and isinstance(event, self.kind)
            and (self.seat is None or self.seat == event.seat)
            and (self.by is None or self.by == event.by)
            and (self.life is None or self.life == life)
        )


def _is_last_for(listener: Listener, event: Event, life: int) -> bool:
    """Whether nothing that a listener asked for can come after an event."""
    if isinstance(event, Died):
        return listener.seat == event.seat and listener.life == life
    return isinstance(event, Left) and event.seat in (listener.seat, listener.by)


def tell(
    listeners: Sequence[Listener], events: Sequence[Event], life_of: Callable[[Event], int]
) -> ListenerError | None:
    """Tell every listener of every event it wants, in order of events, then of asking; the first error, if any.

    `life_of` gives the number of the life of its seat that an event befell. What listens for one life is over with
    that life's death, and what listens for a seat or what it does is over when the seat has left.
    """
    failed: tuple[Listener, Event, Exception] | None = None
    for event in events:
        life = life_of(event)
        for listener in tuple(listeners):
            ends = _is_last_for(listener, event, life)
            if not listener.wants(event, life):
                listener.over |= ends
                continue
            listener.over |= ends or listener.once
            try:
                listener.function(event)
            except Exception as raised:  # noqa: BLE001 (whatever it was, the others must still hear)
                failed = failed or (listener, event, raised)
    if failed is None:
        return None
    listener, event, error = failed
    name = getattr(listener.function, "__qualname__", repr(listener.function))
    report = ListenerError(
        f"the listener {name} raised {type(error).__name__}: {error} "
        f"at event {event.seq} of tick {event.tick}; the tick is whole and all listeners were told; mend the listener",
        events,
    )
    report.__cause__ = error
    return report
