"""Reads of findings, all within the workspaces of the person who asks."""

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import UTC, date, datetime, time, timedelta
from enum import StrEnum

from django.contrib.auth.models import User
from django.db.models import Case, Count, Exists, OuterRef, Q, QuerySet, When

from fluctus.accounts.models import Workspace
from fluctus.accounts.queries import name_of, named
from fluctus.accounts.shapes import NamedPerson
from fluctus.findings.models import Entry, Finding, FindingPresence, FindingState, Look
from fluctus.http.compiled import Compiled
from fluctus.http.refusals import NotThereError
from fluctus.http.requests import LIST_PAGE
from fluctus.kpis.calendar import DAYS_LONG, Grain
from fluctus.kpis.events.queries import events_of
from fluctus.kpis.models import DataChange, Event, Kpi

NEAR_LISTED = 30
WRITERS_NAMED = 5


@dataclass(frozen=True, slots=True)
class Wanted:
    """Which findings a person wants to see; None and empty are all of them."""

    state: Sequence[str] = ()
    kpi: str | None = None
    rule: str | None = None
    person: str | None = None
    """A name, or "" for those that nobody has."""
    since: date | None = None
    until: date | None = None
    favorable: bool | None = None
    gone: bool = False
    """Whether those that signal no more are wanted as well."""


def findings_in(workspace: Workspace, filters: Wanted) -> QuerySet[Finding]:
    """Return the findings wanted, but for their state."""
    rows = Finding.objects.filter(kpi__workspace=workspace)
    if not filters.gone:
        # One that people have decided on stays in sight when its points signal no more.
        decided = (FindingState.ASIDE, FindingState.SHIFT)
        rows = rows.filter(Q(presence=FindingPresence.PRESENT) | Q(state__in=decided))
    if filters.kpi:
        rows = rows.filter(kpi__slug=filters.kpi)
    if filters.rule:
        rows = rows.filter(has_rule(filters.rule))
    if filters.person is not None:
        rows = (
            rows.filter(person__username=filters.person)
            if filters.person
            else rows.filter(person=None)
        )
    if filters.since:
        rows = rows.filter(last__gte=datetime.combine(filters.since, time(), UTC) - ZONES)
    if filters.until:
        rows = rows.filter(first__lte=datetime.combine(filters.until, time.max, UTC) + ZONES)
    if filters.favorable is not None:
        rows = rows.filter(favorable=filters.favorable)
    return rows


class Order(StrEnum):
    """How findings are sorted, the newest first in each."""

    FIRST = "first"
    """As they are worked through: what is new, then what is open, then the rest."""
    KPI = "kpi"
    WEEK = "week"


def in_order(
    rows: QuerySet[Finding], since: datetime | None, order: Order = Order.FIRST
) -> QuerySet[Finding]:
    """Sort findings; ``since`` is when a person looked through them last."""
    if order is Order.KPI:
        return rows.order_by("kpi__name", "kpi", "-first", "-pk")
    if order is Order.WEEK:
        return rows.order_by("-first", "-pk")
    is_new = Q(found_at__gt=since) if since is not None else Q(pk__in=[])
    is_open = Q(state__in=(FindingState.OPEN, FindingState.LOOKING))
    ranked = rows.alias(
        rank=Case(When(is_new, then=0), When(is_open, then=1), default=2),
    )
    return ranked.order_by("rank", "-first", "-pk")


_look = Compiled(
    lambda person, workspace: Look.objects.filter(person=person, workspace=workspace),
    person=int,
    workspace=int,
)


def look_of(person: User, workspace: Workspace) -> Look | None:
    """Return when a person looked through the findings; None: not yet."""
    return _look.first(person=person.pk, workspace=workspace.pk)


def new_since(workspace: Workspace, since: datetime | None) -> int:
    """Count the findings that were found after a time and that nobody has explained."""
    if since is None:
        return 0
    return unexplained_in(workspace).filter(found_at__gt=since).count()


WITHOUT_CAUSE = Q(
    presence=FindingPresence.PRESENT, state__in=(FindingState.OPEN, FindingState.LOOKING)
)
"""Keeps the findings on the charts that nobody has explained or decided on."""


def unexplained_in(workspace: Workspace) -> QuerySet[Finding]:
    """Return the findings on the charts of a workspace that have no cause."""
    return Finding.objects.filter(WITHOUT_CAUSE, kpi__workspace=workspace)


def news_of(person: User) -> dict[str, int]:
    """Count, by the workspaces of a person, what was found there since they last looked.

    Those without news are left out, and so are those that they have not looked through yet.
    """
    looks = Look.objects.filter(
        person=person, workspace=OuterRef("kpi__workspace"), at__lt=OuterRef("found_at")
    )
    rows = Finding.objects.filter(WITHOUT_CAUSE, Exists(looks), kpi__workspace__members=person)
    return dict(rows.values_list("kpi__workspace__slug").annotate(Count("pk")).order_by())


def has_rule(rule: str) -> Q:
    """Keep findings that lead with a rule, or have a signal of it as further evidence."""
    return Q(rule=rule) | Q(evidence__contains=[{"rule": rule}])


ZONES = timedelta(hours=14)
"""A day somewhere begins or ends at most this long before or after it does in UTC."""


def in_states(rows: QuerySet[Finding], states: Sequence[str]) -> QuerySet[Finding]:
    """Keep the findings in some states; none named: in all."""
    return rows.filter(state__in=states) if states else rows


def counts_of(rows: QuerySet[Finding]) -> dict[str, int]:
    """Count findings by state."""
    counted = rows.order_by().values_list("state").annotate(Count("pk"))
    return {state.value: 0 for state in FindingState} | dict(counted)


def finding_of(person: User, workspace: str, number: int) -> Finding:
    """Return one finding; raises NotThereError for one of another workspace."""
    rows = Finding.objects.filter(kpi__workspace__slug=workspace, kpi__workspace__members=person)
    finding = rows.filter(pk=number).select_related("kpi__workspace", "person").first()
    if finding is None:
        raise NotThereError("finding")
    return finding


def newest_of(kpi: Kpi) -> list[Finding]:
    """List the newest findings of a KPI, with those that signal no more."""
    rows = Finding.objects.filter(kpi=kpi).select_related("kpi", "person")
    return list(rows.order_by("-first", "-pk")[: 2 * LIST_PAGE])


def people_of(workspace: Workspace) -> list[NamedPerson]:
    """List who is in a workspace, by username and name."""
    members = workspace.members.order_by("username")
    return [named(person) for person in members]


def entries_of(finding: Finding) -> list[Entry]:
    """List what was said of a finding and what happened to it, oldest first."""
    return list(finding.entries.select_related("author").order_by("pk"))


def said_in_words(kpi: Kpi) -> list[str]:
    """Count what people have said of the findings of a KPI, and name who did; none, nothing."""
    entries = Entry.objects.filter(finding__kpi=kpi, author__isnull=False)
    remarks = entries.filter(remark=True).count()
    decided = entries.filter(remark=False).values("finding").distinct().count()
    parts = [
        f"{count} {word}{'' if count == 1 else 's'}"
        for count, word in ((decided, "decision"), (remarks, "remark"))
        if count
    ]
    if not parts:
        return []
    authors = User.objects.filter(pk__in=entries.values("author")).order_by("username")
    names = ", ".join(name_of(person) for person in authors[:WRITERS_NAMED])
    return [f"{' and '.join(parts)} on the findings of {kpi.name}, by {names}."]


@dataclass(frozen=True, slots=True)
class Surroundings:
    """What else was going on near a finding, each in order of time."""

    findings: list[Finding]
    events: list[Event]
    acts: list[DataChange]


def surroundings_of(finding: Finding, periods: int) -> Surroundings:
    """Find other KPIs' findings, events and imports within some periods of a finding."""
    kpi = finding.kpi
    room = timedelta(days=DAYS_LONG[Grain(kpi.grain)] * (periods + 0.5))
    begin, end = finding.first - room, finding.last + room
    others = Finding.objects.filter(
        kpi__workspace=kpi.workspace,
        first__lte=end,
        last__gte=begin,
        presence=FindingPresence.PRESENT,
    ).exclude(kpi=kpi)
    events = events_of(kpi).filter(first__lte=end.date(), last__gte=begin.date())
    acts = DataChange.objects.filter(
        kpi__workspace=kpi.workspace, at__gte=begin, at__lte=end, added__gt=0
    )
    return Surroundings(
        list(others.select_related("kpi").order_by("first", "pk")[:NEAR_LISTED]),
        list(events.order_by("first", "pk")[:NEAR_LISTED]),
        list(acts.select_related("kpi", "author").order_by("at")[:NEAR_LISTED]),
    )
