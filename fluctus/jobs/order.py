"""In which order workers take what waits: workspace by workspace, and not all of one first."""

from typing import Any

from django.db.models import QuerySet

from fluctus.jobs.models import UNDER_WAY, Job


def behind(job: Job, of_workspace: QuerySet[Any]) -> int:
    """Return the priority of one more job among those of its workspace.

    The third that a workspace has under way comes after the second of every other one, however
    much sooner it was asked for.
    """
    return -of_workspace.filter(status__in=UNDER_WAY).exclude(pk=job.pk).count()
