"""Events as the API answers with them."""

from fluctus.kpis.events import shapes
from fluctus.kpis.events.queries import Pin
from fluctus.kpis.models import Event, EventKind
from fluctus.tables.calendar_file import CalendarEvent


def event_answer(event: Event) -> shapes.Event:
    """Return an event; its KPIs have been fetched with it."""
    return shapes.Event(
        id=event.pk,
        title=event.title,
        kind=EventKind(event.kind),
        text=event.text,
        first=event.first.isoformat(),
        last=event.last.isoformat(),
        everywhere=event.everywhere,
        kpis=[kpi.slug for kpi in event.kpis.all()],
        version=event.version,
    )


def pin_answer(pin: Pin) -> shapes.Pin:
    """Return the events of one place of the lane."""
    return shapes.Pin(
        first=pin.first.isoformat(),
        last=pin.last.isoformat(),
        count=pin.count,
        events=[event_answer(event) for event in pin.events],
    )


def incoming_answer(event: CalendarEvent) -> shapes.Event:
    """Return an event of a file, which has no number yet."""
    return shapes.Event(
        id=0,
        title=event.title,
        kind=EventKind(event.kind),
        text=event.text,
        first=event.first.isoformat(),
        last=event.last.isoformat(),
        everywhere=not event.kpis,
        kpis=list(event.kpis),
        version=0,
    )
