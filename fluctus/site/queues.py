"""How many jobs wait in each queue, and for how long."""

from dataclasses import dataclass
from datetime import datetime

from django.db.models import Count, Min
from procrastinate.contrib.django.models import ProcrastinateEvent, ProcrastinateJob

from fluctus.http.shapes import Shape
from fluctus.jobs.queues import AT_ONCE


@dataclass(frozen=True, slots=True)
class QueueState(Shape):
    """A queue: its jobs by how far they are, and the seconds that the oldest has waited."""

    queue: str
    todo: int
    doing: int
    failed: int
    oldest_seconds: float


def queue_states(now: datetime) -> list[QueueState]:
    """Ask for all queues."""
    jobs = ProcrastinateJob.objects.filter(status__in=["todo", "doing", "failed"])
    counts = {
        (row["queue_name"], row["status"]): row["count"]
        for row in jobs.values("queue_name", "status").annotate(count=Count("pk"))
    }
    # Put there, and not left for later.
    waiting = ProcrastinateEvent.objects.filter(
        type="deferred", job__status="todo", job__scheduled_at=None
    )
    since = {
        row["job__queue_name"]: row["at"]
        for row in waiting.values("job__queue_name").annotate(at=Min("at"))
    }
    return [
        QueueState(
            queue=queue,
            todo=counts.get((queue, "todo"), 0),
            doing=counts.get((queue, "doing"), 0),
            failed=counts.get((queue, "failed"), 0),
            oldest_seconds=max(0.0, (now - since[queue]).total_seconds()) if queue in since else 0,
        )
        for queue in AT_ONCE
    ]
