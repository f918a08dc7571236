"""How long the record is kept: all of it, and in it names and addresses of who has left."""

from datetime import datetime, timedelta

from django.conf import settings
from django.db import connection, transaction
from django.db.models import Exists, OuterRef

from fluctus.accounts.models import Membership, RecordEntry

SOMEBODY = "somebody who left"
AT_ONCE = 2_000


@transaction.atomic
def clear_record(now: datetime) -> tuple[int, int]:
    """Forget what is older than the settings say; returns how many entries and names went."""
    with connection.cursor() as cursor:
        # The database lets nobody change the record but who says that this is what they do.
        cursor.execute("SET LOCAL fluctus.clears_record = 'yes'")
    oldest = now - timedelta(days=settings.RECORD_DAYS)
    named_until = now - timedelta(days=settings.RECORD_NAMES_DAYS)
    gone, _ = RecordEntry.objects.filter(at__lt=oldest).delete()
    named = (
        RecordEntry.objects.filter(
            ~Exists(
                Membership.objects.filter(
                    workspace=OuterRef("workspace"), person=OuterRef("account")
                )
            ),
            at__lt=named_until,
        )
        .exclude(person="")
        .exclude(person=SOMEBODY)
    )
    rows = list(named.order_by("pk")[:AT_ONCE])
    for workspace, name in {(row.workspace_id, _name_in(row.person)) for row in rows}:
        about = RecordEntry.objects.filter(
            workspace=workspace,
            text__contains=name,
            at__lt=named_until,
        )
        for entry in about:
            entry.text = entry.text.replace(name, SOMEBODY)[:400]
            entry.save(update_fields=["text"])
    RecordEntry.objects.filter(pk__in=[row.pk for row in rows]).update(person=SOMEBODY, address="")
    return gone, len(rows)


def _name_in(person: str) -> str:
    """Return the name in ``Isla Corrie (isla)``."""
    return person.rpartition(" (")[0] or person
