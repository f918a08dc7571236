"""What is kept of a KPI."""

from django.conf import settings
from django.db import models
from django.db.models.functions import Lower

from fluctus.accounts.models import Workspace
from fluctus.core import Aggregation, Centre, Direction, Spread
from fluctus.core.words import ShownIn
from fluctus.http.rendering import NumberDecoder
from fluctus.kpis.calendar import Grain
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


class EventKind(models.TextChoices):
    """What sort of thing happened."""

    CHANGE = "change"
    INCIDENT = "incident"
    STATE = "state"
    NOTE = "note"


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
    proposals = models.JSONField(default=dict, decoder=NumberDecoder)
    """Shift candidates and patterns worth asking about, made anew by every write."""
    source = models.ForeignKey("self", on_delete=models.SET_NULL, null=True, related_name="derived")
    """The KPI that this one is made from and follows; its values are not written by hand."""
    logged = models.PositiveIntegerField(default=0)
    """Findings of the last segment in the log; written by those who keep findings."""
    unexplained = models.PositiveIntegerField(default=0)
    """Those of them without a cause."""
    renew_at = models.DateTimeField(null=True, db_index=True)
    """When a period begins or ends, so that what is kept here no longer holds; null: never."""

    class Meta:
        constraints = [
            models.UniqueConstraint(fields=["workspace", "slug"], name="kpi_slug_once"),
            models.UniqueConstraint("workspace", Lower("name"), name="kpi_name_once"),
        ]

    def __str__(self) -> str:
        return self.name


class DataChange(models.Model):
    """One act on the values of a KPI, and how many it touched.

    An act of writing can be taken back; ``undoes`` then names it, and
    ``undone_by`` there names the act that took it back, while that holds.
    """

    kpi = models.ForeignKey(Kpi, on_delete=models.CASCADE, related_name="data_changes")
    author = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.SET_NULL, null=True)
    at = models.DateTimeField(auto_now_add=True)
    summary = models.CharField(max_length=200)
    added = models.PositiveIntegerField(default=0)
    changed = models.PositiveIntegerField(default=0)
    removed = models.PositiveIntegerField(default=0)
    undoes = models.ForeignKey("self", on_delete=models.CASCADE, null=True, related_name="+")
    later_too = models.BooleanField(default=False)
    """Of an act that takes back: whether what was written later went as well."""
    undone_by = models.ForeignKey("self", on_delete=models.SET_NULL, null=True, related_name="+")

    def __str__(self) -> str:
        return self.summary


class Value(models.Model):
    """The value of one period, for one breakdown ("" where there is none).

    ``rows`` is how many rows of the source it stands for. A missing period has
    no row here. ``written_by`` is the act that made it; without a constraint in
    the database, which would be checked for each of a million rows.
    """

    period = models.DateTimeField()
    breakdown = models.CharField(max_length=120, blank=True)
    value = models.FloatField()
    numerator = models.FloatField(null=True)
    denominator = models.FloatField(null=True)
    target = models.FloatField(null=True)
    target_high = models.FloatField(null=True)
    """The high side, where the target is a range; ``target`` is then its low side."""
    rows = models.PositiveIntegerField(default=1)
    note = models.CharField(max_length=500, blank=True)
    set_aside = models.BooleanField(default=False)
    reason = models.CharField(max_length=200, blank=True)
    written_by = models.ForeignKey(
        DataChange,
        on_delete=models.DO_NOTHING,
        db_constraint=False,
        db_index=False,
        related_name="+",
    )

    class Meta:
        abstract = True

    def __str__(self) -> str:
        return f"{self.period:%Y-%m-%d %H:%M} {self.breakdown}: {self.value}"


class Observation(Value):
    """A value as it is now.

    Every write holds its KPI's lock, so the database need not look the KPI up
    again for each of a million rows.
    """

    kpi = models.ForeignKey(
        Kpi,
        on_delete=models.CASCADE,
        related_name="observations",
        db_index=False,
        db_constraint=False,
    )

    class Meta:
        constraints = [
            models.UniqueConstraint(
                fields=["kpi", "period", "breakdown"], name="one_value_per_period"
            )
        ]


class PastValue(Value):
    """A value that was replaced or removed, and the act that did it."""

    kpi = models.ForeignKey(Kpi, on_delete=models.CASCADE, related_name="past_values")
    replaced_by = models.ForeignKey(
        DataChange, on_delete=models.CASCADE, related_name="replaced_values"
    )

    class Meta:
        indexes = [models.Index(fields=["kpi", "period", "breakdown"])]


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


class EventImport(models.Model):
    """One calendar file that was brought in, and what came of it."""

    workspace = models.ForeignKey(Workspace, on_delete=models.CASCADE, related_name="+")
    author = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.SET_NULL, null=True)
    at = models.DateTimeField(auto_now_add=True)
    file_name = models.CharField(max_length=200)
    added = models.PositiveIntegerField(default=0)

    def __str__(self) -> str:
        return self.file_name


class Event(models.Model):
    """Something that happened, on a day or over some, and which KPIs it is told with.

    ``uid`` is its name in calendar files. ``version`` counts its changes.
    """

    workspace = models.ForeignKey(Workspace, on_delete=models.CASCADE, related_name="events")
    uid = models.CharField(max_length=300)
    title = models.CharField(max_length=120)
    kind = models.CharField(max_length=10, choices=EventKind.choices, default=EventKind.NOTE)
    text = models.CharField(max_length=2000, blank=True)
    first = models.DateField()
    last = models.DateField()
    everywhere = models.BooleanField(default=False)
    """Whether it is told with every KPI of the workspace."""
    kpis = models.ManyToManyField(Kpi, related_name="events")
    version = models.PositiveIntegerField(default=1)
    author = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.SET_NULL, null=True)
    brought_by = models.ForeignKey(
        EventImport, on_delete=models.SET_NULL, null=True, related_name="events"
    )

    class Meta:
        constraints = [
            models.UniqueConstraint(fields=["workspace", "uid"], name="event_uid_once"),
            models.CheckConstraint(
                condition=models.Q(last__gte=models.F("first")), name="event_ends_after_it_begins"
            ),
        ]
        indexes = [models.Index(fields=["workspace", "first"])]

    def __str__(self) -> str:
        return self.title
