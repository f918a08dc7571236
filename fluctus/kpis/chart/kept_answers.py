"""Charts as they were answered last, the whole of each kept with its KPI for every process."""

from contextlib import suppress

from django.db import DatabaseError, transaction

from fluctus.http.conditional import hold
from fluctus.kpis.models import KeptAnswer, Kpi


def kept_answer(kpi: Kpi, tag: str) -> bytes | None:
    """Return the answer with a tag that is kept; None where it is not the one given last."""
    row = KeptAnswer.objects.filter(kpi=kpi, tag=tag).first()
    if row is None:
        return None
    content = bytes(row.content)
    hold(tag, content)
    return content


def keep_answer(kpi: Kpi, tag: str, content: bytes) -> None:
    """Keep the answer of a whole chart in place of the one before."""
    # Its KPI may have gone, and the database may only be read: the answer is given all the same.
    with suppress(DatabaseError), transaction.atomic():
        KeptAnswer.objects.bulk_create(
            [KeptAnswer(kpi=kpi, tag=tag, content=content)],
            update_conflicts=True,
            unique_fields=["kpi"],
            update_fields=["tag", "content"],
        )
