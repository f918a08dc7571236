"""Tokens made, revoked and recognized."""

from datetime import datetime, timedelta

from django.conf import settings
from django.contrib.auth.models import User
from django.db import transaction

from fluctus.accounts.models import ApiToken, Membership, Role, Workspace
from fluctus.accounts.record.log import AuditEvent, note
from fluctus.accounts.secrets import digest_of, draw_secret
from fluctus.http.refusals import Issue, NotThereError, RefusalError

PREFIX = "fluctus_"
"""What every token begins with, so that one left in a file can be recognized."""
MOST = 50
"""Tokens of a person in a workspace."""
USE_NOTED_EVERY = timedelta(minutes=1)


@transaction.atomic
def make_token(
    workspace: Workspace, person: User, name: str, role: Role, own_role: Role, now: datetime
) -> tuple[ApiToken, str]:
    """Make a token; returns it and its secret, which is kept nowhere.

    Raises RefusalError for a role above a contributor's, or above one's own (403).
    """
    if not own_role.includes(role) or not Role.CONTRIBUTOR.includes(role):
        raise RefusalError(
            "The token was not made.",
            Issue(
                "A token adds values or reads, and may no more than you may.",
                "Make it for a viewer or a contributor.",
                "role",
            ),
            status=403,
        )
    if ApiToken.objects.filter(workspace=workspace, person=person).count() >= MOST:
        issue = Issue(f"You have {MOST} tokens.", "Revoke those that are not used.")
        raise RefusalError("The token was not made.", issue, status=409)
    secret = PREFIX + draw_secret()
    token = ApiToken.objects.create(
        workspace=workspace,
        person=person,
        name=name,
        role=role,
        digest=digest_of(secret),
        hint=secret[:12],
        made_at=now,
        expires=now + timedelta(days=settings.TOKEN_DAYS),
    )
    note(workspace, person, now, AuditEvent.TOKEN, f"Made the token {name} for a {role}")
    return token, secret


@transaction.atomic
def revoke_token(
    workspace: Workspace, person: User, number: int, of_all: bool, now: datetime
) -> None:
    """Revoke a token of one's own, or, where ``of_all``, anybody's."""
    rows = ApiToken.objects.filter(workspace=workspace, pk=number)
    token = (rows if of_all else rows.filter(person=person)).first()
    if token is None:
        raise NotThereError("token")
    token.delete()
    note(workspace, person, now, AuditEvent.TOKEN, f"Revoked the token {token.name}")


def token_of(secret: str, now: datetime) -> ApiToken | None:
    """Return the token that a secret is, noting its use; None for none.

    One of somebody who left the workspace, or may not sign in, is none.
    """
    rows = ApiToken.objects.select_related("person", "workspace")
    token = rows.filter(digest=digest_of(secret), person__is_active=True).first()
    if token is None or _is_over(token, now):
        return None
    if not Membership.objects.filter(workspace=token.workspace_id, person=token.person_id).exists():
        return None
    if token.used_at is None or now - token.used_at > USE_NOTED_EVERY:
        ApiToken.objects.filter(pk=token.pk).update(used_at=now)
    return token


def _is_over(token: ApiToken, now: datetime) -> bool:
    """Tell whether a token has ended, or gone unused for longer than the settings allow."""
    idle = timedelta(days=settings.TOKEN_IDLE_DAYS)
    return (token.expires is not None and token.expires <= now) or (
        now - (token.used_at or token.made_at) > idle
    )
