"""Imports carried out: at once, or long ones in the background, where they outlive a restart."""

import logging

from django.db import transaction
from procrastinate.contrib.django import app

from fluctus.http import clock
from fluctus.http.refusals import Issue, RefusalError
from fluctus.intake.models import Import, ImportStatus, Upload
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
from fluctus.kpis.actor import Actor
from fluctus.kpis.models import Kpi
from fluctus.kpis.values.services import ImportMode

log = logging.getLogger(__name__)
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


@app.task(name=NAME, queue="imports", pass_context=False)
def bring_in(import_id: int) -> None:
    """Carry out a planned import; run again after a crash, it starts from the beginning."""
    planned = Import.objects.select_related("upload", "into", "person", "workspace").get(
        pk=import_id
    )
    begun = Import.objects.filter(
        pk=planned.pk, status__in=[ImportStatus.WAITING, ImportStatus.RUNNING]
    ).update(status=ImportStatus.RUNNING, stage="Starting", progress=0)
    if not begun:
        return
    try:
        carry_out(planned, Actor(planned.person, clock.now()), reporter(planned))
    except CancelledError:
        note_cancelled(planned)
    except RefusalError as error:
        note_failure(planned, error)
    except Exception:
        log.exception("The import %s has failed", planned.pk)
        issue = Issue("The failure is in the server's log.", "Try again; if it stays, say so.")
        note_failure(planned, RefusalError("Something went wrong; nothing was saved.", issue))
