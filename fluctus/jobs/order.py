"""In which order workers take what waits: workspace by workspace, and not all of one first."""

from typing import Any

from django.db.models import QuerySet

from fluctus.jobs.models import UNDER_WAY


def behind(jobs: QuerySet[Any]) -> int:
    """Return the priority of one more job beside those of its workspace.

    The third that a workspace has under way comes after the second of every other one, however
    much sooner it was asked for.
    """
    return -jobs.filter(status__in=UNDER_WAY).count()
