"""Links made, revoked and opened."""

from datetime import datetime, timedelta
from typing import Any

from django.contrib.auth.hashers import check_password, make_password
from django.contrib.auth.models import User
from django.core import signing
from django.db import transaction
from django.db.models import F
from django.http import HttpRequest

from fluctus.accounts.models import Workspace
from fluctus.accounts.record.log import AuditEvent, note
from fluctus.accounts.secrets import digest_of, draw_secret
from fluctus.accounts.tries import Purpose, tried
from fluctus.http.client_address import client_address
from fluctus.http.refusals import Issue, NotThereError, RefusalError
from fluctus.links.models import Frames, Link, LinkKind
from fluctus.links.showing import frozen_now

MOST = 500
"""Links of a workspace that can be opened at one time."""
KEY_HOLDS = timedelta(hours=8)
SALT = "fluctus.links"


@transaction.atomic
def make_link(
    workspace: Workspace,
    person: User,
    now: datetime,
    what: dict[str, Any],
    days: int | None,
    password: str,
    *,
    frozen: bool,
    embeddable: bool,
    names: bool,
    shows: list[str],
) -> tuple[Link, str]:
    """Make a link; returns it and its secret, which is kept nowhere."""
    if Link.objects.filter(workspace=workspace, revoked_at=None).count() >= MOST:
        issue = Issue(f"There are {MOST}.", "Revoke those that are not used.")
        raise RefusalError("The link was not made.", issue, status=409)
    secret = draw_secret()
    link = Link(
        workspace=workspace,
        person=person,
        made_at=now,
        digest=digest_of(secret),
        expires=None if days is None else now + timedelta(days=days),
        password=make_password(password) if password else "",
        embeddable=embeddable,
        names=names,
        shows=shows,
        **what,
    )
    if frozen and link.kind != LinkKind.REPORT:
        link.frozen = frozen_now(link, now)
    link.save()
    note(workspace, person, now, AuditEvent.LINK, f"Made a link to “{link.title}”")
    return link, secret


@transaction.atomic
def revoke_link(
    workspace: Workspace, person: User, number: int, now: datetime, *, of_all: bool
) -> None:
    """Revoke a link of one's own, or, where ``of_all``, anybody's: it opens nothing any more."""
    rows = Link.objects.select_for_update(of=("self",)).filter(workspace=workspace, pk=number)
    link = (rows if of_all else rows.filter(person=person)).first()
    if link is None:
        raise NotThereError("link")
    if link.revoked_at is None:
        link.revoked_at = now
        # What it showed is nobody's to see any more.
        link.frozen = None
        link.save(update_fields=["revoked_at", "frozen"])
        note(workspace, person, now, AuditEvent.LINK, f"Revoked the link to “{link.title}”")


@transaction.atomic
def list_frames(workspace: Workspace, origins: list[str], owner: User, now: datetime) -> None:
    """List the sites that may show links in a frame."""
    Frames.objects.update_or_create(workspace=workspace, defaults={"origins": origins})
    named = ", ".join(origins) or "no other site"
    note(workspace, owner, now, AuditEvent.LINK, f"Lets {named} show links in a frame")


def link_of(secret: str, now: datetime) -> Link:
    """Return the link that a secret opens.

    Raises NotThereError for none, and RefusalError (410) for one that was revoked or has
    expired, which is told to whoever has it.
    """
    rows = Link.objects.select_related("workspace", "person", "kpi", "page__workspace", "report")
    link = rows.filter(digest=digest_of(secret)).first()
    if link is None:
        raise NotThereError("link")
    if link.revoked_at is not None:
        raise _over("It was revoked.")
    if link.expires is not None and link.expires <= now:
        raise _over(f"It was valid until {link.expires:%-d %B %Y}.")
    return link


def count_opening(link: Link, now: datetime) -> None:
    """Count that a link was opened."""
    Link.objects.filter(pk=link.pk).update(opened=F("opened") + 1, opened_at=now)


def key_for(request: HttpRequest, link: Link, password: str, now: datetime) -> str:
    """Return a key that opens a link with a password for some hours.

    Raises RefusalError for a wrong password (403), or after too many (429).
    """
    with tried(Purpose.LINK, str(link.pk), client_address(request), now):
        if not check_password(password, link.password):
            raise RefusalError(
                "This is not the password of the link.",
                Issue("It does not match.", "Ask whoever sent you the link."),
                status=403,
            )
    return signing.dumps(link.pk, salt=SALT + link.password)


def refuse_without_key(link: Link, key: str) -> None:
    """Raise RefusalError (401) where a link asks for a password and the key does not fit."""
    if not link.password:
        return
    try:
        # The password is part of the salt: another one ends the keys that were given for it.
        fits = signing.loads(key, salt=SALT + link.password, max_age=KEY_HOLDS) == link.pk
    except signing.BadSignature:
        fits = False
    if not fits:
        raise RefusalError(
            "This link asks for a password.",
            Issue("None was given, or some hours ago.", "Type it to go on."),
            status=401,
        )


def _over(detail: str) -> RefusalError:
    return RefusalError(
        "This link is not valid any more.",
        Issue(detail, "Ask whoever sent it to you for another."),
        status=410,
    )
