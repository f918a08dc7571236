"""What has happened, noted with what made it: findings, shifts, lateness, feeds, people."""

from collections.abc import Callable, Sequence
from datetime import datetime

from django.db.models import CharField, Exists, OuterRef, QuerySet, Value
from django.db.models.functions import Cast, Concat

from fluctus.accounts.models import Workspace
from fluctus.accounts.queries import name_of
from fluctus.core import Rule
from fluctus.core.context import MeetsTarget
from fluctus.core.words import Attention
from fluctus.feeds.models import Feed
from fluctus.findings.models import Finding
from fluctus.findings.queries import WITHOUT_CAUSE
from fluctus.kpis.hooks import Charted
from fluctus.kpis.models import Kpi
from fluctus.messages.models import Happening, Topic
from fluctus.overview.models import KpiSummary

BEYOND = frozenset({Rule.OUTSIDE_LIMITS, Rule.RANGE_OUTSIDE_LIMIT})
MANY = 5
"""More findings of a KPI at once than that are told as one happening, which says how many."""
AT_ONCE = 500
"""Rows that one pass looks at."""


def note_findings(charted: Charted, new: Sequence[Finding], gone: Sequence[Finding]) -> None:
    """Note the new findings of a chart, but those that came with it; take back those gone."""
    kpi = charted.kpi
    if gone:
        Happening.objects.filter(
            workspace=kpi.workspace_id, key__in=[f"finding {row.pk}" for row in gone]
        ).update(gone=True)
    # A chart that has just been made tells its history, and nothing that has happened.
    if not new or kpi.revision <= 1:
        return
    path = f"/charts/{kpi.slug}"
    if len(new) <= MANY:
        told = [
            (
                _topic_of([row]),
                f"finding {row.pk}",
                f"{kpi.name}: {row.title}, {row.label}. {row.text}",
                f"{path}?finding={row.pk}",
            )
            for row in new
        ]
    else:
        key = f"findings {new[0].pk} to {new[-1].pk}"
        told = [(_topic_of(new), key, f"{kpi.name} has {len(new):,} new findings.", path)]
    _note_new(
        [_happening(kpi, topic, key, charted.at, text, where) for topic, key, text, where in told]
    )


def _topic_of(findings: Sequence[Finding]) -> Topic:
    beyond = any(row.rule in BEYOND for row in findings)
    return Topic.BEYOND_LIMITS if beyond else Topic.OTHER_SIGNALS


def follow_charts(charted: Sequence[Charted]) -> None:
    """Note that shifts wait for a decision, or that targets are out of reach, once each.

    What does not hold any more is taken back, and so is that a value is late which has come.
    """
    told_of = {each.kpi.pk: each for each in charted if each.kpi.revision > 1}
    if not told_of:
        return
    summaries = KpiSummary.objects.filter(kpi__in=told_of)
    still = {row.pk: _still(told_of[row.pk], row) for row in summaries}
    noted = Happening.objects.filter(
        kpi__in=told_of, topic__in=[Topic.SHIFT, Topic.REACH, Topic.LATE]
    )
    over: list[int] = []
    back: list[int] = []
    for pk, kpi, key, gone in noted.values_list("pk", "kpi", "key", "gone"):
        holds = any(key == each.key for each in still[kpi])
        if gone == holds:
            (back if holds else over).append(pk)
    if over:
        Happening.objects.filter(pk__in=over).update(gone=True)
    if back:
        Happening.objects.filter(pk__in=back).update(gone=False)
    # That a value is late is told by the clock.
    _note_new([each for rows in still.values() for each in rows if each.topic != Topic.LATE])


def _still(charted: Charted, summary: KpiSummary) -> list[Happening]:
    """Return what holds of a chart now, whether or not it is noted already."""
    kpi, path = charted.kpi, f"/charts/{charted.kpi.slug}"
    segments = len(charted.chart.analysis.segments)
    holds = []
    if summary.attention == Attention.WAITS:
        key = f"shift {kpi.pk} {segments} {summary.what}"[:120]
        text = f"{kpi.name} waits for a decision: {summary.what}."
        holds.append(_happening(kpi, Topic.SHIFT, key, charted.at, text, path))
    if summary.reach == MeetsTarget.NEVER:
        key = f"reach {kpi.pk} {segments} {kpi.target}"
        text = f"{kpi.name} does not reach its target any more."
        holds.append(_happening(kpi, Topic.REACH, key, charted.at, text, path))
    if summary.late_from is not None:
        holds.append(_late(kpi, summary.late_from))
    return holds


def _late(kpi: Kpi, late_from: datetime) -> Happening:
    text = f"{kpi.name}: the next value is late."
    # Where somebody sees to it that it is typed, to where they type it.
    path = f"/charts/{kpi.slug}" if kpi.filled_by_id is None else "/fill-in"
    key = f"late {kpi.pk} {late_from.isoformat()}"
    return _happening(kpi, Topic.LATE, key, late_from, text, path)


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
    count = _all_of(_note_lateness, now) + _all_of(_note_what_is_theirs, now)
    before = Happening.objects.filter(handed_on=False, at__lte=now).exclude(workspace__in=looked_at)
    before.filter(topic__in=[Topic.LATE, Topic.YOURS, Topic.DUE]).update(handed_on=True)
    return count


def _all_of(note: Callable[[datetime], int], now: datetime) -> int:
    count = 0
    while new := note(now):
        count += new
    return count


def _note_lateness(now: datetime) -> int:
    noted = Happening.objects.filter(kpi=OuterRef("pk"), topic=Topic.LATE, at=OuterRef("late_from"))
    late = KpiSummary.objects.filter(~Exists(noted), late_from__lte=now)
    return _note_new(
        [
            _late(summary.kpi, summary.late_from)
            for summary in late.select_related("kpi__workspace").order_by("late_from")[:AT_ONCE]
            if summary.late_from is not None
        ]
    )


def _note_what_is_theirs(now: datetime) -> int:
    """Note what is somebody's to look into, and what of it is due."""
    theirs = Finding.objects.filter(WITHOUT_CAUSE, person__isnull=False)
    told = [
        _happening(
            row.kpi,
            Topic.YOURS,
            f"assigned {row.pk} {row.person_id}",
            now,
            f"{_said(row)} is yours to look into.",
            _path_to(row),
            row,
        )
        for row in _not_noted(theirs, "assigned", Cast("person", CharField()))
    ]
    due = theirs.filter(due__lte=now.date())
    told += [
        _happening(
            row.kpi,
            Topic.DUE,
            f"due {row.pk} {row.due}",
            now,
            f"{_said(row)} is due, and with {name_of(row.person)}.",
            _path_to(row),
            row,
        )
        for row in _not_noted(due, "due", Cast("due", CharField()))
    ]
    return _note_new(told)


def _not_noted(findings: QuerySet[Finding], what: str, which: Cast) -> QuerySet[Finding]:
    """Return the oldest of some findings of which no such happening is noted."""
    key = Concat(Value(f"{what} "), Cast("pk", CharField()), Value(" "), which)
    noted = Happening.objects.filter(workspace=OuterRef("kpi__workspace"), key=OuterRef("key"))
    rows = findings.annotate(key=key).filter(~Exists(noted)).order_by("pk")
    return rows.select_related("kpi__workspace", "person")[:AT_ONCE]


def _said(row: Finding) -> str:
    return f"{row.kpi.name}, {row.title}, {row.label}"


def _path_to(row: Finding) -> str:
    return f"/charts/{row.kpi.slug}?finding={row.pk}"


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
