"""Reads of reports."""

from django.contrib.auth.models import User
from django.db.models import QuerySet
from django.utils.text import slugify

from fluctus.accounts.models import Workspace
from fluctus.http.refusals import Issue, NotThereError, RefusalError
from fluctus.jobs.models import JobStatus
from fluctus.reports.models import Report, ReportFile
from fluctus.reports.outputs.registry import output_of


def reports_of(workspace: Workspace) -> QuerySet[Report]:
    """Return the reports of a workspace, the newest first."""
    return Report.objects.filter(workspace=workspace).select_related("person").order_by("-pk")


def report_of(person: User, workspace: str, number: int) -> Report:
    """Return one report; raises NotThereError for one of another workspace."""
    rows = Report.objects.filter(workspace__slug=workspace, workspace__members=person, pk=number)
    report = rows.select_related("person", "workspace").first()
    if report is None:
        raise NotThereError("report")
    return report


def file_name_of(report: Report) -> str:
    """Return what the file of a report is called: after its title."""
    return f"{slugify(report.title)[:80] or 'report'}.{output_of(report.format).suffix}"


def file_of(report: Report) -> bytes:
    """Return the file of a report; raises RefusalError (409) for one that is not made."""
    if report.status != JobStatus.DONE:
        raise RefusalError(
            "This report is not made.",
            Issue(f"It is {report.status}.", "Wait until it is done, or make it again."),
            status=409,
        )
    return bytes(ReportFile.objects.get(report=report).content)
