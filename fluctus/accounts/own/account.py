"""A person's own account as a whole: all that is kept of them, and its end."""

from datetime import datetime
from typing import Any

from django.contrib.auth.models import User
from django.db import transaction

from fluctus.accounts.elsewhere.services import known_as
from fluctus.accounts.mail import send_mail_to
from fluctus.accounts.models import ApiToken, Membership, RecordEntry, Role, SignedIn, Workspace
from fluctus.accounts.own.browsers import end_browsers
from fluctus.accounts.queries import memberships_of, name_of
from fluctus.accounts.record.log import AuditEvent, note
from fluctus.accounts.second_step.services import step_of
from fluctus.http.refusals import Issue, RefusalError

MOST_EVENTS = 10_000


def data_of(person: User) -> dict[str, Any]:
    """Return all that is kept of a person, as plain data."""
    tokens = ApiToken.objects.filter(person=person).select_related("workspace")
    browsers = SignedIn.objects.filter(person=person).order_by("pk")
    audit_events = RecordEntry.objects.filter(account=person.pk).order_by("-pk")[:MOST_EVENTS]
    slugs = dict(Workspace.objects.values_list("pk", "slug"))
    return {
        "account": {
            "username": person.username,
            "name": name_of(person),
            "email": person.email,
            "since": person.date_joined,
            "signed_in_last": person.last_login,
            "known_elsewhere": None if (known := known_as(person)) is None else known.called,
            "second_step": None if (step := step_of(person)) is None else step.since,
        },
        "workspaces": [
            {"slug": row.workspace.slug, "name": row.workspace.name, "role": row.role}
            for row in memberships_of(person)
        ],
        "tokens": [
            {
                "workspace": token.workspace.slug,
                "name": token.name,
                "role": token.role,
                "made_at": token.made_at,
                "used": token.used_at,
                "expires": token.expires,
            }
            for token in tokens.order_by("pk")
        ],
        "browsers": [
            {"browser": row.browser, "address": row.address, "began": row.began, "seen": row.seen}
            for row in browsers
        ],
        "audit_events": [
            {
                "workspace": slugs.get(row.workspace_id, "one that has ended"),
                "at": row.at,
                "kind": row.kind,
                "what": row.text,
                "address": row.address,
            }
            for row in audit_events
        ],
    }


@transaction.atomic
def end_account(person: User, now: datetime) -> None:
    """End an account: it leaves its workspaces, and what it wrote there stays without its name.

    Raises RefusalError (409) where it is the last owner of a workspace.
    """
    workspaces = list(
        Workspace.objects.select_for_update(no_key=True).filter(members=person).order_by("pk")
    )
    owners = Membership.objects.filter(role=Role.OWNER)
    for workspace in workspaces:
        of_workspace = owners.filter(workspace=workspace)
        if of_workspace.filter(person=person).exists() and of_workspace.count() == 1:
            raise RefusalError(
                "Your account was not ended.",
                Issue(
                    f"You are the last owner of {workspace.name}.",
                    "Make somebody else an owner, or end the workspace first.",
                ),
                status=409,
            )
    for workspace in workspaces:
        note(workspace, person, now, AuditEvent.DELETION, "Ended their account")
    email, name = person.email, name_of(person)
    end_browsers(person, but=None)
    person.delete()
    if email:
        transaction.on_commit(
            lambda: send_mail_to(
                email,
                "Your Fluctus account has ended",
                f"{name}, your account has ended, and nobody can sign in with it any more.",
                [],
            )
        )
