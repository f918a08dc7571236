"""Reads of events: those told with a KPI, gathered into pins, and those of a workspace."""

from dataclasses import dataclass
from datetime import date, timedelta
from zoneinfo import ZoneInfo

from django.db.models import Q, QuerySet

from fluctus.accounts.models import Workspace
from fluctus.kpis.calendar import Calendar, Grain, start_of_day
from fluctus.kpis.models import Event, Kpi

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
    concerned = Q(everywhere=True) | Q(kpis=kpi)
    return Event.objects.filter(concerned, workspace_id=kpi.workspace_id).distinct()


def told_in_words(kpi: Kpi) -> list[str]:
    """Count the events that people tell with a KPI and with no other; none, nothing."""
    elsewhere = Event.objects.filter(kpis__in=Kpi.objects.exclude(pk=kpi.pk))
    told = Event.objects.filter(kpis=kpi, everywhere=False, brought_by=None)
    count = told.exclude(pk__in=elsewhere.values("pk")).count()
    return (
        [f"{count} event{'' if count == 1 else 's'} told with {kpi.name} alone."] if count else []
    )


def events_in(workspace: Workspace, search: str = "") -> QuerySet[Event]:
    """Return the events of a workspace, or those with a text in their title or story."""
    rows = Event.objects.filter(workspace=workspace)
    return rows.filter(Q(title__icontains=search) | Q(text__icontains=search)) if search else rows


@dataclass(frozen=True, slots=True)
class Told:
    """Which events are told with a KPI: those that name it, those of everywhere."""

    of_the_chart: bool = True
    everywhere: bool = True


ALL_TOLD = Told()


def pins_of(
    kpi: Kpi, first: date, last: date, width: int, grain: Grain, told: Told = ALL_TOLD
) -> list[Pin]:
    """Gather the events from ``first`` to ``last`` into pins for a lane of ``width`` pixels.

    ``last`` begins a period of ``grain``, all of whose days are on the lane.
    """
    if grain is not Grain.HOUR:
        zone = ZoneInfo(kpi.time_zone)
        after = Calendar(zone).following(start_of_day(last, zone), grain)
        last = after.astimezone(zone).date() - timedelta(days=1)
    rows = events_of(kpi).filter(first__lte=last, last__gte=first).order_by("first", "pk")
    if not told.of_the_chart:
        rows = rows.filter(everywhere=True)
    if not told.everywhere:
        rows = rows.filter(everywhere=False)
    days = max(1, (last - first).days + 1)
    apart = timedelta(days=days * GROUP_PIXELS / width)
    groups: list[list[Event]] = []
    for event in rows.prefetch_related("kpis"):
        if groups and event.first - groups[-1][0].first < apart:
            groups[-1].append(event)
        else:
            groups.append([event])
    return [
        Pin(group[0].first, max(event.last for event in group), len(group), group[:LISTED])
        for group in groups
    ]
