"""What is kept of a KPI."""

from django.conf import settings
from django.db import models
from django.db.models.functions import Lower

from fluctus.accounts.models import Workspace
from fluctus.core import Centre, Direction, Spread
from fluctus.kpis.periods import Grain


class Kpi(models.Model):
    """A recurring measure with one value per period, and how its chart is set up.

    ``revision`` counts the changes to the chart and its data; a write names the
    one it saw. ``digest`` is what the rail shows, kept up to date by every
    write, so that listing many KPIs reads no observations.
    """

    workspace = models.ForeignKey(Workspace, on_delete=models.CASCADE, related_name="kpis")
    slug = models.SlugField(max_length=80)
    name = models.CharField(max_length=80)
    group = models.CharField(max_length=60, blank=True)
    unit = models.CharField(max_length=20, blank=True)
    decimals = models.PositiveSmallIntegerField(default=1)
    direction = models.CharField(
        max_length=10, choices=[(d.value, d.value) for d in Direction], default=Direction.NEITHER
    )
    grain = models.CharField(max_length=10, choices=[(g.value, g.value) for g in Grain])
    time_zone = models.CharField(max_length=60)
    floor = models.FloatField(null=True)
    ceiling = models.FloatField(null=True)
    target = models.FloatField(null=True)
    rules = models.JSONField()
    run_length = models.PositiveSmallIntegerField()
    revision = models.PositiveIntegerField(default=1)
    digest = models.JSONField()

    class Meta:
        constraints = [
            models.UniqueConstraint(fields=["workspace", "slug"], name="kpi_slug_once"),
            models.UniqueConstraint("workspace", Lower("name"), name="kpi_name_once"),
        ]

    def __str__(self) -> str:
        return self.name


class Observation(models.Model):
    """The value of one period. A missing period has no row."""

    kpi = models.ForeignKey(Kpi, on_delete=models.CASCADE, related_name="observations")
    period = models.DateTimeField()
    value = models.FloatField()
    set_aside = models.BooleanField(default=False)
    reason = models.CharField(max_length=200, blank=True)

    class Meta:
        constraints = [
            models.UniqueConstraint(fields=["kpi", "period"], name="one_value_per_period")
        ]

    def __str__(self) -> str:
        return f"{self.period:%Y-%m-%d %H:%M}: {self.value}"


class Segment(models.Model):
    """A stretch of the process with limits of its own; the first one has no start.

    ``window_first`` and ``window_last`` bound the baseline, both included;
    null takes the whole segment.
    """

    kpi = models.ForeignKey(Kpi, on_delete=models.CASCADE, related_name="segments")
    start = models.DateTimeField(null=True)
    name = models.CharField(max_length=80, blank=True)
    what_changed = models.CharField(max_length=500, blank=True)
    centre = models.CharField(max_length=10, choices=[(c.value, c.value) for c in Centre])
    spread = models.CharField(max_length=15, choices=[(s.value, s.value) for s in Spread])
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
    """One act on a chart: who, when, what, and the chart's state before and after."""

    class Standing(models.TextChoices):
        """Whether the act holds, was undone, or was undone and then built over."""

        KEPT = "kept"
        UNDONE = "undone"
        REPLACED = "replaced"

    kpi = models.ForeignKey(Kpi, on_delete=models.CASCADE, related_name="changes")
    author = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.SET_NULL, null=True)
    at = models.DateTimeField(auto_now_add=True)
    summary = models.CharField(max_length=200)
    before = models.JSONField()
    after = models.JSONField()
    standing = models.CharField(max_length=10, choices=Standing.choices, default=Standing.KEPT)

    class Meta:
        indexes = [models.Index(fields=["kpi", "standing", "id"])]

    def __str__(self) -> str:
        return self.summary
