"""Reads of feeds, all within the workspace of who asks."""

from collections.abc import Collection

from django.db.models import Count, OuterRef, Prefetch, QuerySet, Subquery

from fluctus.accounts.models import Workspace
from fluctus.feeds.models import Feed, FeedKpi, FeedState, Fetch
from fluctus.feeds.running import KEPT_FETCHES
from fluctus.http.refusals import NotThereError
from fluctus.kpis.models import Observation


def feeds_of(workspace: Workspace) -> QuerySet[Feed]:
    """Return the feeds of a workspace by name, each with its KPIs and its last fetch."""
    newest = Observation.objects.filter(kpi=OuterRef("kpi")).order_by("-period").values("period")
    kpis = (
        FeedKpi.objects.select_related("kpi__summary")
        .annotate(newest=Subquery(newest[:1]))
        .order_by("kpi__name")
    )
    latest = Fetch.objects.filter(feed=OuterRef("feed")).order_by("-id").values("pk")[:1]
    last = Fetch.objects.filter(pk=Subquery(latest))
    return (
        Feed.objects.filter(workspace=workspace)
        .exclude(state=FeedState.DRAFT)
        .select_related("person")
        .prefetch_related(Prefetch("kpis", kpis), Prefetch("fetches", last))
        .order_by("name", "pk")
    )


def feeds_in(workspaces: Collection[int]) -> dict[int, int]:
    """Count the feeds of workspaces."""
    rows = Feed.objects.filter(workspace__in=workspaces).exclude(state=FeedState.DRAFT)
    return dict(rows.values("workspace").annotate(all=Count("pk")).values_list("workspace", "all"))


def feed_with(workspace: Workspace, number: int) -> Feed:
    """Return one of them; raises NotThereError for any other."""
    row = feeds_of(workspace).filter(pk=number).first()
    if row is None:
        raise NotThereError("feed")
    return row


def fetches_of(feed: Feed) -> list[Fetch]:
    """Return the last fetches of a feed, newest first."""
    return list(Fetch.objects.filter(feed=feed).order_by("-id")[:KEPT_FETCHES])
