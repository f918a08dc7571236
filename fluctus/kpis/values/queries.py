"""Reads of values and of what they have been."""

from datetime import datetime
from typing import Any

from django.contrib.auth.models import User
from django.db.models import Q

from fluctus.accounts.queries import name_of
from fluctus.kpis.models import DataChange, Kpi, Observation, PastValue

VALUES_PAGE = 200
"""Values in one answer."""
EVERY = Q()


def values_of(
    kpi: Kpi, start: int, breakdown: str | None = None, only: Q = EVERY
) -> tuple[int, list[Observation]]:
    """Return how many values there are, and a stretch of them in order of time from ``start``.

    With ``only``, of those that it chooses.
    """
    part = Q() if breakdown is None else Q(breakdown=breakdown)
    rows = Observation.objects.filter(part, only, kpi=kpi).select_related("written_by__author")
    count = rows.count()
    stop = min(start + VALUES_PAGE, count)
    if start >= stop:
        return count, []
    # From the nearer end: the newest values of a long KPI are what most come for.
    if start > count - stop:
        backwards = rows.order_by("-period", "-breakdown")[count - stop : count - start]
        return count, list(backwards)[::-1]
    return count, list(rows.order_by("period", "breakdown")[start:stop])


def writers_of(kpi: Kpi) -> list[User]:
    """List who has written values of a KPI, by name."""
    acts = DataChange.objects.filter(kpi=kpi, author__isnull=False).values("author")
    return sorted(User.objects.filter(pk__in=acts), key=name_of)


def last_period_of(kpi: Kpi, breakdown: str | None = None) -> datetime | None:
    """Return the newest period of a KPI, or of one of its breakdowns."""
    only = {} if breakdown is None else {"breakdown": breakdown}
    last = Observation.objects.filter(kpi=kpi, **only).order_by("-period").first()
    return last.period if last else None


def versions_of(kpi: Kpi, period: datetime, breakdown: str) -> list[Observation | PastValue]:
    """List what the value of a period has been, oldest first; the last one may be the present."""
    key: dict[str, Any] = {"kpi": kpi, "period": period, "breakdown": breakdown}
    past = PastValue.objects.filter(**key).select_related(
        "written_by__author", "replaced_by__author"
    )
    present = Observation.objects.filter(**key).select_related("written_by__author")
    return [*past.order_by("id"), *present]
