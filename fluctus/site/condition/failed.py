"""Work that failed, of whatever workspace, and the way to have it done again.

Nothing is told of what it was about: a file's name, a report's title and whom a letter goes to
are theirs who asked for it.
"""

from collections.abc import Callable
from dataclasses import dataclass
from datetime import datetime
from typing import Any, Final

from procrastinate.contrib.django import app
from procrastinate.contrib.django.models import ProcrastinateEvent, ProcrastinateJob

from fluctus.http import clock
from fluctus.http.refusals import Issue, NotThereError, RefusalError
from fluctus.http.shapes import Shape
from fluctus.intake.jobs import begin_again
from fluctus.intake.models import Import
from fluctus.jobs.models import JobStatus
from fluctus.jobs.queues import MAIL
from fluctus.reports.jobs import order
from fluctus.reports.models import Report
from fluctus.reports.services import ask_again

NEWEST: Final = 20
"""Of each kind so many are shown."""


@dataclass(frozen=True, slots=True)
class FailedJob(Shape):
    """Something that failed: what, of which workspace, when it was asked for, and what was said."""

    kind: str
    id: int
    workspace: str
    at: datetime | None
    problem: str
    can_begin_again: bool


@dataclass(frozen=True, slots=True)
class FailedKind:
    """A kind of work: its newest failures, and what begins one again."""

    newest: Callable[[], list[FailedJob]]
    again: Callable[[int], None]


def failed_jobs() -> list[FailedJob]:
    """Return the newest failures of every kind, newest first."""
    found = [failed for kind in KINDS.values() for failed in kind.newest()]
    return sorted(found, key=lambda failed: failed.at or clock.now(), reverse=True)


def begin_job_again(kind: str, number: int) -> None:
    """Have work that failed done again; raises RefusalError where it cannot be."""
    if kind not in KINDS:
        raise NotThereError("job")
    KINDS[kind].again(number)


def _failed(
    kind: str, model: type[Import] | type[Report], can_begin_again: Callable[[Any], bool]
) -> list[FailedJob]:
    """Return the newest failures of what is kept with how far it is."""
    rows = model._default_manager.filter(status=JobStatus.FAILED).select_related("workspace")
    return [
        FailedJob(
            kind,
            row.pk,
            row.workspace.name,
            row.at,
            str((row.problem or {}).get("title", "")),
            can_begin_again(row),
        )
        for row in rows.order_by("-pk")[:NEWEST]
    ]


def _import_again(number: int) -> None:
    row = Import.objects.filter(pk=number).first()
    if row is None:
        raise NotThereError("job")
    begin_again(row)


def _report_again(number: int) -> None:
    row = Report.objects.filter(pk=number, status=JobStatus.FAILED).select_related("person").first()
    if row is None:
        raise NotThereError("job")
    if row.person is None:
        raise RefusalError(
            "This report cannot be made again.",
            Issue("Whoever asked for it has left.", "Let somebody else ask for it."),
            status=409,
        )
    person = row.person
    order(lambda: ask_again(row, person, clock.now()))


def _letters() -> list[FailedJob]:
    rows = ProcrastinateJob.objects.filter(status="failed", queue_name=MAIL).order_by("-pk")
    jobs = list(rows[:NEWEST])
    events = ProcrastinateEvent.objects.filter(job__in=[job.pk for job in jobs], type="failed")
    at = dict(events.order_by("at").values_list("job", "at"))
    return [
        FailedJob("letter", job.pk, "", at.get(job.pk), "The log says why.", can_begin_again=True)
        for job in jobs
    ]


def _letter_again(number: int) -> None:
    if not ProcrastinateJob.objects.filter(pk=number, status="failed", queue_name=MAIL).exists():
        raise NotThereError("job")
    app.job_manager.retry_job_by_id(job_id=number, retry_at=clock.now())


KINDS: Final = {
    "import": FailedKind(
        lambda: _failed("import", Import, lambda row: row.upload_id is not None), _import_again
    ),
    "report": FailedKind(
        lambda: _failed("report", Report, lambda row: row.person_id is not None), _report_again
    ),
    "letter": FailedKind(_letters, _letter_again),
}
