"""Imports carried out: at once, or long ones in the background, where they outlive a restart."""

import logging
from contextlib import suppress

from django.db import InterfaceError, OperationalError, connection, transaction
from procrastinate import RetryStrategy
from procrastinate.contrib.django import app
from procrastinate.contrib.django.models import ProcrastinateJob
from procrastinate.exceptions import AlreadyEnqueued

from fluctus.http import clock
from fluctus.http.refusals import Issue, RefusalError
from fluctus.intake.models import UNDER_WAY, Import, ImportStatus, Upload
from fluctus.intake.readings import is_long
from fluctus.intake.services import (
    CancelledError,
    carry_out,
    note_cancelled,
    note_failure,
    plan_import,
    reporter,
)
from fluctus.intake.understanding.mapping import Mapping
from fluctus.intake.uploads import open_in_the_background
from fluctus.kpis.actor import Actor
from fluctus.kpis.models import Kpi
from fluctus.kpis.values.services import ImportMode

log = logging.getLogger(__name__)
OUTSIDE = (OperationalError, InterfaceError)
"""The database was away, or took the work for one that holds others up."""
TRIES = 8
NAME = "bring_in"


@transaction.atomic
def begin(
    upload: Upload, actor: Actor, mapping: Mapping, mode: ImportMode, into: Kpi | None
) -> int:
    """Bring an upload in, or leave it to a worker where that takes long; returns its number."""
    planned = plan_import(upload, actor, mapping, mode, into)
    if is_long(upload):
        bring_in.defer(import_id=planned.pk)
    else:
        carry_out(planned, actor)
    return planned.pk


@app.task(
    name=NAME,
    queue="imports",
    pass_context=False,
    retry=RetryStrategy(max_attempts=TRIES, exponential_wait=2, retry_exceptions=OUTSIDE),
)
def bring_in(import_id: int) -> None:
    """Carry out a planned import; run again after a crash, it starts from the beginning.

    What fails for a reason outside of it, such as a database that restarts, is
    tried again after some seconds.
    """
    planned = Import.objects.select_related("upload", "into", "person", "workspace").get(
        pk=import_id
    )
    begun = Import.objects.filter(pk=planned.pk, status__in=UNDER_WAY).update(
        status=ImportStatus.RUNNING, stage="Starting", progress=0
    )
    if not begun:
        return
    try:
        carry_out(planned, Actor(planned.person, clock.now()), reporter(planned))
    except CancelledError:
        note_cancelled(planned)
    except RefusalError as error:
        note_failure(planned, error)
    except OUTSIDE:
        connection.close()
        raise
    except Exception:
        log.exception("The import %s has failed", planned.pk)
        issue = Issue("The failure is in the server's log.", "Try again; if it stays, say so.")
        note_failure(planned, RefusalError("Something went wrong; nothing was saved.", issue))


@app.task(name="open_upload", queue="imports", pass_context=False)
def open_upload(upload_id: int, sheet: str | None = None) -> None:
    """Read an upload that takes too long to wait for; it may have been dropped meanwhile."""
    upload = Upload.objects.filter(pk=upload_id).first()
    if upload is not None:
        open_in_the_background(upload, sheet)


def open_later(upload: Upload, sheet: str | None) -> None:
    """Leave reading a sheet to a worker, once however often it is asked for."""
    with suppress(AlreadyEnqueued), transaction.atomic():
        open_upload.configure(queueing_lock=f"{upload.pk} {sheet or ''}").defer(
            upload_id=upload.pk, sheet=sheet
        )


def sweep() -> int:
    """End the imports whose job is gone, saying so; returns how many there were."""
    waiting = ProcrastinateJob.objects.filter(task_name=NAME, status__in=["todo", "doing"])
    alive = {int(args["import_id"]) for args in waiting.values_list("args", flat=True)}
    under_way = Import.objects.filter(status__in=UNDER_WAY, upload__isnull=False)
    lost = list(under_way.exclude(pk__in=alive))
    issue = Issue("The work on it came to an end before it was done.", "Start it again.")
    for planned in lost:
        note_failure(planned, RefusalError("The import was interrupted; nothing was saved.", issue))
    return len(lost)


@transaction.atomic
def begin_again(failed: Import) -> None:
    """Start an import again that has failed; raises RefusalError where it cannot be."""
    row = Import.objects.select_for_update(of=("self",)).get(pk=failed.pk)
    if row.status != ImportStatus.FAILED or row.upload is None:
        raise RefusalError(
            "This import cannot be started again.",
            Issue(
                f"It is {row.status}." if row.status != ImportStatus.FAILED
                else "Its table is no longer kept.",
                "Upload the table again.",
            ),
            status=409,
        )  # fmt: skip
    row.status, row.problem, row.cancel_asked, row.progress = ImportStatus.WAITING, None, False, 0.0
    row.save(update_fields=["status", "problem", "cancel_asked", "progress"])
    bring_in.defer(import_id=row.pk)
