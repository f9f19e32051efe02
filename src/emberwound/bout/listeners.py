"""Who wants to hear of which events."""

from __future__ import annotations

from dataclasses import dataclass
from typing import TYPE_CHECKING, Any, Protocol

from emberwound.vocabulary.errors import ListenerError

if TYPE_CHECKING:
    from collections.abc import Callable, Sequence

    from emberwound.bout.bout import Bout
    from emberwound.vocabulary.events import Event
    from emberwound.vocabulary.orders import Input


class Observer(Protocol):
    """Sees every tick when it is whole; taking it away changes no result."""

    def tick_closed(self, bout: Bout, inputs: Sequence[Input], events: Sequence[Event]) -> None:
        """Hear of the tick just run: the inputs it took and the events it made."""


@dataclass(frozen=True, slots=True)
class Listener:
    """A function that hears of one type of event, of one seat's or all."""

    kind: type[Event]
    seat: str | None
    by: str | None
    function: Callable[[Any], object]

    def wants(self, event: Event) -> bool:
        """Whether this event is one it asked for."""
        return (
            isinstance(event, self.kind)
            and (self.seat is None or self.seat == event.seat)
            and (self.by is None or self.by == event.by)
        )


def tell(listeners: Sequence[Listener], events: Sequence[Event]) -> ListenerError | None:
    """Tell every listener of every event it wants, in order of events, then of asking; the first error, if any."""
    failed: tuple[Listener, Event, Exception] | None = None
    for event in events:
        for listener in listeners:
            if not listener.wants(event):
                continue
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
