"""What is kept of a report: what it was asked to show, how far it is, and what came of it."""

from django.conf import settings
from django.db import models

from fluctus.accounts.models import Workspace
from fluctus.jobs.models import Job


class Format(models.TextChoices):
    """What is made."""

    PDF = "pdf"
    SLIDES = "slides"
    WORKBOOK = "workbook"
    PACKAGE = "package"


class Scope(models.TextChoices):
    """Which KPIs a report shows; they are looked up when it is made."""

    KPIS = "kpis"
    PAGE = "page"
    GROUP = "group"
    NEW = "new"
    ALL = "all"


class Report(Job):
    """A report: who asked for it, when, what it shows, and at which revisions."""

    workspace = models.ForeignKey(Workspace, on_delete=models.CASCADE, related_name="reports")
    person = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.SET_NULL, null=True)
    at = models.DateTimeField()
    title = models.CharField(max_length=200)
    format = models.CharField(max_length=10, choices=Format.choices)
    asked = models.JSONField()
    """What it is to show, as ``Asked`` keeps it."""
    shows = models.JSONField(default=list)
    """The KPIs that it shows, each with its revision: slug, name, revision."""
    left_out = models.JSONField(default=list)
    """What could not be shown, and why."""
    pages = models.PositiveIntegerField(default=0)

    class Meta:
        indexes = [models.Index(fields=["workspace", "-id"])]

    def __str__(self) -> str:
        return self.title


class ReportPage(models.Model):
    """A picture of a page of a report, made when somebody looks at it first."""

    report = models.ForeignKey(Report, on_delete=models.CASCADE, related_name="pictures")
    number = models.PositiveIntegerField()
    content = models.BinaryField()

    class Meta:
        constraints = [
            models.UniqueConstraint(fields=["report", "number"], name="one_picture_a_page")
        ]

    def __str__(self) -> str:
        return f"page {self.number} of {self.report}"


class ReportFile(models.Model):
    """The file that came of a report; apart from it, so that lists do not carry it."""

    report = models.OneToOneField(Report, on_delete=models.CASCADE, related_name="file")
    content = models.BinaryField()

    def __str__(self) -> str:
        return str(self.report)
