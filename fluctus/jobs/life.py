"""How a job lives: it begins, says how far it is, learns whether to go on, and ends once."""

import logging
from collections.abc import Callable
from dataclasses import asdict
from typing import Any, TypeVar

from django.db import InterfaceError, OperationalError, connection, connections, transaction
from procrastinate import RetryStrategy
from procrastinate.contrib.django.models import ProcrastinateJob

from fluctus.files.store import StoreAwayError
from fluctus.http.refusals import Issue, NotThereError, RefusalError
from fluctus.jobs.models import UNDER_WAY, Job, JobStatus

log = logging.getLogger(__name__)

OUTSIDE = (OperationalError, InterfaceError, StoreAwayError)
"""The database or the store of files was away, or took the work for one that holds others up."""

AGAIN = RetryStrategy(max_attempts=20, wait=5, retry_exceptions=OUTSIDE)
"""How work is tried again that what is outside of it ended. Always as soon: each death of a worker
counts as a try, and a wait that doubles would keep what survived several for many minutes."""

AnyJob = TypeVar("AnyJob", bound=Job)


class CancelledError(Exception):
    """Somebody has asked for the job to stop, or it is gone."""


def run(job: Job, work: Callable[[], object]) -> JobStatus:
    """Do the work of a job that waits, and note how it ended; returns that.

    One that is wanted no more is left as it is. What fails since the database is away raises
    one of OUTSIDE, so that the queue tries it again; anything else is noted and logged.
    """
    begun = type(job)._default_manager.filter(pk=job.pk, status__in=UNDER_WAY)
    if not begun.update(status=JobStatus.RUNNING, stage="Starting", progress=0):
        return JobStatus.CANCELLED
    try:
        work()
    except CancelledError:
        return JobStatus.CANCELLED
    except OUTSIDE:
        connection.close()
        raise
    except RefusalError as error:
        note_failure(job, error)
    except Exception:
        log.exception("%s %s has failed", type(job).__name__, job.pk)
        issue = Issue("The failure is in the server's log.", "Try again; if it stays, say so.")
        note_failure(job, RefusalError("Something went wrong; nothing was saved.", issue))
    else:
        return JobStatus.DONE
    return JobStatus.FAILED


class Progress:
    """Told how far a job is, and asked whether it is to go on; this one is of no job."""

    def __call__(self, stage: str, share: float) -> None:
        """Note the stage and the share that is done; raises CancelledError where it is to stop."""

    def still_wanted(self) -> None:
        """Raise CancelledError where the job is to stop."""


class ProgressOf(Progress):
    """The progress of a running job, noted beside the transaction that the job is done in.

    What a job does stays unseen until all of it is done, and its reads are of one moment.
    """

    def __init__(self, job: Job) -> None:
        """Take a connection of its own, unless the job was asked for in this transaction."""
        within = connection.in_atomic_block
        self._side = connection if within else connections.create_connection("default")
        self._within = within
        self._job = job

    def __call__(self, stage: str, share: float) -> None:
        """Note how far it is."""
        self._run("UPDATE {} SET stage = %s, progress = %s WHERE {}", stage[:160], share)

    def still_wanted(self) -> None:
        """Note nothing."""
        self._run("SELECT 1 FROM {} WHERE {}")

    def _run(self, statement: str, *values: str | float) -> None:
        table = self._side.ops.quote_name(self._job._meta.db_table)
        try:
            with self._side.cursor() as cursor:
                cursor.execute(
                    statement.format(table, "id = %s AND status = 'running'"),
                    [*values, self._job.pk],
                )
                goes_on = cursor.rowcount == 1
        finally:
            if not self._within:
                self._side.close()
        if not goes_on:
            raise CancelledError


def held(job: AnyJob) -> AnyJob:
    """Lock a job until the transaction ends; raises NotThereError for one that is gone."""
    rows = type(job)._default_manager.select_for_update(of=("self",))
    row: AnyJob | None = rows.filter(pk=job.pk).first()
    if row is None:
        raise NotThereError(type(job).__name__.lower())
    return row


def held_to_end(job: AnyJob) -> AnyJob:
    """Lock a job whose work is done; raises CancelledError where it has been stopped.

    Locked last, since reports of progress come from elsewhere and would wait for it.
    """
    try:
        row = held(job)
    except NotThereError:
        raise CancelledError from None
    if row.status not in UNDER_WAY:
        raise CancelledError
    row.status, row.stage, row.progress = JobStatus.DONE, "", 1.0
    return row


def note_failure(job: Job, error: RefusalError) -> None:
    """Note why a job has failed; one that has ended otherwise stays as it is."""
    type(job)._default_manager.filter(pk=job.pk, status__in=UNDER_WAY).update(
        status=JobStatus.FAILED,
        stage="",
        problem={
            "title": error.title,
            "issues": [
                {name: _storable(said) for name, said in asdict(issue).items()}
                for issue in error.issues
            ],
        },
    )


def _storable(said: Any) -> Any:
    """Return what an issue says as PostgreSQL can keep it: what it quotes may come from a file."""
    if not isinstance(said, str):
        return said
    return said.replace("\0", "\N{SYMBOL FOR NULL}").encode(errors="replace").decode()


@transaction.atomic
def cancel(job: AnyJob, what: str, instead: str) -> AnyJob:
    """Stop a job on its way, at once: whatever works on it finds out and saves nothing.

    Raises RefusalError (409) for one that has ended; ``what`` names the job and ``instead``
    says what can be done to one that is done.
    """
    row = held(job)
    if row.status not in UNDER_WAY:
        raise RefusalError(
            f"This {what} cannot be cancelled.",
            Issue(f"It is {row.status}.", instead if row.status == JobStatus.DONE else ""),
            status=409,
        )
    row.status, row.stage = JobStatus.CANCELLED, ""
    row.save(update_fields=["status", "stage"])
    return row


def sweep(model: type[Job], task: str, lost: RefusalError) -> int:
    """End the jobs of a model that no queue knows any more, saying so; returns how many.

    The rows are read before the queue: what begins meanwhile is in the queue, and what ends
    meanwhile is under way no more when its end is noted.
    """
    under_way = list(model._default_manager.filter(status__in=UNDER_WAY))
    waiting = ProcrastinateJob.objects.filter(task_name=task, status__in=["todo", "doing"])
    queued = {args.get("job_id") for args in waiting.values_list("args", flat=True)}
    gone = [job for job in under_way if job.pk not in queued]
    for job in gone:
        note_failure(job, lost)
    return len(gone)
