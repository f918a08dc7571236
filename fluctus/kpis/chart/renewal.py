"""What is kept of charts, made anew without a write: after an upgrade, and as periods end."""

import logging
from collections.abc import Callable, Sequence
from datetime import datetime
from typing import Final

from django.db import DatabaseError, transaction
from django.db.models import Exists, OuterRef, Q

from fluctus.kpis.chart.analysis.chart import make_chart, make_charts
from fluctus.kpis.chart.digest import FORMAT
from fluctus.kpis.chart.keeping import (
    keep_findings,
    keep_renewed,
    locked,
    observations_written,
)
from fluctus.kpis.chart.queries import observations_of, segments_of, state_of_kpi
from fluctus.kpis.hooks import Charted
from fluctus.kpis.models import Kpi
from fluctus.kpis.observations.blocks import FEWEST
from fluctus.kpis.state import state_of

AT_ONCE: Final = 40
"""Charts that are renewed in one transaction; who writes to one of them waits for all."""

log = logging.getLogger(__name__)


def catch_up(now: datetime) -> int:
    """Make anew what is kept of charts that an older version has saved; returns how many."""
    old = Kpi.objects.filter(
        Q(proposals={})
        | Q(digest__format__isnull=True)
        | Q(digest__format__lt=FORMAT)
        | Q(digest__count__gte=FEWEST, packed=False)
    )
    keys = list(old.values_list("pk", flat=True))
    for pk in keys:
        with transaction.atomic():
            kpi = locked(Kpi(pk=pk))
            state = state_of_kpi(kpi)
            chart = make_chart(observations_written(kpi, state, now), state)
            keep_findings(kpi, chart, "Found on the chart")
    return len(keys)


def count_ended(now: datetime) -> int:
    """Count the charts whose last period has begun or ended since they were kept."""
    return Kpi.objects.filter(renew_at__lte=now).count()


def renew_ended(now: datetime, goes_on: Callable[[], bool] = lambda: True) -> int:
    """Renew what is kept of each chart whose last period has begun or ended; returns how many.

    In the order in which they became due, each as it was to be known at its moment, so that who
    slept for a week finds in order what they would have found. Several workers may do this at
    once: one that is held by another is left to it, and whoever comes second finds that it is
    done. Where one cannot be renewed, the others are. ``goes_on`` is asked before each lot.
    """
    renewed = 0
    failed: set[int] = set()
    while goes_on():
        with transaction.atomic():
            due = _claimed(now, failed)
            if not due:
                break
            renewed += _renewed(due, failed)
    return renewed


def _claimed(now: datetime, failed: set[int]) -> Sequence[Kpi]:
    """Lock the first charts that are due, of one moment; several only where none follows another.

    What follows is locked by its source, and who holds many must not wait for one of them.
    """
    linked = Exists(Kpi.objects.filter(Q(source=OuterRef("pk")) | Q(second=OuterRef("pk"))))
    rows = list(
        Kpi.objects.filter(renew_at__lte=now)
        .exclude(pk__in=failed)
        .annotate(alone=~linked & Q(source=None, second=None))
        .order_by("renew_at", "pk")
        .select_for_update(of=("self",), no_key=True, skip_locked=True)
        .select_related("workspace")[:AT_ONCE]
    )
    together = [row for row in rows if row.alone and row.renew_at == rows[0].renew_at]
    return together if rows and rows[0].alone else rows[:1]


def _renewed(due: Sequence[Kpi], failed: set[int]) -> int:
    """Renew charts together, or one by one where one of them cannot be; returns how many."""
    try:
        with transaction.atomic():
            _renew(due)
    except DatabaseError:
        raise
    except Exception:
        log.exception("Charts could not be renewed: %s", [kpi.pk for kpi in due])
        if len(due) > 1:
            return sum(_renewed([kpi], failed) for kpi in due)
        failed.add(due[0].pk)
        return 0
    return len(due)


def _renew(due: Sequence[Kpi]) -> None:
    segments = segments_of(due)
    moments, each = [], []
    for kpi in due:
        assert kpi.renew_at is not None
        state = state_of(kpi, segments[kpi.pk])
        moments.append(kpi.renew_at)
        each.append((observations_of(kpi, state, kpi.renew_at), state))
    renewed = []
    for kpi, moment, chart in zip(due, moments, make_charts(each), strict=True):
        begun = chart.observations.incomplete
        why = f"The {kpi.grain} has begun" if begun else f"The {kpi.grain} is over"
        renewed.append(Charted(kpi, chart, why, moment))
    keep_renewed(renewed)
