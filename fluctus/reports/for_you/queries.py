"""What waits for a person, read from what there is: nothing of it is kept apart.

Since a name is looked for in the words themselves, an edit or an undo takes it back as well.
"""

from dataclasses import dataclass
from datetime import date, datetime, timedelta

from django.contrib.auth.models import User
from django.db.models import Q, QuerySet

from fluctus.accounts.models import Workspace
from fluctus.accounts.naming import named_in, names_of
from fluctus.accounts.queries import name_of
from fluctus.findings.models import Entry, Finding
from fluctus.findings.queries import WITHOUT_CAUSE
from fluctus.jobs.models import JobStatus
from fluctus.kpis.models import Event, Segment
from fluctus.reports.models import Report

MOST = 100
"""Things of a kind that are listed, the newest."""
LATELY = timedelta(days=30)


@dataclass(frozen=True, slots=True)
class Naming:
    """Words in which somebody is named: where, when and by whom, as far as that is kept."""

    kind: str
    text: str
    where: str
    kpi: str
    finding: int | None
    by: str
    day: date


def assigned_to(person: User, workspace: Workspace) -> QuerySet[Finding]:
    """Return the findings that a person is to look into, those due first."""
    rows = Finding.objects.filter(WITHOUT_CAUSE, kpi__workspace=workspace, person=person)
    return rows.select_related("kpi", "person").order_by("due", "-first", "-pk")


def namings_of(person: User, workspace: Workspace) -> list[Naming]:
    """List the words of others in which a person is named, the newest first."""
    said = named_in(person)
    remarks = Entry.objects.filter(
        _holds(person, "text"), remark=True, finding__kpi__workspace=workspace
    ).exclude(author=person)
    events = Event.objects.filter(
        _holds(person, "text") | _holds(person, "title"), workspace=workspace
    )
    segments = Segment.objects.filter(_holds(person, "what_changed"), kpi__workspace=workspace)
    found = [
        Naming(
            "remark",
            entry.text,
            f"{entry.finding.kpi.name}, {entry.finding}",
            entry.finding.kpi.slug,
            entry.finding_id,
            name_of(entry.author),
            entry.at.date(),
        )
        for entry in remarks.select_related("finding__kpi", "author").order_by("-pk")[:MOST]
        if said(entry.text)
    ]
    for event in events.select_related("author").prefetch_related("kpis").order_by("-first")[:MOST]:
        if said(f"{event.title}\n{event.text}"):
            told_with = next((kpi.slug for kpi in event.kpis.all()), "")
            found.append(
                Naming(
                    "event",
                    event.text or event.title,
                    event.title,
                    told_with,
                    None,
                    name_of(event.author),
                    event.first,
                )
            )
    found += [
        Naming(
            "shift",
            segment.what_changed,
            f"{segment.kpi.name}, {segment.name or 'a shift'}",
            segment.kpi.slug,
            None,
            "",
            segment.start.date(),
        )
        for segment in segments.select_related("kpi").order_by("-start")[:MOST]
        if segment.start is not None and said(segment.what_changed)
    ]
    return sorted(found, key=lambda naming: naming.day, reverse=True)[:MOST]


def shared_with(person: User, workspace: Workspace, now: datetime) -> QuerySet[Report]:
    """Return the reports that others have made lately."""
    rows = Report.objects.filter(
        workspace=workspace, status=JobStatus.DONE, at__gt=now - LATELY
    ).exclude(person=person)
    return rows.select_related("person").order_by("-pk")


def _holds(person: User, field: str) -> Q:
    """Keep rows that may name a person; ``named_in`` then sees where the name ends."""
    condition = Q()
    for name in names_of(person):
        condition |= Q(**{f"{field}__icontains": f"@{name}"})
    return condition
