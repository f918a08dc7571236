"""What is kept of feeds: where they fetch, when, what they understood, and each fetch."""

from django.conf import settings
from django.db import models
from django.db.models.functions import Lower

from fluctus.accounts.models import Workspace
from fluctus.intake.models import Import, Upload
from fluctus.jobs.models import Job
from fluctus.kpis.models import Kpi


class FeedState(models.TextChoices):
    """Whether a feed fetches."""

    DRAFT = "draft"
    """It was looked at, and is not set up yet."""
    ON = "on"
    PAUSED = "paused"
    """Somebody has switched it off."""
    STOPPED = "stopped"
    """What came does not fit, or its owner has left: somebody decides."""


class Feed(models.Model):
    """A source that is fetched by itself into KPIs, by a reading that is kept of it.

    ``person`` owns it: what comes is brought in in their name and with their role.
    """

    workspace = models.ForeignKey(Workspace, on_delete=models.CASCADE, related_name="feeds")
    person = models.ForeignKey(
        settings.AUTH_USER_MODEL, on_delete=models.SET_NULL, null=True, related_name="+"
    )
    name = models.CharField(max_length=80)
    source = models.CharField(max_length=20)
    """The kind of source, by name."""
    options = models.JSONField(default=dict)
    sealed = models.TextField(blank=True)
    """Its secrets, encrypted."""
    state = models.CharField(max_length=10, choices=FeedState.choices, default=FeedState.DRAFT)
    revision = models.PositiveIntegerField(default=1)
    made_at = models.DateTimeField()
    first = models.ForeignKey(Import, on_delete=models.SET_NULL, null=True, related_name="+")
    """The import that sets it up: once it is done, the feed fetches into what it made."""
    mapping = models.JSONField(default=dict)
    columns = models.JSONField(default=list)
    """The columns of the table that ``mapping`` was made for: name and kind of each."""
    schedule = models.JSONField(default=dict)
    time_zone = models.CharField(max_length=60, default="UTC")
    next_at = models.DateTimeField(null=True, db_index=True)
    """When it fetches next; null where it does not."""
    validators = models.JSONField(default=dict)
    """What the source said by which it tells whether there is something new."""
    checksum = models.CharField(max_length=64, blank=True)
    """Of the table that was brought in last."""
    failures = models.PositiveIntegerField(default=0)
    """Fetches in a row that have failed."""
    told_failing = models.BooleanField(default=False)
    """Whether its owner has been told that it fails."""
    held = models.ForeignKey(Upload, on_delete=models.SET_NULL, null=True, related_name="+")
    """The table that waits for a decision."""
    differs = models.JSONField(default=list)
    """What of it does not fit, in words."""

    class Meta:
        constraints = [
            models.UniqueConstraint(
                Lower("name"),
                "workspace",
                condition=~models.Q(state="draft"),
                name="one_feed_of_a_name",
            )
        ]

    def __str__(self) -> str:
        return self.name


class FeedKpi(models.Model):
    """A KPI that a feed feeds: by its key in the table."""

    feed = models.ForeignKey(Feed, on_delete=models.CASCADE, related_name="kpis")
    key = models.CharField(max_length=5_000)
    unit = models.CharField(max_length=60, blank=True)
    """The unit that the table said when it was understood."""
    kpi = models.ForeignKey(Kpi, on_delete=models.CASCADE, related_name="feeds")

    class Meta:
        constraints = [models.UniqueConstraint(fields=["feed", "kpi"], name="kpi_once_a_feed")]

    def __str__(self) -> str:
        return f"{self.feed}: {self.kpi}"


class FetchOutcome(models.TextChoices):
    """What came of a fetch."""

    UNDER_WAY = "under_way"
    BROUGHT = "brought"
    SAME = "same"
    """There was nothing new."""
    STOPPED = "stopped"
    """What came does not fit."""
    FAILED = "failed"
    LEFT_OUT = "left_out"
    """It did not fit, and somebody has left it out."""


class Fetch(Job):
    """One time that a feed has fetched, and what came of it."""

    feed = models.ForeignKey(Feed, on_delete=models.CASCADE, related_name="fetches")
    began = models.DateTimeField()
    ended = models.DateTimeField(null=True)
    by_hand = models.BooleanField(default=False)
    outcome = models.CharField(
        max_length=10, choices=FetchOutcome.choices, default=FetchOutcome.UNDER_WAY
    )
    size = models.PositiveBigIntegerField(default=0)
    rows = models.PositiveIntegerField(default=0)
    counts = models.JSONField(default=dict)
    """Values that were new, changed, the same, gone at the source, and kept as typed by hand."""
    remarks = models.JSONField(default=list)
    brought = models.ForeignKey(Import, on_delete=models.SET_NULL, null=True, related_name="+")

    class Meta:
        indexes = [models.Index(fields=["feed", "-id"])]
        constraints = [
            models.UniqueConstraint(
                fields=["feed"],
                condition=models.Q(status__in=["waiting", "running"]),
                name="one_fetch_at_once",
            )
        ]

    def __str__(self) -> str:
        return f"{self.feed}, {self.began:%Y-%m-%d %H:%M}"
