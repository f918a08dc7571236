"""Imports carried out: at once, or long ones in the background, where they outlive a restart."""

from collections.abc import Callable
from contextlib import suppress

from django.db import transaction
from procrastinate.contrib.django import app
from procrastinate.contrib.django.models import ProcrastinateJob
from procrastinate.exceptions import AlreadyEnqueued

from fluctus.accounts.models import Role
from fluctus.http import clock
from fluctus.http.refusals import Issue, RefusalError
from fluctus.http.tracing import carried, traced
from fluctus.intake.models import Import, Upload
from fluctus.intake.readings import is_long
from fluctus.intake.services import carry_out, drop_table_of, plan_import
from fluctus.intake.understanding.mapping import Mapping
from fluctus.intake.uploads import open_in_the_background
from fluctus.jobs import life
from fluctus.jobs.models import JobStatus
from fluctus.jobs.order import behind
from fluctus.jobs.queues import IMPORTS
from fluctus.kpis.actor import Actor
from fluctus.kpis.models import Kpi
from fluctus.kpis.values.services import ImportMode

NAME = "bring_in"


@transaction.atomic
def begin(
    upload: Upload,
    actor: Actor,
    mapping: Mapping,
    mode: ImportMode,
    into: Kpi | None,
    planned_for: Callable[[Import], object] = lambda planned: None,
) -> int:
    """Bring an upload in, or leave it to a worker where that takes long; returns its number.

    ``planned_for`` is told of it before it is carried out.
    """
    planned = plan_import(upload, actor, mapping, mode, into)
    planned_for(planned)
    if is_long(upload):
        leave_to_worker(planned)
    else:
        carry_out(planned, actor)
    return planned.pk


def leave_to_worker(planned: Import) -> None:
    """Let a worker carry out a planned import, once the transaction has ended."""
    beside = Import.objects.filter(workspace=planned.workspace_id)
    bring_in.configure(priority=behind(planned, beside)).defer(job_id=planned.pk, **carried())


@app.task(
    name=NAME,
    queue=IMPORTS,
    pass_context=False,
    retry=life.AGAIN,
)
@traced
def bring_in(job_id: int) -> None:
    """Carry out a planned import; run again after a crash, it starts from the beginning.

    What fails for a reason outside of it, such as a database that restarts, is
    tried again after some seconds.
    """
    rows = Import.objects.select_related("upload", "into", "person", "workspace")
    planned = rows.filter(pk=job_id).first()
    if planned is None:
        return
    actor = Actor(planned.person, clock.now(), Role(planned.role))
    ended = life.run(planned, lambda: carry_out(planned, actor, life.ProgressOf(planned)))
    if ended == JobStatus.CANCELLED:
        drop_table_of(planned)


@app.task(name="open_upload", queue=IMPORTS, pass_context=False, retry=life.AGAIN)
@traced
def open_upload(upload_id: int, sheet: str | None = None) -> None:
    """Read an upload that takes too long to wait for; it may have been dropped meanwhile."""
    upload = Upload.objects.filter(pk=upload_id).first()
    if upload is not None:
        open_in_the_background(upload, sheet)


def open_later(upload: Upload, sheet: str | None) -> None:
    """Leave reading a sheet to a worker, once however often it is asked for."""
    uploads = Upload.objects.filter(workspace=upload.workspace_id).values_list("pk", flat=True)
    waiting = ProcrastinateJob.objects.filter(
        task_name=open_upload.name, status="todo", args__upload_id__in=list(uploads)
    )
    task = open_upload.configure(
        queueing_lock=f"{upload.pk} {sheet or ''}", priority=-waiting.count()
    )
    with suppress(AlreadyEnqueued), transaction.atomic():
        task.defer(upload_id=upload.pk, sheet=sheet, **carried())


def sweep() -> int:
    """End the imports whose job is gone, saying so; returns how many there were."""
    issue = Issue("The work on it came to an end before it was done.", "Start it again.")
    lost = RefusalError("The import was interrupted; nothing was saved.", issue)
    return life.sweep(Import, NAME, lost)


@transaction.atomic
def begin_again(failed: Import) -> None:
    """Start an import again that has failed; raises RefusalError where it cannot be."""
    row = life.held(failed)
    if row.status != JobStatus.FAILED or row.upload is None:
        raise RefusalError(
            "This import cannot be started again.",
            Issue(
                f"It is {row.status}."
                if row.status != JobStatus.FAILED
                else "Its table is no longer kept.",
                "Upload the table again.",
            ),
            status=409,
        )
    row.status, row.problem, row.progress = JobStatus.WAITING, None, 0.0
    row.save(update_fields=["status", "problem", "progress"])
    leave_to_worker(row)
