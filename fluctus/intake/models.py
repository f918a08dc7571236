"""What is kept of a table that was brought in, and of what came of it."""

from django.conf import settings
from django.db import models
from django.db.models.functions import Lower

from fluctus.accounts.models import Role, Workspace
from fluctus.jobs.models import Job, JobStatus
from fluctus.kpis.models import DataChange, EventImport, Kpi


class Upload(models.Model):
    """A file or a paste, kept until it has been brought in or given up."""

    workspace = models.ForeignKey(Workspace, on_delete=models.CASCADE)
    person = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.CASCADE)
    at = models.DateTimeField(auto_now_add=True)
    name = models.CharField(max_length=200, blank=True)
    size = models.PositiveBigIntegerField()
    checksum = models.CharField(max_length=64)
    kept = models.PositiveBigIntegerField(default=0)
    """The bytes that are kept of it, with what was made of them."""
    folder = models.CharField(max_length=64)
    """Where its bytes are in the store of files."""
    held = models.BooleanField(default=False)
    """Whether it is kept until somebody has decided on it."""

    def __str__(self) -> str:
        return self.name or "a paste"


class ImportKind(models.TextChoices):
    """What is brought in."""

    TABLE = "table"
    PACKAGE = "package"
    TYPED = "typed"
    """Values of several KPIs that a person has typed together."""


class Import(Job):
    """What was brought in, or is on its way: who, when, how it was read, and what came of it."""

    workspace = models.ForeignKey(Workspace, on_delete=models.CASCADE, related_name="imports")
    person = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.SET_NULL, null=True)
    at = models.DateTimeField(auto_now_add=True)
    upload = models.ForeignKey(Upload, on_delete=models.SET_NULL, null=True)
    file_name = models.CharField(max_length=200, blank=True)
    size = models.PositiveBigIntegerField()
    checksum = models.CharField(max_length=64)
    role = models.CharField(max_length=12, choices=Role.choices, default=Role.OWNER)
    """What the person might do when they asked, which holds for it however long it waits."""
    kind = models.CharField(max_length=10, choices=ImportKind.choices, default=ImportKind.TABLE)
    mapping = models.JSONField(default=dict)
    """How a table is read; of a package, which says so itself, nothing."""
    columns = models.JSONField(default=list)
    """The names of the table's columns, by which its layout is known again."""
    into = models.ForeignKey(Kpi, on_delete=models.CASCADE, null=True, related_name="+")
    """The KPI that values were added to; null where new ones were made."""
    targets = models.JSONField(null=True)
    """The KPIs that values go to, by the key of each in the table; null where nobody named them."""
    mode = models.CharField(max_length=10)
    events = models.ForeignKey(EventImport, on_delete=models.SET_NULL, null=True, related_name="+")
    """The events that came along."""
    rows = models.PositiveIntegerField(default=0)
    left_out = models.JSONField(default=list)
    """The first rows that were left out, each with its line and why."""
    left_out_count = models.PositiveIntegerField(default=0)

    class Meta:
        indexes = [models.Index(fields=["workspace", "-id"])]

    def __str__(self) -> str:
        return self.file_name or "a paste"

    @property
    def outcome(self) -> str:
        """The status, knowing that undo and redo on the charts turn an import as well."""
        acts = [part.change for part in self.parts.all() if part.change is not None]
        if self.status == JobStatus.DONE and acts and all(act.undone_by_id for act in acts):
            return JobStatus.UNDONE
        if self.status == JobStatus.UNDONE and any(not act.undone_by_id for act in acts):
            return JobStatus.DONE
        return self.status


class KeptReading(models.Model):
    """How a table was read, kept by a name for the next one of its shape."""

    workspace = models.ForeignKey(Workspace, on_delete=models.CASCADE, related_name="kept_readings")
    person = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.SET_NULL, null=True)
    at = models.DateTimeField()
    name = models.CharField(max_length=80)
    columns = models.JSONField()
    """The name of each column and what it holds, by which a table is known again."""
    mapping = models.JSONField()

    class Meta:
        constraints = [
            models.UniqueConstraint(Lower("name"), "workspace", name="one_reading_of_a_name")
        ]

    def __str__(self) -> str:
        return self.name


class ImportPart(models.Model):
    """What an import did to one KPI."""

    whole = models.ForeignKey(Import, on_delete=models.CASCADE, related_name="parts")
    kpi = models.ForeignKey(Kpi, on_delete=models.SET_NULL, null=True, related_name="imports")
    key = models.CharField(max_length=5_000, blank=True)
    """What the KPI is known by in the table."""
    name = models.CharField(max_length=120)
    created = models.BooleanField()
    revision = models.PositiveIntegerField()
    """The KPI's revision right after."""
    change = models.ForeignKey(DataChange, on_delete=models.SET_NULL, null=True)
    counts = models.JSONField()

    def __str__(self) -> str:
        return f"{self.whole} into {self.name}"
