"""Findings as Atom, and events as iCalendar, by an address that opens nothing else."""

from datetime import datetime, timedelta
from typing import Final

from django.contrib.auth.models import User
from django.db import transaction
from django.utils.feedgenerator import Atom1Feed

from fluctus.accounts.models import Workspace
from fluctus.accounts.secrets import digest_of, draw_secret
from fluctus.findings.models import Finding, FindingPresence
from fluctus.http.refusals import NotThereError
from fluctus.messages.letters import address_of
from fluctus.messages.models import Followed

NEWEST: Final = 60
"""Findings that a feed reader is told."""
USE_NOTED_EVERY: Final = timedelta(hours=1)


@transaction.atomic
def make_address(workspace: Workspace, person: User, now: datetime) -> str:
    """Return the secret of a new address; the one that there was opens nothing any more."""
    Followed.objects.filter(workspace=workspace, person=person).delete()
    secret = draw_secret()
    Followed.objects.create(
        workspace=workspace, person=person, digest=digest_of(secret), made_at=now
    )
    return secret


def revoke_address(workspace: Workspace, person: User) -> None:
    """Let the address of a person open nothing any more."""
    Followed.objects.filter(workspace=workspace, person=person).delete()


def followed_by(secret: str, now: datetime) -> Workspace:
    """Return what an address follows; raises NotThereError for none, or of who has left."""
    row = (
        Followed.objects.filter(digest=digest_of(secret), person__is_active=True)
        .select_related("workspace")
        .first()
    )
    if row is None or not row.workspace.members.filter(pk=row.person_id).exists():
        raise NotThereError("address")
    if row.used_at is None or now - row.used_at > USE_NOTED_EVERY:
        Followed.objects.filter(pk=row.pk).update(used_at=now)
    return row.workspace


def findings_as_atom(workspace: Workspace) -> str:
    """Write the newest findings of a workspace as Atom (RFC 4287)."""
    feed = Atom1Feed(
        title=f"{workspace.name}: findings",
        link=address_of(workspace, "/findings"),
        description="What Fluctus has found",
    )
    rows = Finding.objects.filter(kpi__workspace=workspace, presence=FindingPresence.PRESENT)
    for row in rows.select_related("kpi").order_by("-found_at", "-pk")[:NEWEST]:
        address = address_of(workspace, f"/charts/{row.kpi.slug}?finding={row.pk}")
        feed.add_item(
            title=f"{row.kpi.name}: {row.title}, {row.label}",
            link=address,
            description=f"{row.text} {row.cause}".strip(),
            pubdate=row.knowable_at,
            updateddate=row.found_at,
            unique_id=address,
        )
    return str(feed.writeString("utf-8"))
