"""Acts on events, each one transaction: by hand on a chart, and from a calendar file."""

from collections.abc import Sequence
from dataclasses import dataclass, replace
from datetime import date, timedelta
from typing import Any
from uuid import uuid4
from zoneinfo import ZoneInfo

from django.contrib.auth.models import User
from django.db import transaction
from django.db.models import Q, QuerySet

from fluctus.accounts.models import Workspace
from fluctus.http.refusals import Issue, NotThereError, RefusalError
from fluctus.kpis.calendar import Grain, from_text, label
from fluctus.kpis.chart.queries import state_of_kpi
from fluctus.kpis.chart.services import locked, record
from fluctus.kpis.events.state import EventAct, EventState, keep_event, state_of_event
from fluctus.kpis.models import Event, EventImport, Kpi
from fluctus.tables.calendar_file import CalendarEvent

NOT_SAVED = "The event was not saved."
GROUP_PIXELS = 26
"""Events nearer to each other than this share a pin, with their count."""
LISTED = 8
"""Events that a pin tells in full."""


@dataclass(frozen=True, slots=True)
class Pin:
    """Events that are told at one place of the story lane; ``events`` are the first few."""

    first: date
    last: date
    count: int
    events: list[Event]


def events_of(kpi: Kpi) -> QuerySet[Event]:
    """Return the events that are told with a KPI."""
    own = Q(everywhere=True) | Q(kpis=kpi)
    return Event.objects.filter(own, workspace_id=kpi.workspace_id).distinct()


def events_in(workspace: Workspace, search: str = "") -> QuerySet[Event]:
    """Return the events of a workspace, or those with a text in their title or story."""
    rows = Event.objects.filter(workspace=workspace)
    return rows.filter(Q(title__icontains=search) | Q(text__icontains=search)) if search else rows


def pins_of(kpi: Kpi, first: date, last: date, width: int) -> list[Pin]:
    """Gather the events from ``first`` to ``last`` into pins for a lane of ``width`` pixels."""
    rows = events_of(kpi).filter(first__lte=last, last__gte=first).order_by("first", "pk")
    days = max(1, (last - first).days + 1)
    apart = timedelta(days=days * GROUP_PIXELS / width)
    groups: list[list[Event]] = []
    for event in rows.prefetch_related("kpis"):
        if groups and event.first - groups[-1][0].first < apart:
            groups[-1].append(event)
        else:
            groups.append([event])
    return [
        Pin(group[0].first, max(one.last for one in group), len(group), group[:LISTED])
        for group in groups
    ]


@transaction.atomic
def write_event(
    kpi: Kpi,
    revision: int,
    author: User,
    changes: dict[str, Any] | None,
    number: int | None = None,
    version: int | None = None,
) -> Kpi:
    """Add an event on a chart, change one, or remove it where ``changes`` is None.

    It becomes an act of this chart, to be undone there. Raises StaleError for a
    chart that has changed since ``revision``, and RefusalError (412) for an
    event that has since ``version``.
    """
    kpi = locked(kpi, revision)
    before, after, kept = _write(kpi.workspace, author, changes, number, version, (kpi.pk,))
    if before == after:
        return kpi
    act = EventAct(
        id=kept.pk, uid=kept.uid,
        before=None if before is None else before.to_json(),
        after=None if after is None else after.to_json(),
    )  # fmt: skip
    kpi.revision += 1
    kpi.save(update_fields=["revision"])
    state = state_of_kpi(kpi)
    record(kpi, author, _summary(before, after), state, state, event=act)
    return kpi


@transaction.atomic
def write_event_beside_charts(
    workspace: Workspace,
    author: User,
    changes: dict[str, Any] | None,
    number: int | None = None,
    version: int | None = None,
) -> Event:
    """Do the same in the list of all events, where it is an act of no chart.

    Returns the event as it is then, or as it was before it was removed.
    """
    return _write(workspace, author, changes, number, version, ())[2]


def _write(
    workspace: Workspace,
    author: User,
    changes: dict[str, Any] | None,
    number: int | None,
    version: int | None,
    told: tuple[int, ...],
) -> tuple[EventState | None, EventState | None, Event]:
    """Save an event with its changes; returns what it was, what it is, and the event.

    A new one is told with the KPIs ``told``, where the changes name none.
    """
    event = _event(workspace, number, version)
    before = None if event is None else state_of_event(event)
    after = None if changes is None else _state(workspace, before, changes, told)
    if event is not None and before == after:
        return before, after, event
    return before, after, _keep(workspace, event, after, author)


def _keep(
    workspace: Workspace, event: Event | None, after: EventState | None, author: User
) -> Event:
    """Save an event as it is to be; None removes it, with its number left to tell it by."""
    if after is None:
        assert event is not None, "only an event that is there is removed"
        number = event.pk
        event.delete()
        event.pk = number
        return event
    own = {} if event else {"uid": f"{uuid4()}@fluctus", "author": author}
    return keep_event(workspace, event, after, **own)


def _event(workspace: Workspace, number: int | None, version: int | None) -> Event | None:
    if number is None:
        return None
    rows = Event.objects.select_for_update(of=("self",), no_key=True).filter(workspace=workspace)
    event = rows.filter(pk=number).first()
    if event is None:
        raise NotThereError("event")
    if event.version != version:
        raise RefusalError(
            "This event has changed since you opened it.",
            Issue(
                f"It is now {event.title}, {_days(event)}.",
                "Nothing was changed. Look at it as it is now, then make your change again.",
            ),
            status=412,
        )
    return event


def _state(
    workspace: Workspace,
    before: EventState | None,
    changes: dict[str, Any],
    told: tuple[int, ...],
) -> EventState:
    """Return an event with changes; a new one is told with the KPIs ``told``, where none come."""
    changes = dict(changes)
    slugs = changes.pop("kpis", None)
    if slugs is not None:
        found = dict(
            Kpi.objects.filter(workspace=workspace, slug__in=slugs).values_list("slug", "pk")
        )
        missing = [slug for slug in slugs if slug not in found]
        if missing:
            raise RefusalError(
                NOT_SAVED, Issue(f"There is no KPI {missing[0]}.", "Choose others.", "kpis")
            )
        changes["kpis"] = tuple(sorted(found.values()))
    for name in ("first", "last"):
        if name in changes:
            changes[name] = changes[name].isoformat()
    if before is None:
        start = changes["first"]
        blank = EventState("", Event.Kind.NOTE.value, "", start, start, False, told)
        state = replace(blank, **changes)
    else:
        state = replace(before, **changes)
    if state.last < state.first:
        raise RefusalError(
            NOT_SAVED,
            Issue("The event ends before it begins.", "Choose a later last day.", "last"),
        )
    if not state.everywhere and not state.kpis:
        raise RefusalError(
            NOT_SAVED, Issue("The event is told with no KPI.", "Choose at least one.", "kpis")
        )
    return state


def _summary(before: EventState | None, after: EventState | None) -> str:
    if after is None:
        assert before is not None, "an act makes something of an event"
        return f"Removed the event {before.title}"
    if before is None:
        return f"Added the event {after.title}"
    if before.title == after.title and (before.first, before.last) != (after.first, after.last):
        return f"Moved the event {after.title} to {_day(after.first)}"
    return f"Changed the event {after.title}"


def _days(event: Event) -> str:
    first, last = _day(event.first.isoformat()), _day(event.last.isoformat())
    return first if first == last else f"{first} to {last}"


def _day(text: str) -> str:
    zone = ZoneInfo("UTC")
    return label(from_text(text, Grain.DAY, zone), Grain.DAY, zone)


@dataclass(frozen=True, slots=True)
class Arrivals:
    """Events of a calendar file beside those that are there."""

    new: list[CalendarEvent]
    changed: list[CalendarEvent]
    same: int


def compare_events(workspace: Workspace, coming: Sequence[CalendarEvent]) -> Arrivals:
    """Tell which events of a file are new and which have changed, by their uid."""
    present = {
        event.uid: (event.title, event.text, event.kind, event.first, event.last)
        for event in Event.objects.filter(workspace=workspace)
    }
    new = [one for one in coming if one.uid not in present]
    known = [one for one in coming if one.uid in present]
    changed = [
        one
        for one in known
        if (one.title, one.text, one.kind, one.first, one.last) != present[one.uid]
    ]
    return Arrivals(new, changed, len(known) - len(changed))


@transaction.atomic
def bring_events(
    workspace: Workspace,
    author: User | None,
    coming: Sequence[CalendarEvent],
    file_name: str,
    slugs: Sequence[str],
) -> EventImport:
    """Save the events of a calendar file: all of them, or none.

    An event that is there already, by its uid, takes what the file says. New
    ones are told with the KPIs that the file names, else with those of
    ``slugs``, else with all.
    """
    Workspace.objects.select_for_update(no_key=True).get(pk=workspace.pk)
    arrivals = compare_events(workspace, coming)
    act = EventImport.objects.create(
        workspace=workspace, author=author, file_name=file_name[:200], added=len(arrivals.new)
    )
    numbers = dict(Kpi.objects.filter(workspace=workspace).values_list("slug", "pk"))
    told = {one.uid: _told(one, slugs, numbers) for one in arrivals.new}
    rows = [
        Event(
            workspace=workspace, uid=one.uid, title=one.title, text=one.text, kind=one.kind,
            first=one.first, last=one.last, author=author, brought_by=act,
            everywhere=not told[one.uid],
        )
        for one in arrivals.new
    ]  # fmt: skip
    Event.objects.bulk_create(rows, batch_size=2000)
    links = Event.kpis.through
    links.objects.bulk_create(
        [links(event_id=row.pk, kpi_id=pk) for row in rows for pk in told[row.uid]],
        batch_size=5000,
    )
    changed = {one.uid: one for one in arrivals.changed}
    present = list(Event.objects.filter(workspace=workspace, uid__in=changed))
    for row in present:
        one = changed[row.uid]
        row.title, row.text, row.kind = one.title, one.text, one.kind
        row.first, row.last, row.version = one.first, one.last, row.version + 1
    Event.objects.bulk_update(
        present, ["title", "text", "kind", "first", "last", "version"], batch_size=2000
    )
    return act


def _told(one: CalendarEvent, slugs: Sequence[str], numbers: dict[str, int]) -> list[int]:
    named = [numbers[slug] for slug in one.kpis if slug in numbers]
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
