"""What is kept of a link; its secret is not."""

from django.conf import settings
from django.db import models

from fluctus.accounts.models import Workspace
from fluctus.kpis.models import Kpi
from fluctus.overview.models import Page
from fluctus.reports.models import Report


class LinkKind(models.TextChoices):
    """What a link shows."""

    CHART = "chart"
    PAGE = "page"
    REPORT = "report"


class Extra(models.TextChoices):
    """What is told with a chart beside its values and limits; a link shows what is chosen."""

    NOTES = "notes"
    REASONS = "reasons"
    EVENTS = "events"
    EVERYWHERE = "everywhere"


def all_shown() -> list[str]:
    """Return all of it: what links of an older version show."""
    return [extra.value for extra in Extra]


class Link(models.Model):
    """A way in for whoever knows its secret, to one thing and nothing else."""

    workspace = models.ForeignKey(Workspace, on_delete=models.CASCADE, related_name="links")
    person = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.SET_NULL, null=True)
    made_at = models.DateTimeField()
    kind = models.CharField(max_length=10, choices=LinkKind.choices)
    title = models.CharField(max_length=200)
    kpi = models.ForeignKey(Kpi, on_delete=models.SET_NULL, null=True, related_name="+")
    view = models.CharField(max_length=80, blank=True)
    page = models.ForeignKey(Page, on_delete=models.SET_NULL, null=True, related_name="+")
    report = models.ForeignKey(Report, on_delete=models.SET_NULL, null=True, related_name="+")
    digest = models.CharField(max_length=64, unique=True)
    expires = models.DateTimeField(null=True)
    password = models.CharField(max_length=128, blank=True)
    """As Django keeps passwords; empty: none is asked for."""
    embeddable = models.BooleanField(default=False)
    names = models.BooleanField(default=False)
    """Whether people are named."""
    shows = models.JSONField(default=all_shown)
    """What it shows beside values and limits, by ``Extra``."""
    frozen = models.JSONField(null=True)
    """What it showed when it was made, where it is to stay so; null: what there is now."""
    opened = models.PositiveIntegerField(default=0)
    opened_at = models.DateTimeField(null=True)
    revoked_at = models.DateTimeField(null=True)

    class Meta:
        indexes = [models.Index(fields=["workspace", "-id"])]

    def __str__(self) -> str:
        return self.title


class Frames(models.Model):
    """The addresses of other sites that may show the links of a workspace in a frame."""

    workspace = models.OneToOneField(Workspace, on_delete=models.CASCADE, related_name="frames")
    origins = models.JSONField(default=list)

    def __str__(self) -> str:
        return f"frames of {self.workspace}"
