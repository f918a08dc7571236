"""Acts on events, each one transaction: on a chart, and in the list beside the charts."""

from dataclasses import replace
from typing import Any
from uuid import uuid4
from zoneinfo import ZoneInfo

from django.db import transaction

from fluctus.accounts.models import Workspace
from fluctus.http.refusals import Issue, NotThereError, RefusalError
from fluctus.kpis.actor import Actor
from fluctus.kpis.calendar import Grain, from_text, label
from fluctus.kpis.chart.keeping import Kept, keep_looks, kept_chart, locked
from fluctus.kpis.chart.queries import state_of_kpi
from fluctus.kpis.events.state import EventAct, EventState, keep_event, state_of_event
from fluctus.kpis.models import Event, EventKind, Kpi
from fluctus.kpis.record.log import record

NOT_SAVED = "The event was not saved."


@transaction.atomic
def write_event(
    kpi: Kpi,
    revision: int,
    actor: Actor,
    changes: dict[str, Any] | None,
    number: int | None = None,
    version: int | None = None,
) -> Kept:
    """Add an event on a chart, change one, or remove it where ``changes`` is None.

    It becomes an act of this chart, to be undone there. Raises StaleError for a
    chart that has changed since ``revision``, and RefusalError (412) for an
    event that has since ``version``.
    """
    kpi = locked(kpi, revision)
    before, after, event = _write(kpi.workspace, actor, changes, number, version, (kpi.pk,))
    if before == after:
        return kept_chart(kpi, actor.now)
    act = EventAct(
        id=event.pk,
        uid=event.uid,
        before=None if before is None else before.to_json(),
        after=None if after is None else after.to_json(),
    )
    state = state_of_kpi(kpi)
    kept = keep_looks(kpi, state, state, actor.now)
    record(kpi, actor, _summary(before, after), state, state, event=act)
    return kept


@transaction.atomic
def write_event_beside_charts(
    workspace: Workspace,
    actor: Actor,
    changes: dict[str, Any] | None,
    number: int | None = None,
    version: int | None = None,
) -> Event:
    """Do the same in the list of all events, where it is an act of no chart.

    Returns the event as it is then, or as it was before it was removed.
    """
    return _write(workspace, actor, changes, number, version, ())[2]


def _write(
    workspace: Workspace,
    actor: Actor,
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
    return before, after, _keep(workspace, event, after, actor)


def _keep(
    workspace: Workspace, event: Event | None, after: EventState | None, actor: Actor
) -> Event:
    """Save an event as it is to be; None removes it, with its number left to tell it by."""
    if after is None:
        assert event is not None, "only an event that is there is removed"
        number = event.pk
        event.delete()
        event.pk = number
        return event
    identity = {} if event else {"uid": f"{uuid4()}@fluctus", "author": actor.person}
    return keep_event(workspace, event, after, **identity)


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
        numbers = dict(
            Kpi.objects.filter(workspace=workspace, slug__in=slugs).values_list("slug", "pk")
        )
        missing = [slug for slug in slugs if slug not in numbers]
        if missing:
            raise RefusalError(
                NOT_SAVED, Issue(f"There is no KPI {missing[0]}.", "Choose others.", "kpis")
            )
        changes["kpis"] = tuple(sorted(numbers.values()))
    for name in ("first", "last"):
        if name in changes:
            changes[name] = changes[name].isoformat()
    if before is None:
        start = changes["first"]
        blank = EventState("", EventKind.NOTE.value, "", start, start, False, told)
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
