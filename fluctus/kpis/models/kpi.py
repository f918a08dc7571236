"""A KPI: what is measured, and how its chart is set up."""

from django.conf import settings
from django.db import models
from django.db.models.functions import Lower

from fluctus.accounts.models import Workspace
from fluctus.core import Aggregation, Direction, MadeFrom
from fluctus.core.words import ShownIn
from fluctus.http.rendering import NumberDecoder
from fluctus.kpis.calendar import Grain

MADE_FROM_ONE = (MadeFrom.MULTIPLE, MadeFrom.TIME_BETWEEN)


class DrawnAs(models.TextChoices):
    """How values are drawn: joined by a line or as columns, or as steps that hold until changed."""

    POINTS = "points"
    COLUMNS = "columns"
    STEPS = "steps"


class ValueLabels(models.TextChoices):
    """Which values are written beside their points."""

    SIGNALS = "signals"
    NONE = "none"
    ALL = "all"
    OFF_TARGET = "off_target"
    EXTREMES = "extremes"
    ENDS = "ends"


class Raises(models.TextChoices):
    """Which signals of a KPI become findings."""

    EVERYTHING = "everything"
    BEYOND_LIMITS = "beyond_limits"
    NOTHING = "nothing"


class Kpi(models.Model):
    """A recurring measure, and how its chart is set up.

    ``grain`` is the finest, the one that observations are stored at;
    ``aggregation`` makes one value of several, across breakdowns and for coarser
    grains. ``breakdowns`` are the names there are values for.

    ``revision`` counts the changes to the chart and its data; a write names the
    one it saw. ``digest`` is what the rail shows, kept up to date by every
    write, so that listing many KPIs reads no observations.
    """

    workspace = models.ForeignKey(Workspace, on_delete=models.CASCADE, related_name="kpis")
    slug = models.SlugField(max_length=80)
    name = models.CharField(max_length=120)
    group = models.CharField(max_length=60, blank=True)
    unit = models.CharField(max_length=30, blank=True)
    decimals = models.PositiveSmallIntegerField(default=1)
    shown_in = models.CharField(
        max_length=10, choices=[(s.value, s.value) for s in ShownIn], default=ShownIn.AUTOMATIC
    )
    drawn_as = models.CharField(max_length=10, choices=DrawnAs.choices, default=DrawnAs.POINTS)
    raises = models.CharField(max_length=15, choices=Raises.choices, default=Raises.EVERYTHING)
    direction = models.CharField(
        max_length=10, choices=[(d.value, d.value) for d in Direction], default=Direction.NEITHER
    )
    grain = models.CharField(max_length=10, choices=[(g.value, g.value) for g in Grain])
    aggregation = models.CharField(
        max_length=10, choices=[(a.value, a.value) for a in Aggregation], default=Aggregation.MEAN
    )
    time_zone = models.CharField(max_length=60)
    first_weekday = models.PositiveSmallIntegerField(default=0)
    first_month = models.PositiveSmallIntegerField(default=1)
    floor = models.FloatField(null=True)
    ceiling = models.FloatField(null=True)
    target = models.FloatField(null=True)
    target_high = models.FloatField(null=True)
    """The high side, where the target is a range; ``target`` is then its low side."""
    target_steps = models.JSONField(default=list, decoder=NumberDecoder)
    """Days from which on the target is another one: day, level, and the high side or null."""
    axis_low = models.FloatField(null=True)
    axis_high = models.FloatField(null=True)
    """Where the axis of the values begins and ends; null where it shows all of them."""
    value_labels = models.CharField(
        max_length=10, choices=ValueLabels.choices, default=ValueLabels.SIGNALS
    )
    dots = models.BooleanField(default=True)
    faint = models.BooleanField(default=False)
    """Whether the values stand back behind the lines."""
    lines = models.JSONField(default=list, decoder=NumberDecoder)
    bands = models.JSONField(default=list)
    views = models.JSONField(default=list)
    rules = models.JSONField()
    run_length = models.PositiveSmallIntegerField()
    revision = models.PositiveIntegerField(default=1)
    digest = models.JSONField(decoder=NumberDecoder)
    breakdowns = models.JSONField(default=list)
    kept_limits = models.JSONField(default=list)
    """Where a shift was reviewed and the limits were kept: period, reason, answers."""
    confirmed = models.JSONField(default=list)
    """Periods of values far off the others that are right as they are."""
    proposals = models.JSONField(default=dict, decoder=NumberDecoder)
    """Shift candidates and patterns worth asking about, made anew by every write."""
    source = models.ForeignKey("self", on_delete=models.SET_NULL, null=True, related_name="derived")
    """The KPI that this one is made from and follows; its values are not written by hand."""
    second = models.ForeignKey("self", on_delete=models.SET_NULL, null=True, related_name="+")
    """The other one, where it is made from two: the denominator of a ratio."""
    made_by = models.CharField(
        max_length=15, blank=True, choices=[(made.value, made.value) for made in MadeFrom]
    )
    """How it is made from others, or was until one of these was deleted; empty: it is not."""
    times = models.FloatField(default=1.0)
    """What a ratio and its stored numerators are multiplied by, or a multiple is made with."""
    left_out = models.JSONField(default=list)
    """What could not be made from its sources, in words."""
    filled_by = models.ForeignKey(
        settings.AUTH_USER_MODEL, on_delete=models.SET_NULL, null=True, related_name="+"
    )
    """Who sees to it that its values come, where they are typed by hand."""
    logged = models.PositiveIntegerField(default=0)
    """Findings of the last segment in the log; written by those who keep findings."""
    unexplained = models.PositiveIntegerField(default=0)
    """Those of them without a cause."""
    stored = models.PositiveBigIntegerField(default=0, db_default=0)
    """Values that are stored of it, those of every breakdown; counted by every write."""
    packed = models.BooleanField(default=False)
    """Whether there are blocks of its values."""
    renew_at = models.DateTimeField(null=True, db_index=True)
    """When a period begins or ends, so that what is kept here no longer holds; null: never."""

    class Meta:
        constraints = [
            models.UniqueConstraint(fields=["workspace", "slug"], name="kpi_slug_once"),
            models.UniqueConstraint("workspace", Lower("name"), name="kpi_name_once"),
        ]

    def __str__(self) -> str:
        return self.name

    @property
    def follows(self) -> "list[Kpi]":
        """The KPIs that it is made from, all of which there are; none where it follows no other."""
        sources = [self.source] if self.made_by in MADE_FROM_ONE else [self.source, self.second]
        there = [source for source in sources if source is not None]
        return there if self.made_by and len(there) == len(sources) else []
