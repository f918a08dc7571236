"""Writes of reports: asked for, cancelled, made again, deleted, and what came of them."""

from dataclasses import replace
from datetime import datetime

from django.contrib.auth.models import User
from django.db import transaction

from fluctus.accounts.models import Workspace
from fluctus.accounts.record.log import AuditEvent, note
from fluctus.http.refusals import Issue, NotThereError, RefusalError
from fluctus.jobs.life import held, held_to_end
from fluctus.jobs.models import UNDER_WAY
from fluctus.kpis.models import Kpi
from fluctus.reports.asked import Asked
from fluctus.reports.entries import entries_of, nothing_to_show
from fluctus.reports.models import Format, Report, ReportFile, ReportPage, Scope
from fluctus.reports.outputs.registry import output_of
from fluctus.reports.queries import file_of

MOST_KEPT = 500
"""Reports of a workspace that are kept; the oldest go."""
MOST_UNDER_WAY = 10
PREVIEW_SCALE = 1.5
"""Pixels of a page's picture for each point: sharp enough to read on screen."""


@transaction.atomic
def ask_for(
    workspace: Workspace, person: User, title: str, format: Format, asked: Asked, now: datetime
) -> Report:
    """Note down a report that is to be made.

    Raises RefusalError where there is nothing to show or too much, and (409) where too many
    are on their way.
    """
    Workspace.objects.select_for_update().get(pk=workspace.pk)
    if Report.objects.filter(workspace=workspace, status__in=UNDER_WAY).count() >= MOST_UNDER_WAY:
        raise RefusalError(
            "Too many reports are on their way.",
            Issue(f"{MOST_UNDER_WAY} wait to be made.", "Wait for them, or cancel some."),
            status=409,
        )
    report = Report(
        workspace=workspace,
        person=person,
        at=now,
        title=title,
        format=format,
        asked=asked.to_json(),
    )
    wanted = {entry.slug for entry in entries_of(report, asked, now) if entry.slug}
    there = Kpi.objects.filter(workspace=workspace, slug__in=wanted)
    if not wanted or (missing := wanted - set(there.values_list("slug", flat=True))) == wanted:
        raise nothing_to_show()
    if missing and asked.scope == Scope.KPIS:
        issue = Issue(f"There is no KPI {min(missing)} here.", "Choose KPIs from the list.", "kpis")
        raise RefusalError("A KPI is not there.", issue)
    report.save()
    note(
        workspace, person, now, AuditEvent.EXPORT, f"Asked for {output_of(format).words} “{title}”"
    )
    oldest = Report.objects.filter(workspace=workspace).order_by("-pk")[MOST_KEPT:]
    Report.objects.filter(pk__in=list(oldest.values_list("pk", flat=True))).delete()
    return report


def ask_again(report: Report, person: User, now: datetime) -> Report:
    """Ask for the same report with the data of today; the one there is stays as it was.

    A KPI that has been deleted since is left out.
    """
    asked = Asked.from_json(report.asked)
    there = set(
        Kpi.objects.filter(workspace=report.workspace, slug__in=asked.kpis).values_list(
            "slug", flat=True
        )
    )
    asked = replace(asked, kpis=tuple(slug for slug in asked.kpis if slug in there))
    return ask_for(report.workspace, person, report.title, Format(report.format), asked, now)


@transaction.atomic
def delete(report: Report, person: User, now: datetime) -> None:
    """Delete a report with its file; one on its way stops."""
    row = held(report)
    note(row.workspace, person, now, AuditEvent.DELETION, f"Deleted the report “{row.title}”")
    row.delete()


@transaction.atomic
def keep(
    report: Report, content: bytes, pages: int, shows: list[dict[str, object]], left_out: list[str]
) -> None:
    """Keep what came of a report; raises CancelledError where it has been stopped."""
    row = held_to_end(report)
    row.pages, row.shows, row.left_out = pages, shows, left_out
    row.save()
    ReportFile.objects.update_or_create(report=row, defaults={"content": content})


def picture_of(report: Report, page: int) -> bytes:
    """Return a page of a report as a PNG, made once and kept; the first is page 1."""
    file = file_of(report)
    if not 1 <= page <= report.pages:
        raise NotThereError("page in this report")
    kept = ReportPage.objects.filter(report=report, number=page).first()
    if kept is None:
        from fluctus.reports.paper.pdf import page_as_png  # noqa: PLC0415 - few processes need it

        png = page_as_png(file, page - 1, PREVIEW_SCALE)
        kept, _ = ReportPage.objects.get_or_create(
            report=report, number=page, defaults={"content": png}
        )
    return bytes(kept.content)
