"""The segments of a chart, and the acts that are done to it."""

from django.conf import settings
from django.db import models

from fluctus.core import Centre, Spread
from fluctus.http.rendering import NumberDecoder
from fluctus.kpis.models.kpi import Kpi
from fluctus.kpis.models.values import DataChange
from fluctus.kpis.seasons import Follows


class ActState(models.TextChoices):
    """Whether the act holds, was undone, or was undone and then built over.

    One that is passed holds, but others have changed its event since, so that
    undo passes over it.
    """

    KEPT = "kept"
    UNDONE = "undone"
    REPLACED = "replaced"
    PASSED = "passed"


class Segment(models.Model):
    """A stretch of the process with limits of its own; the first one has no start.

    ``window_first`` and ``window_last`` bound the baseline, both included;
    null takes the whole segment.
    """

    kpi = models.ForeignKey(Kpi, on_delete=models.CASCADE, related_name="segments")
    start = models.DateTimeField(null=True)
    name = models.CharField(max_length=80, blank=True)
    what_changed = models.CharField(max_length=500, blank=True)
    review = models.JSONField(default=dict)
    """Answers to the questions of the shift review, by question."""
    centre = models.CharField(max_length=10, choices=[(c.value, c.value) for c in Centre])
    spread = models.CharField(max_length=15, choices=[(s.value, s.value) for s in Spread])
    follows = models.CharField(
        max_length=20, choices=[(f.value, f.value) for f in Follows], default=Follows.LEVEL
    )
    window_first = models.DateTimeField(null=True)
    window_last = models.DateTimeField(null=True)

    class Meta:
        ordering = [models.F("start").asc(nulls_first=True)]
        constraints = [
            models.UniqueConstraint(
                fields=["kpi", "start"], name="one_shift_per_period", nulls_distinct=False
            )
        ]

    def __str__(self) -> str:
        return self.name or f"segment of {self.kpi}"


class ChartChange(models.Model):
    """One act on a chart: who, when, what, and the chart's state before and after.

    ``data`` is set where the act was on the values, ``event`` where it was on an
    event: its number, and what it was before and after. ``newest_data`` is the number of
    the newest act on the values by then. ``revision`` is the KPI's after the act.
    ``turned_by`` undid it last, or redid it.
    """

    kpi = models.ForeignKey(Kpi, on_delete=models.CASCADE, related_name="changes")
    author = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.SET_NULL, null=True)
    at = models.DateTimeField(auto_now_add=True)
    summary = models.CharField(max_length=200)
    before = models.JSONField(decoder=NumberDecoder)
    after = models.JSONField(decoder=NumberDecoder)
    data = models.ForeignKey(DataChange, on_delete=models.SET_NULL, null=True, related_name="+")
    newest_data = models.PositiveBigIntegerField(default=0)
    event = models.JSONField(null=True)
    revision = models.PositiveIntegerField(default=0)
    turned_by = models.ForeignKey(
        settings.AUTH_USER_MODEL, on_delete=models.SET_NULL, null=True, related_name="+"
    )
    turned_at = models.DateTimeField(null=True)
    state = models.CharField(max_length=10, choices=ActState.choices, default=ActState.KEPT)

    class Meta:
        indexes = [models.Index(fields=["kpi", "state", "id"])]

    def __str__(self) -> str:
        return self.summary
