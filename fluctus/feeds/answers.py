"""Feeds as the API answers with them, said so that one can read them aloud."""

from datetime import datetime, timedelta
from zoneinfo import ZoneInfo

from fluctus.accounts.queries import name_of
from fluctus.feeds import shapes
from fluctus.feeds.models import Feed, FeedKpi, FeedState, Fetch, FetchOutcome
from fluctus.feeds.sources.registry import SOURCES
from fluctus.http.refusals import Issue
from fluctus.jobs.models import UNDER_WAY, JobStatus
from fluctus.jobs.schedule import Schedule, in_words
from fluctus.kpis.calendar import Grain, label
from fluctus.kpis.models import Kpi


def feed_answer(feed: Feed, now: datetime) -> shapes.FeedRow:
    """Return a feed as the list shows it; its KPIs and its last fetch come prefetched."""
    rows = list(feed.kpis.all())
    last = next(iter(feed.fetches.all()), None)
    return shapes.FeedRow(
        id=feed.pk,
        name=feed.name,
        state=FeedState(feed.state),
        says=sentence(feed, len(rows), last, now),
        owner=name_of(feed.person),
        source=feed.source,
        revision=feed.revision,
        next_at=feed.next_at,
        kpis=[_kpi(row, now) for row in rows],
        differs=list(feed.differs),
        waits=feed.held_id is not None,
        last=None if last is None else fetch_answer(last),
        fetching=last is not None and last.status in UNDER_WAY,
    )


def _kpi(row: FeedKpi, now: datetime) -> shapes.FedKpi:
    kpi = row.kpi
    newest = getattr(row, "newest", None)
    zone = ZoneInfo(kpi.time_zone)
    return shapes.FedKpi(
        slug=kpi.slug,
        name=kpi.name,
        newest=None if newest is None else label(newest, Grain(kpi.grain), zone),
        late=_is_late(kpi, now),
    )


def _is_late(kpi: Kpi, now: datetime) -> bool:
    summary = getattr(kpi, "summary", None)
    return summary is not None and summary.late_from is not None and summary.late_from < now


def sentence(feed: Feed, kpis: int, last: Fetch | None, now: datetime) -> str:
    """Say what a feed does: ``Every weekday at 06:10 from the booking office, 3 KPIs …``."""
    where = SOURCES[feed.source].says(feed.options)
    when = in_words(Schedule.from_json(feed.schedule)) if feed.schedule else "Not set up"
    parts = [f"{when} from {where}", f"{kpis:,} KPI{'' if kpis == 1 else 's'}"]
    if last is not None:
        zone = ZoneInfo(feed.time_zone)
        parts.append(f"last {day_said(last.began, now, zone)}, {outcome_said(last)}")
    return ", ".join(parts)


def day_said(moment: datetime, now: datetime, zone: ZoneInfo) -> str:
    """Say when something was by the clock of a zone: ``this morning``, ``on 3 May at 06:10``."""
    then, today = moment.astimezone(zone), now.astimezone(zone)
    at = f"{then:%H:%M}"
    if then.date() == today.date():
        return f"today at {at}"
    if then.date() == today.date() - timedelta(days=1):
        return f"yesterday at {at}"
    year = "" if then.year == today.year else f" {then.year}"
    return f"on {then.day} {then:%b}{year} at {at}"


def outcome_said(fetch: Fetch) -> str:
    """Say what came of a fetch."""
    counts = fetch.counts
    if fetch.outcome == FetchOutcome.BROUGHT:
        new = counts.get("new", 0)
        told = [f"{new:,} new value{'' if new == 1 else 's'}"] if new else []
        told += [
            f"{counts[name]:,} {words}"
            for name, words in (("changed", "changed"), ("typed", "kept as typed by hand"))
            if counts.get(name)
        ]
        return ", ".join(told) or "nothing new"
    return {
        FetchOutcome.SAME: "nothing new",
        FetchOutcome.STOPPED: "did not fit",
        FetchOutcome.FAILED: "failed",
        FetchOutcome.LEFT_OUT: "left out",
        FetchOutcome.UNDER_WAY: "fetching now",
    }[FetchOutcome(fetch.outcome)]


def fetch_answer(fetch: Fetch) -> shapes.FetchRow:
    """Return a fetch as the list of them shows it."""
    ended = fetch.ended
    issues = [Issue(**issue) for issue in (fetch.problem or {}).get("issues", [])]
    return shapes.FetchRow(
        id=fetch.pk,
        began=fetch.began,
        seconds=None if ended is None else round((ended - fetch.began).total_seconds(), 1),
        by_hand=fetch.by_hand,
        status=JobStatus(fetch.status),
        stage=fetch.stage,
        progress=fetch.progress,
        outcome=FetchOutcome(fetch.outcome),
        says=outcome_said(fetch),
        size=fetch.size,
        rows=fetch.rows,
        touched=fetch.counts.get("new", 0) + fetch.counts.get("changed", 0),
        remarks=list(fetch.remarks),
        issues=issues,
        brought=fetch.brought_id,
    )
