"""Reads of all KPIs at once: what is listed comes from what every write has kept."""

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date, datetime, timedelta
from enum import StrEnum
from functools import cached_property
from typing import Any
from zoneinfo import ZoneInfo

from django.contrib.auth.models import User
from django.db.models import (
    Case,
    Count,
    DateTimeField,
    Exists,
    ExpressionWrapper,
    F,
    IntegerField,
    Max,
    Min,
    OuterRef,
    Q,
    QuerySet,
    Subquery,
    When,
)
from django.db.models.functions import Lower, TruncDate

from fluctus.accounts.models import Workspace
from fluctus.core.context import MeetsTarget
from fluctus.core.words import Attention, Tally
from fluctus.findings.models import Finding, FindingPresence
from fluctus.findings.queries import WITHOUT_CAUSE
from fluctus.http.compiled import Compiled
from fluctus.kpis.calendar import Grain, label
from fluctus.kpis.chart.queries import STALE_AFTER
from fluctus.kpis.models import Kpi
from fluctus.kpis.stamps import counted, digests, stamp_of_kpis
from fluctus.overview.models import HandOrder, KpiSummary
from fluctus.overview.strips.drawing import Dates
from fluctus.tables.days import FIRST_DAY, LAST_DAY

ROWS = 16
"""KPIs in one answer: a screen of them."""


class Shows(StrEnum):
    """Which KPIs are listed."""

    ALL = "all"
    NEW = "new"
    WAITS = "waits"
    OUT = "out"
    NEVER = "never"
    NOT_PREDICTABLE = "not_predictable"
    LATE = "late"
    STEADY = "steady"


class Order(StrEnum):
    """What KPIs are listed by."""

    NEWEST = "newest"
    NAME = "name"
    GROUP = "group"
    TARGET = "target"
    HAND = "hand"


@dataclass(frozen=True, slots=True)
class Listed:
    """Which KPIs of a workspace a person wants to see, and in which order."""

    shows: Shows = Shows.ALL
    order: Order = Order.NEWEST
    group: str | None = None
    folded: Sequence[str] = ()


@dataclass(frozen=True)
class Viewer:
    """Who looks, when, and since when findings are new to them.

    ``since`` is None for whoever has not looked yet; ``person`` for whoever has a link.
    """

    person: User | None
    workspace: Workspace
    now: datetime
    since: datetime | None

    @cached_property
    def order(self) -> HandOrder:
        """The order of KPIs and groups that the person has made; empty where they have made none.

        What they have not arranged comes after the rest.
        """
        own = None
        if self.person is not None:
            own = _hand_order.first(person=self.person.pk, workspace=self.workspace.pk)
        return own or HandOrder()


_hand_order = Compiled(
    lambda person, workspace: HandOrder.objects.filter(person=person, workspace=workspace),
    person=int,
    workspace=int,
)


def has_news(viewer: Viewer) -> Q:
    """Keep the KPIs with a finding without a cause that a person has not looked at."""
    if viewer.since is None:
        return Q(pk__in=[])
    new = Finding.objects.filter(WITHOUT_CAUSE, kpi=OuterRef("pk"), found_at__gt=viewer.since)
    return Q(Exists(new))


def conditions(viewer: Viewer) -> dict[Shows, Q]:
    """Return which KPIs are in each way."""
    return {
        Shows.ALL: Q(),
        Shows.NEW: has_news(viewer),
        Shows.WAITS: Q(summary__attention=Attention.WAITS),
        Shows.OUT: Q(summary__attention=Attention.OUT),
        Shows.NEVER: Q(summary__reach=MeetsTarget.NEVER),
        Shows.NOT_PREDICTABLE: Q(summary__attention=Attention.NOT_PREDICTABLE),
        Shows.LATE: Q(summary__late_from__lt=viewer.now),
        Shows.STEADY: Q(summary__attention=Attention.STEADY),
    }


def tally_of(viewer: Viewer, group: str | None = None) -> Tally:
    """Count the KPIs of a workspace, or of a group, in each way."""
    rows = Kpi.objects.filter(workspace=viewer.workspace)
    if group is not None:
        rows = rows.filter(group=group)
    counts = rows.aggregate(
        **{way.value: Count("pk", filter=which) for way, which in conditions(viewer).items()}
    )
    return Tally(count=counts.pop(Shows.ALL), **counts)


_found = Compiled(
    lambda workspace: counted(
        Finding.objects.filter(kpi__workspace=workspace), (Count("pk"), digests("pk", "version"))
    ),
    workspace=int,
)
_late = Compiled(
    lambda workspace, now: counted(
        KpiSummary.objects.filter(kpi__workspace=workspace, late_from__lt=now),
        (Count("pk"), digests("pk")),
    ),
    workspace=int,
    now=datetime,
)


def stamp_of(viewer: Viewer) -> list[Any]:
    """Return what is another one as soon as anything is that a person sees of all KPIs."""
    return [
        viewer.workspace.pk,
        viewer.since,
        viewer.order.slugs,
        viewer.order.groups,
        stamp_of_kpis(viewer.workspace),
        _found.values(workspace=viewer.workspace.pk),
        _late.values(workspace=viewer.workspace.pk, now=viewer.now),
        # Of dates in another year it is told which, and what is due is drawn as of now.
        int(viewer.now.timestamp()) // STALE_AFTER,
    ]


def listed(viewer: Viewer, wanted: Listed) -> QuerySet[Kpi]:
    """Return the KPIs wanted; those of folded groups are left out of no count."""
    rows = Kpi.objects.filter(workspace=viewer.workspace).filter(conditions(viewer)[wanted.shows])
    return rows if wanted.group is None else rows.filter(group=wanted.group)


def group_counts(viewer: Viewer, rows: QuerySet[Kpi]) -> list[tuple[str, int]]:
    """Count KPIs by group, in the order of a person, and of name where they have made none."""
    counted = rows.order_by(Lower("group"), "group").values_list("group")
    found = list(counted.annotate(Count("pk")))
    order = {name: number for number, name in enumerate(viewer.order.groups)}
    return sorted(found, key=lambda row: order.get(row[0], len(order)))


def stretch(
    viewer: Viewer, wanted: Listed, rows: QuerySet[Kpi], start: int, most: int = ROWS
) -> tuple[list[Kpi], int]:
    """Return ``most`` KPIs in the order wanted, and how many there are."""
    rows = rows.select_related("summary")
    if wanted.order is Order.GROUP and wanted.folded:
        rows = rows.exclude(group__in=wanted.folded)
    count = rows.count()
    if wanted.order is Order.HAND:
        slugs = _by_hand(viewer, rows)[start : start + most]
    else:
        # Sorted by their slugs alone, and then read: all there are, with all that is of each, are
        # many times as much.
        ordered = in_order(viewer, rows, wanted.order).values_list("slug", flat=True)
        slugs = list(ordered[start : start + most])
    by_slug = {kpi.slug: kpi for kpi in rows.filter(slug__in=slugs)}
    return [by_slug[slug] for slug in slugs], count


def slugs_in_order(viewer: Viewer, order: Order) -> list[str]:
    """Return all KPIs of a workspace in some order, by slug."""
    rows = Kpi.objects.filter(workspace=viewer.workspace)
    if order is Order.HAND:
        return _by_hand(viewer, rows)
    return list(in_order(viewer, rows, order).values_list("slug", flat=True))


def in_order(viewer: Viewer, rows: QuerySet[Kpi], order: Order) -> QuerySet[Kpi]:
    """Sort KPIs by anything but hand."""
    found = Finding.objects.filter(kpi=OuterRef("pk"), presence=FindingPresence.PRESENT)
    newest = found.order_by("-first").values("first")[:1]
    if order is Order.NEWEST:
        rows = rows.alias(newest_finding=Subquery(newest))
        return rows.order_by(F("newest_finding").desc(nulls_last=True), "pk")
    arranged = [When(group=name, then=at) for at, name in enumerate(viewer.order.groups)]
    by_hand = Case(*arranged, default=len(arranged), output_field=IntegerField())
    return {
        Order.NAME: rows.order_by(Lower("name")),
        # The database sorts by no constant, which it would be where nothing is arranged.
        Order.GROUP: rows.alias(by_hand=by_hand).order_by(
            *(["by_hand"] if arranged else []), Lower("group"), "group", "pk"
        ),
        Order.TARGET: rows.order_by(F("summary__off_target").desc(nulls_last=True), "pk"),
    }[order]


def _by_hand(viewer: Viewer, rows: QuerySet[Kpi]) -> list[str]:
    """Return slugs in the order of a person; those they have not placed come last."""
    order = {slug: number for number, slug in enumerate(viewer.order.slugs)}
    known = rows.order_by("pk").values_list("slug", flat=True)
    return sorted(known, key=lambda slug: order.get(slug, len(order)))


def new_among(viewer: Viewer, kpis: Sequence[Kpi]) -> set[int]:
    """Return which of some KPIs have news for a person, by key."""
    rows = Kpi.objects.filter(has_news(viewer), pk__in=[kpi.pk for kpi in kpis])
    return set(rows.values_list("pk", flat=True))


def newest_findings(kpis: Sequence[Kpi]) -> dict[int, Finding]:
    """Return the newest finding of each KPI's last segment that has no cause, by KPI."""
    rows = Finding.objects.filter(WITHOUT_CAUSE, kpi__in=kpis, in_last_segment=True)
    newest = rows.order_by("kpi", "-first", "-pk").distinct("kpi")
    return {finding.kpi_id: finding for finding in newest}


def span_of(workspace: Workspace) -> tuple[date, date] | None:
    """Return the first and the last day that any KPI has a value of; None without values."""
    ends = KpiSummary.objects.filter(kpi__workspace=workspace).aggregate(
        Min("oldest"), Max("newest")
    )
    oldest, newest = ends["oldest__min"], ends["newest__max"]
    if oldest is None or newest is None:
        return None
    # A day begins up to 14 hours before it does in UTC, and up to 12 after: none is cut off.
    first = FIRST_DAY if oldest.date() <= FIRST_DAY else (oldest - WEST).date()
    last = LAST_DAY if newest.date() >= LAST_DAY else (newest + EAST).date()
    return first, last


WEST, EAST = timedelta(hours=12), timedelta(hours=14)
MIDDAY = timedelta(hours=12)


def dates_in(span: tuple[date, date] | None, query: dict[str, Any]) -> Dates:
    """Return the days that a query asks for; where it leaves them open, those there are."""
    if span is None:
        return Dates()
    asked = Dates.asked(span, query)
    return Dates(asked.first or span[0], asked.last or span[1])


def newest_period(workspace: Workspace, now: datetime) -> str:
    """Name the newest period that any KPI has a value of; "" without values."""
    rows = KpiSummary.objects.filter(kpi__workspace=workspace, newest__isnull=False)
    # As few columns as it takes: all rows are sorted.
    found = rows.order_by("-newest", "pk").values_list("newest", "kpi__grain", "kpi__time_zone")
    newest, grain, zone = found.first() or (None, "", "")
    return "" if newest is None else label(newest, Grain(grain), ZoneInfo(zone), now)


def findings_by_day(workspace: Workspace, dates: Dates) -> list[tuple[date, int]]:
    """Count the findings on the charts by the day they begin, in order."""
    rows = Finding.objects.filter(kpi__workspace=workspace, presence=FindingPresence.PRESENT)
    if dates.first is not None and dates.last is not None:
        rows = rows.filter(
            first__date__gte=dates.first - timedelta(days=1), first__date__lte=dates.last
        )
    # Midnight of nearly every zone, half a day later, is within that day in UTC.
    begun = ExpressionWrapper(F("first") + MIDDAY, output_field=DateTimeField())
    counted = rows.annotate(day=TruncDate(begun)).order_by("day").values_list("day")
    return list(counted.annotate(Count("pk")))
