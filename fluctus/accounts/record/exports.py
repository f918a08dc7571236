"""Exports on the record: who took what out of a workspace."""

from rest_framework.request import Request

from fluctus.accounts.models import Workspace
from fluctus.accounts.record.log import AuditEvent, note
from fluctus.http import clock
from fluctus.http.requests import person_of


def note_export(request: Request, workspace: Workspace, what: str) -> None:
    """Keep that who asks has taken something."""
    note(workspace, person_of(request), clock.now(), AuditEvent.EXPORT, f"Took {what}")
