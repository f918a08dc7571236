"""Events of calendar files: brought in all or none, and taken back."""

from collections.abc import Sequence
from dataclasses import dataclass

from django.db import transaction

from fluctus.accounts.models import Workspace
from fluctus.http.refusals import NotThereError
from fluctus.kpis.actor import Actor
from fluctus.kpis.models import Event, EventImport, Kpi
from fluctus.tables.calendar_file import CalendarEvent


@dataclass(frozen=True, slots=True)
class Arrivals:
    """Events of a calendar file beside those that are there."""

    new: list[CalendarEvent]
    changed: list[CalendarEvent]
    same: int


def compare_events(workspace: Workspace, incoming: Sequence[CalendarEvent]) -> Arrivals:
    """Tell which events of a file are new and which have changed, by their uid."""
    present = {
        event.uid: (event.title, event.text, event.kind, event.first, event.last)
        for event in Event.objects.filter(workspace=workspace)
    }
    new = [event for event in incoming if event.uid not in present]
    present_already = [event for event in incoming if event.uid in present]
    changed = [
        event
        for event in present_already
        if (event.title, event.text, event.kind, event.first, event.last) != present[event.uid]
    ]
    return Arrivals(new, changed, len(present_already) - len(changed))


@transaction.atomic
def bring_events(
    workspace: Workspace,
    actor: Actor,
    incoming: Sequence[CalendarEvent],
    file_name: str,
    slugs: Sequence[str],
) -> EventImport:
    """Save the events of a calendar file: all of them, or none.

    An event that is there already, by its uid, takes what the file says. New
    ones are told with the KPIs that the file names, else with those of
    ``slugs``, else with all.
    """
    Workspace.objects.select_for_update(no_key=True).get(pk=workspace.pk)
    arrivals = compare_events(workspace, incoming)
    act = EventImport.objects.create(
        workspace=workspace,
        author=actor.person,
        file_name=file_name[:200],
        added=len(arrivals.new),
    )
    _add(workspace, act, arrivals.new, slugs)
    _update(workspace, arrivals.changed)
    return act


def _add(
    workspace: Workspace, act: EventImport, events: list[CalendarEvent], slugs: Sequence[str]
) -> None:
    numbers = dict(Kpi.objects.filter(workspace=workspace).values_list("slug", "pk"))
    kpis_of = {event.uid: _told_with(event, slugs, numbers) for event in events}
    rows = [
        Event(
            workspace=workspace,
            uid=event.uid,
            title=event.title,
            text=event.text,
            kind=event.kind,
            first=event.first,
            last=event.last,
            author=act.author,
            brought_by=act,
            everywhere=not kpis_of[event.uid],
        )
        for event in events
    ]
    Event.objects.bulk_create(rows, batch_size=2000)
    links = Event.kpis.through
    links.objects.bulk_create(
        [links(event_id=row.pk, kpi_id=pk) for row in rows for pk in kpis_of[row.uid]],
        batch_size=5000,
    )


def _update(workspace: Workspace, events: list[CalendarEvent]) -> None:
    changed = {event.uid: event for event in events}
    rows = list(Event.objects.filter(workspace=workspace, uid__in=changed))
    for row in rows:
        event = changed[row.uid]
        row.title, row.text, row.kind = event.title, event.text, event.kind
        row.first, row.last, row.version = event.first, event.last, row.version + 1
    Event.objects.bulk_update(
        rows, ["title", "text", "kind", "first", "last", "version"], batch_size=2000
    )


def _told_with(event: CalendarEvent, slugs: Sequence[str], numbers: dict[str, int]) -> list[int]:
    named = [numbers[slug] for slug in event.kpis if slug in numbers]
    return named or [numbers[slug] for slug in slugs if slug in numbers]


@transaction.atomic
def take_events_back(workspace: Workspace, number: int) -> int:
    """Remove the events that came with a calendar file and nobody has changed since."""
    act = EventImport.objects.filter(workspace=workspace, pk=number).first()
    if act is None:
        raise NotThereError("import of events")
    _, removed = act.events.filter(version=1).delete()
    act.delete()
    return removed.get("kpis.Event", 0)
