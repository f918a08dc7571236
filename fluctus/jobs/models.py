"""What is kept of a job, by whoever needs one."""

from django.db import models


class JobStatus(models.TextChoices):
    """How far a job is; one that is done may be undone."""

    WAITING = "waiting"
    RUNNING = "running"
    DONE = "done"
    FAILED = "failed"
    CANCELLED = "cancelled"
    UNDONE = "undone"


UNDER_WAY = (JobStatus.WAITING, JobStatus.RUNNING)
"""A job ends once: only from these does it become done, failed or cancelled."""


class Job(models.Model):
    """How far a job is, and why it failed; ``problem`` has a title and issues."""

    status = models.CharField(max_length=10, choices=JobStatus.choices, default=JobStatus.WAITING)
    stage = models.CharField(max_length=160, blank=True)
    progress = models.FloatField(default=0)
    problem = models.JSONField(null=True)

    class Meta:
        abstract = True
