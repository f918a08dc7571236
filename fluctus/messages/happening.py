"""What has happened, noted with what made it: findings, shifts, lateness, feeds, people."""

from collections.abc import Sequence
from datetime import datetime

from django.db.models import Exists, OuterRef

from fluctus.accounts.models import Workspace
from fluctus.accounts.queries import name_of
from fluctus.core import Rule
from fluctus.core.context import MeetsTarget
from fluctus.core.words import Attention
from fluctus.feeds.models import Feed
from fluctus.findings.models import Finding
from fluctus.findings.queries import WITHOUT_CAUSE
from fluctus.http import clock
from fluctus.kpis.chart.analysis.chart import Chart
from fluctus.kpis.models import Kpi
from fluctus.messages.models import Happening, Topic
from fluctus.overview.models import KpiSummary

BEYOND = frozenset({Rule.OUTSIDE_LIMITS, Rule.RANGE_OUTSIDE_LIMIT})
MANY = 5
"""More findings of a KPI at once than that are told as one happening, which says how many."""
AT_ONCE = 500
"""Rows that one pass looks at."""


def note_findings(kpi: Kpi, new: Sequence[Finding], gone: Sequence[Finding]) -> None:
    """Note the new findings of a chart, but those that came with it; take back those gone."""
    if gone:
        Happening.objects.filter(
            workspace=kpi.workspace_id, key__in=[f"finding {row.pk}" for row in gone]
        ).update(gone=True)
    # A chart that has just been made tells its history, and nothing that has happened.
    if not new or kpi.revision <= 1:
        return
    now, path = clock.now(), f"/charts/{kpi.slug}"
    if len(new) > MANY:
        beyond = any(row.rule in BEYOND for row in new)
        _note(
            kpi,
            Topic.BEYOND_LIMITS if beyond else Topic.OTHER_SIGNALS,
            f"findings {new[0].pk} to {new[-1].pk}",
            now,
            f"{kpi.name} has {len(new):,} new findings.",
            path,
        )
        return
    for row in new:
        topic = Topic.BEYOND_LIMITS if row.rule in BEYOND else Topic.OTHER_SIGNALS
        text = f"{kpi.name}: {row.title}, {row.label}. {row.text}"
        _note(kpi, topic, f"finding {row.pk}", now, text, f"{path}?finding={row.pk}")


def follow_chart(kpi: Kpi, chart: Chart, why: str) -> None:
    """Note that a shift waits for a decision, or that a target is out of reach, once each.

    What does not hold any more is taken back, and so is that a value is late which has come.
    """
    if kpi.revision <= 1:
        return
    summary = KpiSummary.objects.get(kpi=kpi)
    path, now = f"/charts/{kpi.slug}", clock.now()
    still: dict[Topic, str] = {}
    if summary.attention == Attention.WAITS:
        still[Topic.SHIFT] = f"shift {kpi.pk} {len(chart.analysis.segments)} {summary.what}"[:120]
        text = f"{kpi.name} waits for a decision: {summary.what}."
        _note(kpi, Topic.SHIFT, still[Topic.SHIFT], now, text, path)
    if summary.reach == MeetsTarget.NEVER:
        still[Topic.REACH] = f"reach {kpi.pk} {len(chart.analysis.segments)} {kpi.target}"
        text = f"{kpi.name} does not reach its target any more."
        _note(kpi, Topic.REACH, still[Topic.REACH], now, text, path)
    if summary.late_from is not None:
        still[Topic.LATE] = _lateness(kpi, summary.late_from)
    noted = Happening.objects.filter(workspace=kpi.workspace_id, kpi=kpi)
    noted = noted.filter(topic__in=[Topic.SHIFT, Topic.REACH, Topic.LATE])
    noted.filter(gone=False).exclude(key__in=still.values()).update(gone=True)
    noted.filter(gone=True, key__in=still.values()).update(gone=False)


def _lateness(kpi: Kpi, late_from: datetime) -> str:
    return f"late {kpi.pk} {late_from.isoformat()}"


def note_feed(feed: Feed, text: str, now: datetime) -> None:
    """Note what the owner of a feed is to know, and whoever wants to."""
    Happening.objects.get_or_create(
        workspace=feed.workspace,
        key=f"feed {feed.pk} {now.isoformat()}",
        defaults={
            "topic": Topic.FEED,
            "at": now,
            "text": text[:500],
            "path": f"/feeds/{feed.pk}",
        },
    )


def note_time(now: datetime) -> int:
    """Note what time alone has made: late, due, or somebody's; returns how much is new."""
    # What was there before anybody could be told is no news.
    told = Exists(Happening.objects.filter(workspace=OuterRef("pk")))
    looked_at = set(Workspace.objects.filter(told).values_list("pk", flat=True))
    count = _note_lateness(now) + _note_what_is_theirs(now)
    before = Happening.objects.filter(handed_on=False, at__lte=now).exclude(workspace__in=looked_at)
    before.filter(topic__in=[Topic.LATE, Topic.YOURS, Topic.DUE]).update(handed_on=True)
    return count


def _note_lateness(now: datetime) -> int:
    late = KpiSummary.objects.filter(late_from__lte=now).select_related("kpi__workspace")
    return _note_new(
        [
            _happening(
                summary.kpi,
                Topic.LATE,
                _lateness(summary.kpi, summary.late_from),
                summary.late_from,
                f"{summary.kpi.name}: the next value is late.",
                f"/charts/{summary.kpi.slug}",
            )
            for summary in late[: AT_ONCE * 20]
            if summary.late_from is not None
        ]
    )


def _note_what_is_theirs(now: datetime) -> int:
    happenings = []
    theirs = Finding.objects.filter(WITHOUT_CAUSE, person__isnull=False)
    for row in theirs.select_related("kpi__workspace", "person").order_by("-pk")[:AT_ONCE]:
        path = f"/charts/{row.kpi.slug}?finding={row.pk}"
        said = f"{row.kpi.name}, {row.title}, {row.label}"
        key = f"assigned {row.pk} {row.person_id}"
        text = f"{said} is yours to look into."
        happenings.append(_happening(row.kpi, Topic.YOURS, key, now, text, path, row))
        if row.due is not None and row.due <= now.date():
            key = f"due {row.pk} {row.due.isoformat()}"
            text = f"{said} is due, and with {name_of(row.person)}."
            happenings.append(_happening(row.kpi, Topic.DUE, key, now, text, path, row))
    return _note_new(happenings)


def _note(kpi: Kpi, topic: Topic, key: str, at: datetime, text: str, path: str) -> None:
    """Note something that has happened, where it is not noted yet."""
    _note_new([_happening(kpi, topic, key, at, text, path)])


def _happening(
    kpi: Kpi,
    topic: Topic,
    key: str,
    at: datetime,
    text: str,
    path: str,
    finding: Finding | None = None,
) -> Happening:
    return Happening(
        workspace=kpi.workspace,
        topic=topic,
        key=key,
        at=at,
        kpi=kpi,
        person=finding.person if finding else None,
        text=text[:500],
        path=path[:200],
    )


def _note_new(happenings: Sequence[Happening]) -> int:
    """Note what is not noted yet of some happenings; returns how many are new.

    Looked for at once: most of what time has made has been noted long ago.
    """
    there = set(
        Happening.objects.filter(
            workspace__in={row.workspace_id for row in happenings},
            key__in={row.key for row in happenings},
        ).values_list("workspace", "key")
    )
    new = [row for row in happenings if (row.workspace_id, row.key) not in there]
    Happening.objects.bulk_create(new, ignore_conflicts=True)
    return len(new)
