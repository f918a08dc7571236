"""What waits to be done, asked of the database whenever somebody looks at the metrics."""

from collections.abc import Iterator

from django.db import DatabaseError, InterfaceError, connection
from django.db.models import Count, Min, Q
from procrastinate.contrib.django.models import ProcrastinateEvent, ProcrastinateJob
from prometheus_client.core import GaugeMetricFamily
from prometheus_client.registry import Collector

from fluctus.feeds.models import Feed, FeedState
from fluctus.http import clock
from fluctus.http.database import answers_within
from fluctus.jobs.queues import AT_ONCE
from fluctus.messages.models import Delivery, DeliveryState

LOOKS_WITHIN = 3.0
"""Seconds that each answer of the database may take."""


class Waiting(Collector):
    """Queues, feeds that have stopped, messages that wait; and whether the database answers."""

    def describe(self) -> Iterator[GaugeMetricFamily]:
        """Name nothing beforehand, so that starting asks the database for nothing."""
        return iter(())

    def collect(self) -> Iterator[GaugeMetricFamily]:
        """Ask for all of it."""
        try:
            with answers_within(LOOKS_WITHIN):
                found = list(_found())
        except (DatabaseError, InterfaceError):
            found = []
        finally:
            connection.close()
        yield GaugeMetricFamily(
            "fluctus_database_answers", "Whether the database answers.", float(bool(found))
        )
        yield from found


def _found() -> Iterator[GaugeMetricFamily]:
    depth = GaugeMetricFamily("fluctus_jobs", "Jobs in a queue.", labels=["queue", "status"])
    oldest = GaugeMetricFamily(
        "fluctus_oldest_job_seconds", "How long the oldest job has waited.", labels=["queue"]
    )
    now = clock.now()
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
    for queue in AT_ONCE:
        for status in ("todo", "doing", "failed"):
            depth.add_metric([queue, status], counts.get((queue, status), 0))
        waited = (now - since[queue]).total_seconds() if queue in since else 0.0
        oldest.add_metric([queue], max(0.0, waited))
    yield depth
    yield oldest
    feeds = Feed.objects.aggregate(
        all=Count("pk"), stopped=Count("pk", filter=Q(state=FeedState.STOPPED))
    )
    yield GaugeMetricFamily("fluctus_feeds", "Feeds that are set up.", feeds["all"])
    yield GaugeMetricFamily(
        "fluctus_feeds_stopped", "Feeds that somebody has to decide on.", feeds["stopped"]
    )
    messages = Delivery.objects.filter(state=DeliveryState.WAITING).count()
    yield GaugeMetricFamily("fluctus_messages_waiting", "Messages to be sent.", messages)
