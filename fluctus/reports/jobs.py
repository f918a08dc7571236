"""Reports made in the background, where they outlive a restart."""

from collections.abc import Callable

from django.db import transaction
from procrastinate.contrib.django import app

from fluctus.http import clock
from fluctus.http.refusals import Issue, RefusalError
from fluctus.http.tracing import carried, traced
from fluctus.jobs import life
from fluctus.jobs.order import behind
from fluctus.jobs.queues import REPORTS
from fluctus.reports import services
from fluctus.reports.making import make
from fluctus.reports.models import Report

NAME = "make_report"


@app.task(
    name=NAME,
    queue=REPORTS,
    pass_context=False,
    retry=life.AGAIN,
)
@traced
def make_report(job_id: int) -> None:
    """Make a report that was asked for; run again after a crash, it starts from the beginning."""
    report = Report.objects.select_related("workspace", "person").filter(pk=job_id).first()
    if report is not None:
        life.run(
            report,
            lambda: services.keep(report, **make(report, clock.now(), life.ProgressOf(report))),
        )


def sweep() -> int:
    """End the reports whose job is gone, saying so; returns how many there were."""
    issue = Issue("The work on it came to an end before it was done.", "Make it again.")
    return life.sweep(Report, NAME, RefusalError("The report was interrupted.", issue))


@transaction.atomic
def order(ask: Callable[[], Report]) -> Report:
    """Ask for a report and leave it to a worker: both, or neither."""
    report = ask()
    beside = Report.objects.filter(workspace=report.workspace_id)
    make_report.configure(priority=behind(report, beside)).defer(job_id=report.pk, **carried())
    return report
