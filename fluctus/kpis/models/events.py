"""What happened around the charts, and the files that told of it."""

from django.conf import settings
from django.db import models

from fluctus.accounts.models import Workspace
from fluctus.kpis.models.kpi import Kpi


class EventKind(models.TextChoices):
    """What sort of thing happened."""

    CHANGE = "change"
    INCIDENT = "incident"
    STATE = "state"
    NOTE = "note"


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
