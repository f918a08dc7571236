"""What waits to be done, asked of the database whenever somebody looks at the metrics."""

from collections.abc import Iterator

from django.db import DatabaseError, InterfaceError, connection
from django.db.models import Count, Q
from prometheus_client.core import GaugeMetricFamily
from prometheus_client.registry import Collector

from fluctus.feeds.models import Feed, FeedState
from fluctus.http import clock
from fluctus.http.database import answers_within
from fluctus.messages.models import Delivery, DeliveryState
from fluctus.site.queues import queue_states

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
    for state in queue_states(clock.now()):
        for status in ("todo", "doing", "failed"):
            depth.add_metric([state.queue, status], getattr(state, status))
        oldest.add_metric([state.queue], state.oldest_seconds)
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
