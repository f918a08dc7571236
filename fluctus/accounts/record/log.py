"""Writes to the record, each within the transaction of what it tells of."""

from datetime import datetime, timedelta
from enum import StrEnum

from django.contrib.auth.models import User

from fluctus.accounts.models import RecordEntry, Workspace
from fluctus.accounts.queries import name_of, workspaces_of


class AuditEvent(StrEnum):
    """What kind of thing was done."""

    SIGN_IN = "sign-in"
    PASSWORD = "password"  # noqa: S105 - the name of an event
    ROLE = "role"
    INVITATION = "invitation"
    TOKEN = "token"  # noqa: S105 - the name of an event
    LINK = "link"
    EXPORT = "export"
    FEED = "feed"
    WEBHOOK = "webhook"
    DELETION = "deletion"
    DENIED = "denied"


def note(
    workspace: Workspace,
    person: User | None,
    now: datetime,
    event: AuditEvent,
    text: str,
    address: str = "",
) -> None:
    """Keep what ``person`` did; None is somebody without an account."""
    who = "" if person is None else _full_name(person)
    RecordEntry.objects.create(
        workspace=workspace,
        at=now,
        person=who,
        account=None if person is None else person.pk,
        kind=event,
        text=text[:400],
        address=address,
    )


DENIED_AGAIN = timedelta(minutes=10)
"""Within this time the same is refused to the same person without another entry."""


def note_denied(workspace: Workspace, person: User, now: datetime, what: str, address: str) -> None:
    """Keep that a person was refused something, once in a while however often they ask."""
    text = f"Was not let: {what}"[:400]
    lately = RecordEntry.objects.filter(
        workspace=workspace,
        account=person.pk,
        kind=AuditEvent.DENIED,
        text=text,
        at__gt=now - DENIED_AGAIN,
    )
    if not lately.exists():
        note(workspace, person, now, AuditEvent.DENIED, text, address)


def note_everywhere(
    person: User, now: datetime, event: AuditEvent, text: str, address: str = ""
) -> None:
    """Keep what a person did in each workspace that they belong to."""
    for workspace in workspaces_of(person):
        note(workspace, person, now, event, text, address)


def _full_name(person: User) -> str:
    name = name_of(person)
    return name if name == person.username else f"{name} ({person.username})"
