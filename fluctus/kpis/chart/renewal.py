"""What is kept of charts, made anew without a write: after an upgrade, and as periods end."""

import logging
from datetime import datetime

from django.db import DatabaseError, transaction
from django.db.models import Q

from fluctus.kpis.chart.digest import FORMAT
from fluctus.kpis.chart.keeping import keep_findings, kept_chart, locked
from fluctus.kpis.models import Kpi

log = logging.getLogger(__name__)


def catch_up(now: datetime) -> int:
    """Make anew what is kept of charts that an older version has saved; returns how many."""
    old = Kpi.objects.filter(
        Q(proposals={}) | Q(digest__format__isnull=True) | Q(digest__format__lt=FORMAT)
    )
    keys = list(old.values_list("pk", flat=True))
    for pk in keys:
        with transaction.atomic():
            kept = kept_chart(locked(Kpi(pk=pk)), now)
            keep_findings(kept.kpi, kept.chart, "Found on the chart")
    return len(keys)


def renew_ended(now: datetime) -> int:
    """Renew what is kept of each chart whose last period has begun or ended; returns how many.

    Each in a transaction of its own, in the order in which they became due. Several workers
    may do this at once: one that is held by another is left to it, and whoever comes second
    finds that it is done. Where one cannot be renewed, the others are.
    """
    renewed = 0
    failed: set[int] = set()
    while True:
        with transaction.atomic():
            due = (
                Kpi.objects.filter(renew_at__lte=now)
                .exclude(pk__in=failed)
                .order_by("renew_at", "pk")
                .select_for_update(of=("self",), no_key=True, skip_locked=True)
                .select_related("workspace")
                .first()
            )
            if due is None:
                return renewed
            try:
                with transaction.atomic():
                    kept = kept_chart(due, now)
                    over = (
                        f"The {due.grain} is over"
                        if not kept.chart.observations.incomplete
                        else (f"The {due.grain} has begun")
                    )
                    keep_findings(kept.kpi, kept.chart, over)
            except DatabaseError:
                raise
            except Exception:
                log.exception("The chart of KPI %s could not be renewed", due.pk)
                failed.add(due.pk)
            else:
                renewed += 1
