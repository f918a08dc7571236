"""What is kept of a table that was brought in, and of what came of it."""

from django.conf import settings
from django.db import models

from fluctus.accounts.models import Workspace
from fluctus.kpis.models import DataChange, Kpi


class Upload(models.Model):
    """A file or a paste, kept until it has been brought in or given up."""

    workspace = models.ForeignKey(Workspace, on_delete=models.CASCADE)
    person = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.CASCADE)
    at = models.DateTimeField(auto_now_add=True)
    name = models.CharField(max_length=200, blank=True)
    size = models.PositiveBigIntegerField()
    checksum = models.CharField(max_length=64)
    folder = models.CharField(max_length=64)
    """Where its bytes are, below the folder of all uploads."""

    def __str__(self) -> str:
        return self.name or "a paste"


class ImportStatus(models.TextChoices):
    """How far an import is."""

    WAITING = "waiting"
    RUNNING = "running"
    DONE = "done"
    FAILED = "failed"
    CANCELLED = "cancelled"
    UNDONE = "undone"


UNDER_WAY = (ImportStatus.WAITING, ImportStatus.RUNNING)
"""An import ends once: only from these does it become done, failed or cancelled."""


class Import(models.Model):
    """A table brought in, or on its way: who, when, from what, how read, and what came of it."""

    workspace = models.ForeignKey(Workspace, on_delete=models.CASCADE, related_name="imports")
    person = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.SET_NULL, null=True)
    at = models.DateTimeField(auto_now_add=True)
    upload = models.ForeignKey(Upload, on_delete=models.SET_NULL, null=True)
    file_name = models.CharField(max_length=200, blank=True)
    size = models.PositiveBigIntegerField()
    checksum = models.CharField(max_length=64)
    mapping = models.JSONField()
    columns = models.JSONField(default=list)
    """The names of the table's columns, by which its layout is known again."""
    into = models.ForeignKey(Kpi, on_delete=models.CASCADE, null=True, related_name="+")
    """The KPI that values were added to; null where new ones were made."""
    mode = models.CharField(max_length=10)
    status = models.CharField(
        max_length=10, choices=ImportStatus.choices, default=ImportStatus.WAITING
    )
    stage = models.CharField(max_length=80, blank=True)
    progress = models.FloatField(default=0)
    cancel_asked = models.BooleanField(default=False)
    problem = models.JSONField(null=True)
    """Why it failed: a title and issues."""
    rows = models.PositiveIntegerField(default=0)
    left_out = models.JSONField(default=list)
    """The first rows that were left out, each with its line and why."""
    left_out_count = models.PositiveIntegerField(default=0)

    class Meta:
        indexes = [models.Index(fields=["workspace", "-id"])]

    def __str__(self) -> str:
        return self.file_name or "a paste"

    @property
    def standing(self) -> str:
        """The status, knowing that undo and redo on the charts turn an import as well."""
        acts = [part.change for part in self.parts.all() if part.change is not None]
        if self.status == ImportStatus.DONE and acts and all(act.undone_by_id for act in acts):
            return ImportStatus.UNDONE
        if self.status == ImportStatus.UNDONE and any(not act.undone_by_id for act in acts):
            return ImportStatus.DONE
        return self.status


class ImportPart(models.Model):
    """What an import did to one KPI."""

    whole = models.ForeignKey(Import, on_delete=models.CASCADE, related_name="parts")
    kpi = models.ForeignKey(Kpi, on_delete=models.SET_NULL, null=True, related_name="imports")
    name = models.CharField(max_length=120)
    created = models.BooleanField()
    revision = models.PositiveIntegerField()
    """The KPI's revision right after."""
    change = models.ForeignKey(DataChange, on_delete=models.SET_NULL, null=True)
    counts = models.JSONField()

    def __str__(self) -> str:
        return f"{self.whole} into {self.name}"
