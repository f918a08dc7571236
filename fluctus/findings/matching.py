"""Findings follow the chart: after every write, what happens now meets what is on record.

A finding is one happening: signals that say the same thing. It is the same as before where
its points overlap with those on record, best pairs first. One that grows, shrinks or vanishes
says so and keeps its record; one that has become part of another hands its record over.
"""

from collections.abc import Sequence
from dataclasses import asdict, dataclass, field
from datetime import UTC, datetime

import numpy as np
from django.db.models import Count

from fluctus.core import Rule
from fluctus.core.judgment import Happening
from fluctus.findings.hooks import listeners
from fluctus.findings.joining import join_into
from fluctus.findings.models import Entry, Finding, FindingPresence, FindingState
from fluctus.findings.queries import WITHOUT_CAUSE
from fluctus.kpis.calendar import Calendar
from fluctus.kpis.chart.analysis.chart import Chart
from fluctus.kpis.chart.answers.flagged import explained
from fluctus.kpis.hooks import Charted
from fluctus.kpis.models import Kpi

MOST = 500
"""Newest happenings of a chart that are findings: nobody works through ten thousand of them."""
KEPT_FIELDS = [
    "rule",
    "side",
    "first",
    "last",
    "points",
    "segment_start",
    "in_last_segment",
    "favorable",
    "title",
    "text",
    "label",
    "evidence",
    "state",
    "state_before",
    "presence",
    "cause",
    "action",
    "person",
    "due",
    "version",
]
DECIDED = {
    FindingState.SHIFT: "It became a shift",
    FindingState.ASIDE: "Its points were set aside",
}


@dataclass(slots=True)
class Changes:
    """What a write made of the findings of a chart."""

    new: list[Finding] = field(default_factory=list)
    touched: dict[int, Finding] = field(default_factory=dict)
    entries: list[Entry] = field(default_factory=list)

    def touch(self, finding: Finding) -> None:
        """Note that a finding is to be saved."""
        self.touched[finding.pk] = finding

    def say(self, finding: Finding, text: str) -> None:
        """Note that something happened to a finding."""
        self.touch(finding)
        self.entries.append(Entry(finding=finding, text=text[:2000]))


def follow_charts(charted: Sequence[Charted]) -> None:
    """Bring the findings of locked KPIs up to date with their charts."""
    on_record: dict[int, list[Finding]] = {each.kpi.pk: [] for each in charted}
    present = Finding.objects.filter(kpi__in=on_record, presence=FindingPresence.PRESENT)
    for finding in present.order_by("first", "pk"):
        on_record[finding.kpi_id].append(finding)
    changes = [_brought_up_to_date(each, on_record[each.kpi.pk]) for each in charted]
    Finding.objects.bulk_create([row for each in changes for row in each.new], batch_size=500)
    touched = [row for each in changes for row in each.touched.values()]
    for finding in touched:
        # Whoever has it open sees that it is another one now.
        finding.version += 1
    # All are there and locked with their KPI; updating them one condition each is ten times slower.
    Finding.objects.bulk_create(
        touched,
        batch_size=500,
        update_conflicts=True,
        unique_fields=["id"],
        update_fields=KEPT_FIELDS,
    )
    Entry.objects.bulk_create([row for each in changes for row in each.entries], batch_size=500)
    count_unexplained([each.kpi for each in charted])
    for each, changed in zip(charted, changes, strict=True):
        gone = [row for row in changed.touched.values() if row.presence == FindingPresence.GONE]
        for listener in listeners:
            listener(each, changed.new, gone)


def _brought_up_to_date(charted: Charted, findings: Sequence[Finding]) -> Changes:
    """Meet the findings that a chart had with its happenings; who calls saves them.

    What had gone is looked for only where something is there that no finding is of.
    """
    kpi, chart, why = charted.kpi, charted.chart, charted.why
    every = chart.happenings
    happenings = every.newest(MOST, every.raised_by(chart.raising))
    changes = Changes()
    pairs, fresh = _match(chart, happenings, findings)
    if fresh:
        again, fresh = _match(chart, fresh, _gone_within(charted, fresh))
        pairs += again
    for finding, happening in pairs:
        _meet(finding, happening, chart, why, changes)
    met = {finding.pk for finding, _ in pairs}
    # Older ones than the oldest happening looked at may well be there still.
    since = _instant(chart, happenings[0].points[0]) if len(happenings) == MOST else None
    for finding in findings:
        if finding.pk in met or (since is not None and finding.last < since):
            continue
        whole = _part_of(finding, pairs, chart)
        if whole is None:
            _lose(finding, chart, why, changes)
        else:
            join_into(whole, finding, why)
            changes.touch(whole)
    changes.new = [
        _describe(Finding(kpi=kpi, knowable_at=charted.at), happening, chart) for happening in fresh
    ]
    return changes


def _gone_within(charted: Charted, happenings: Sequence[Happening]) -> list[Finding]:
    """Return the findings that had gone from where some happenings are."""
    points = [
        point for happening in happenings for point in (happening.points[0], happening.points[-1])
    ]
    first, last = (_instant(charted.chart, at) for at in (min(points), max(points)))
    gone = Finding.objects.filter(kpi=charted.kpi, presence=FindingPresence.GONE)
    return list(gone.filter(first__lte=last, last__gte=first).order_by("first", "pk"))


def move_findings(kpi: Kpi, old: Calendar, new: Calendar) -> None:
    """Let the findings of a locked KPI begin and end with their days in another time zone."""
    findings = list(Finding.objects.filter(kpi=kpi))
    for name in ("first", "last", "segment_start"):
        have = [finding for finding in findings if getattr(finding, name) is not None]
        instants = np.array([getattr(finding, name).timestamp() for finding in have])
        for finding, instant in zip(have, old.moved_to(new, instants), strict=True):
            setattr(finding, name, datetime.fromtimestamp(float(instant), UTC))
    for finding in findings:
        finding.version += 1
    fields = ["first", "last", "segment_start", "version"]
    Finding.objects.bulk_update(findings, fields, batch_size=500)


def count_unexplained(kpis: Sequence[Kpi]) -> None:
    """Keep with KPIs how many findings of their last segment there are, and without a cause."""
    of_last = Finding.objects.filter(
        kpi__in=kpis, in_last_segment=True, presence=FindingPresence.PRESENT
    )
    counted = of_last.values("kpi").annotate(
        logged=Count("pk"), unexplained=Count("pk", filter=WITHOUT_CAUSE)
    )
    counts = {row["kpi"]: (row["logged"], row["unexplained"]) for row in counted}
    for kpi in kpis:
        logged, unexplained = counts.get(kpi.pk, (0, 0))
        if (kpi.logged, kpi.unexplained) != (logged, unexplained):
            kpi.logged, kpi.unexplained = logged, unexplained
            kpi.save(update_fields=["logged", "unexplained"])


def _match(
    chart: Chart, happenings: Sequence[Happening], findings: Sequence[Finding]
) -> tuple[list[tuple[Finding, Happening]], list[Happening]]:
    """Pair findings with happenings.

    Those of the same segment, and then the pairs that share most points come
    first, so that a finding whose points are split goes on with the larger part.
    """
    firsts = np.array([finding.first.timestamp() for finding in findings])
    lasts = np.array([finding.last.timestamp() for finding in findings])
    possible = []
    for number, happening in enumerate(happenings):
        instants = chart.observations.instants[list(happening.points)]
        segment = _segment_start(happening, chart)
        for at in np.flatnonzero((firsts <= instants[-1]) & (lasts >= instants[0])).tolist():
            shared = int(((instants >= firsts[at]) & (instants <= lasts[at])).sum())
            if shared:
                finding = findings[at]
                order = (
                    finding.segment_start != segment,
                    -shared,
                    finding.side != int(happening.lead.side),
                    number,
                    finding.pk,
                )
                possible.append((order, number, finding))
    pairs: dict[int, Finding] = {}
    matched: set[int] = set()
    for _, number, finding in sorted(possible, key=lambda pair: pair[0]):
        if number not in pairs and finding.pk not in matched:
            matched.add(finding.pk)
            pairs[number] = finding
    return (
        [(finding, happenings[number]) for number, finding in sorted(pairs.items())],
        [happening for number, happening in enumerate(happenings) if number not in pairs],
    )


def _part_of(
    finding: Finding, pairs: Sequence[tuple[Finding, Happening]], chart: Chart
) -> Finding | None:
    """Return the finding that the points of another belong to by now; None where they do not."""
    data = chart.observations
    start, stop = np.searchsorted(
        data.instants, [finding.first.timestamp(), finding.last.timestamp() + 1]
    )
    return next(
        (
            whole
            for whole, happening in pairs
            if whole.side == finding.side or finding.rule == Rule.RANGE_OUTSIDE_LIMIT
            if any(start <= point < stop for point in happening.points)
        ),
        None,
    )


def _meet(finding: Finding, happening: Happening, chart: Chart, why: str, changes: Changes) -> None:
    was = (finding.first, finding.last, finding.points)
    said = (finding.text, finding.in_last_segment, finding.evidence)
    _describe(finding, happening, chart)
    back = finding.presence == FindingPresence.GONE
    finding.presence = FindingPresence.PRESENT
    if back:
        if finding.state_before:
            finding.state, finding.state_before = finding.state_before, ""
        changes.say(finding, f"Its points signal again ({why})")
    elif (finding.first, finding.last, finding.points) != was:
        more = (
            "grew" if finding.points > was[2] else "shrank" if finding.points < was[2] else "moved"
        )
        from_to = (
            f"{chart.words.label(happening.points[0])} to {chart.words.label(happening.points[-1])}"
        )
        changes.say(
            finding, f"It {more} from {was[2]} to {finding.points} points, {from_to} ({why})"
        )
    elif (finding.text, finding.in_last_segment, finding.evidence) != said:
        # The same points, judged by other limits: the record says what it is now.
        changes.touch(finding)


def _lose(finding: Finding, chart: Chart, why: str, changes: Changes) -> None:
    finding.presence = FindingPresence.GONE
    became = _became(finding, chart)
    if became is not None and finding.state != became:
        finding.state_before, finding.state = finding.state, became
    reason = DECIDED[became] if became is not None else "Its points signal no more"
    changes.say(finding, f"{reason} ({why})")


def _became(finding: Finding, chart: Chart) -> FindingState | None:
    """Describe what the data made of a finding that has gone: a shift, set aside, or nothing."""
    data = chart.observations
    start, stop = np.searchsorted(
        data.instants, [finding.first.timestamp(), finding.last.timestamp() + 1]
    )
    if data.no_part[start:stop].any():
        return FindingState.ASIDE
    if any(start <= segment.start < stop and segment.start for segment in chart.analysis.segments):
        return FindingState.SHIFT
    return None


def _describe(finding: Finding, happening: Happening, chart: Chart) -> Finding:
    lead = happening.lead
    explanation = explained(lead, chart)
    finding.rule, finding.side = lead.rule.value, int(lead.side)
    finding.first, finding.last = (_instant(chart, happening.points[end]) for end in (0, -1))
    finding.points = len(happening.points)
    finding.segment_start = _segment_start(happening, chart)
    finding.in_last_segment = happening.segment == len(chart.analysis.segments) - 1
    finding.favorable = lead.favorable
    finding.title, finding.text = explanation.title[:120], explanation.text[:400]
    finding.label = chart.words.label(lead.points[0])
    finding.evidence = [
        {"rule": signal.rule.value, **asdict(explained(signal, chart))}
        for signal in happening.signals[1:]
    ]
    return finding


def _segment_start(happening: Happening, chart: Chart) -> datetime | None:
    """Return when the segment of a happening begins; None for the first one."""
    start = chart.analysis.segments[happening.segment].start
    return _instant(chart, start) if happening.segment else None


def _instant(chart: Chart, position: int) -> datetime:
    return datetime.fromtimestamp(float(chart.observations.instants[position]), UTC)
