"""Reports made in the background, where they outlive a restart."""

import logging
from collections.abc import Callable

from django.db import InterfaceError, OperationalError, connection, transaction
from procrastinate import RetryStrategy
from procrastinate.contrib.django import app
from procrastinate.contrib.django.models import ProcrastinateJob

from fluctus.http import clock
from fluctus.http.refusals import Issue, RefusalError
from fluctus.reports import services
from fluctus.reports.making import make
from fluctus.reports.models import UNDER_WAY, Report

log = logging.getLogger(__name__)
QUEUE = "reports"
NAME = "make_report"
OUTSIDE = (OperationalError, InterfaceError)
"""The database was away, or took the work for one that holds others up."""


@app.task(
    name=NAME, queue=QUEUE, pass_context=False,
    retry=RetryStrategy(max_attempts=4, exponential_wait=2, retry_exceptions=OUTSIDE),
)  # fmt: skip
def make_report(report_id: int) -> None:
    """Make a report that was asked for; run again after a crash, it starts from the beginning."""
    report = Report.objects.select_related("workspace", "person").filter(pk=report_id).first()
    if report is None or not services.begin(report):
        return
    try:
        services.keep(report, **make(report, clock.now(), services.progress_of(report)))
    except services.CancelledError:
        services.note_cancelled(report)
    except RefusalError as error:
        services.note_failure(report, error)
    except OUTSIDE:
        connection.close()
        raise
    except Exception:
        log.exception("The report %s has failed", report.pk)
        issue = Issue("The failure is in the server's log.", "Try again; if it stays, say so.")
        services.note_failure(report, RefusalError("Something went wrong in Fluctus.", issue))


def sweep() -> int:
    """End the reports whose job is gone, saying so; returns how many there were."""
    waiting = ProcrastinateJob.objects.filter(task_name=NAME, status__in=["todo", "doing"])
    alive = {int(args["report_id"]) for args in waiting.values_list("args", flat=True)}
    lost = list(Report.objects.filter(status__in=UNDER_WAY).exclude(pk__in=alive))
    issue = Issue("The work on it came to an end before it was done.", "Make it again.")
    for report in lost:
        services.note_failure(report, RefusalError("The report was interrupted.", issue))
    return len(lost)


@transaction.atomic
def order(ask: Callable[[], Report]) -> Report:
    """Ask for a report and leave it to a worker: both, or neither."""
    report = ask()
    make_report.defer(report_id=report.pk)
    return report
