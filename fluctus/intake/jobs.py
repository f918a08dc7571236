"""Long imports, in the background: they outlive a restart of the server and of the worker."""

import logging

from procrastinate.contrib.django import app

from fluctus.http.refusals import Issue, RefusalError
from fluctus.intake.models import Import
from fluctus.intake.services import (
    CancelledError,
    carry_out,
    note_cancelled,
    note_failure,
    reporter,
)

log = logging.getLogger(__name__)
NAME = "bring_in"


@app.task(name=NAME, queue="imports", pass_context=False)
def bring_in(import_id: int) -> None:
    """Carry out a planned import; run again after a crash, it starts from the beginning."""
    one = Import.objects.select_related("upload", "into", "person", "workspace").get(pk=import_id)
    begun = Import.objects.filter(
        pk=one.pk, status__in=[Import.Status.WAITING, Import.Status.RUNNING]
    ).update(status=Import.Status.RUNNING, stage="Starting", progress=0)
    if not begun:
        return
    try:
        carry_out(one, reporter(one))
    except CancelledError:
        note_cancelled(one)
    except RefusalError as error:
        note_failure(one, error)
    except Exception:
        log.exception("The import %s has failed", one.pk)
        issue = Issue("The failure is in the server's log.", "Try again; if it stays, say so.")
        note_failure(one, RefusalError("Something went wrong; nothing was saved.", issue))
