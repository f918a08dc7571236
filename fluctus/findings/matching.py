"""Findings follow the chart: after every write, what is signalled now meets what is on record.

A finding is the same as a signal of its rule and side whose points overlap
with its own. One that grows, shrinks or vanishes says so and keeps its record.
"""

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import UTC, datetime

import numpy as np

from fluctus.core import Signal
from fluctus.core.words.explanation import explain
from fluctus.findings.models import Entry, Finding, FindingStanding, FindingState
from fluctus.kpis.calendar import Calendar
from fluctus.kpis.chart.analysis.chart import Chart
from fluctus.kpis.models import Kpi

MOST = 500
"""Newest signals of a chart that are findings: nobody works through ten thousand of them."""
KEPT_FIELDS = [
    "first", "last", "points", "in_last_segment", "favorable", "title", "text", "label",
    "state", "state_before", "standing",
]  # fmt: skip
DECIDED = {
    FindingState.SHIFT: "It became a shift",
    FindingState.ASIDE: "Its points were set aside",
}


@dataclass(slots=True)
class Changes:
    """What a write made of the findings of a chart."""

    touched: list[Finding]
    entries: list[Entry]

    def say(self, finding: Finding, text: str) -> None:
        """Note that something happened to a finding."""
        self.touched.append(finding)
        self.entries.append(Entry(finding=finding, text=text[:2000]))


def follow_chart(kpi: Kpi, chart: Chart, why: str) -> None:
    """Bring the findings of a locked KPI up to date with its chart."""
    signals = chart.analysis.signals[-MOST:]
    findings = list(Finding.objects.filter(kpi=kpi).order_by("first", "pk"))
    changes = Changes([], [])
    pairs, fresh = _match(chart, signals, findings)
    for finding, signal in pairs:
        _meet(finding, signal, chart, why, changes)
    met = {finding.pk for finding, _ in pairs}
    # Older ones than the oldest signal looked at may well be there still.
    since = _instant(chart, signals[0].points[0]) if len(signals) == MOST else None
    for finding in findings:
        present = finding.standing == FindingStanding.PRESENT
        if finding.pk not in met and present and (since is None or finding.last >= since):
            _lose(finding, chart, why, changes)
    new = [_describe(Finding(kpi=kpi), signal, chart) for signal in fresh]
    Finding.objects.bulk_create(new, batch_size=500)
    # All are there and locked with their KPI; updating them one condition each is ten times slower.
    Finding.objects.bulk_create(
        changes.touched, batch_size=500,
        update_conflicts=True, unique_fields=["id"], update_fields=KEPT_FIELDS,
    )  # fmt: skip
    Entry.objects.bulk_create(changes.entries, batch_size=500)
    count_unexplained(kpi)


def move_findings(kpi: Kpi, old: Calendar, new: Calendar) -> None:
    """Let the findings of a locked KPI begin and end with their days in another time zone."""
    findings = list(Finding.objects.filter(kpi=kpi))
    for field in ("first", "last"):
        instants = np.array([getattr(finding, field).timestamp() for finding in findings])
        for finding, instant in zip(findings, old.moved_to(new, instants), strict=True):
            setattr(finding, field, datetime.fromtimestamp(float(instant), UTC))
    Finding.objects.bulk_update(findings, ["first", "last"], batch_size=500)


def count_unexplained(kpi: Kpi) -> None:
    """Keep with a KPI how many findings of its last segment have no cause."""
    kpi.unexplained = Finding.objects.filter(
        kpi=kpi, standing=FindingStanding.PRESENT, in_last_segment=True,
        state__in=(FindingState.OPEN, FindingState.LOOKING),
    ).count()  # fmt: skip
    kpi.save(update_fields=["unexplained"])


def _match(
    chart: Chart, signals: Sequence[Signal], findings: Sequence[Finding]
) -> tuple[list[tuple[Finding, Signal]], list[Signal]]:
    """Pair findings with signals: those on the chart before those that had gone.

    Among these, the pairs that share most points come first, so that a finding
    whose points are split goes on with the larger part.
    """
    by_kind: dict[tuple[str, int], list[Finding]] = {}
    for finding in findings:
        by_kind.setdefault((finding.rule, finding.side), []).append(finding)
    possible = []
    for number, signal in enumerate(signals):
        instants = chart.observations.instants[list(signal.points)]
        for finding in by_kind.get((signal.rule.value, int(signal.side)), ()):
            first, last = finding.first.timestamp(), finding.last.timestamp()
            shared = int(((instants >= first) & (instants <= last)).sum())
            if shared:
                gone = finding.standing == FindingStanding.GONE
                possible.append((gone, -shared, number, finding.pk, finding))
    pairs: dict[int, Finding] = {}
    matched: set[int] = set()
    for _, _, number, pk, finding in sorted(possible, key=lambda pair: pair[:4]):
        if number not in pairs and pk not in matched:
            matched.add(pk)
            pairs[number] = finding
    return (
        [(finding, signals[number]) for number, finding in sorted(pairs.items())],
        [signal for number, signal in enumerate(signals) if number not in pairs],
    )


def _meet(finding: Finding, signal: Signal, chart: Chart, why: str, changes: Changes) -> None:
    was = (finding.first, finding.last, finding.points)
    text, last_segment = finding.text, finding.in_last_segment
    _describe(finding, signal, chart)
    back = finding.standing == FindingStanding.GONE
    finding.standing = FindingStanding.PRESENT
    if back:
        if finding.state_before:
            finding.state, finding.state_before = finding.state_before, ""
        changes.say(finding, f"Its points signal again ({why})")
    elif (finding.first, finding.last, finding.points) != was:
        more = (
            "grew" if finding.points > was[2] else "shrank" if finding.points < was[2] else "moved"
        )
        from_to = f"{chart.words.label(signal.points[0])} to {chart.words.label(signal.points[-1])}"
        changes.say(
            finding, f"It {more} from {was[2]} to {finding.points} points, {from_to} ({why})"
        )
    elif (finding.text, finding.in_last_segment) != (text, last_segment):
        # The same points, judged by other limits: the record says what it is now.
        changes.touched.append(finding)


def _lose(finding: Finding, chart: Chart, why: str, changes: Changes) -> None:
    finding.standing = FindingStanding.GONE
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


def _describe(finding: Finding, signal: Signal, chart: Chart) -> Finding:
    explanation = explain(signal, chart.words)
    finding.rule, finding.side = signal.rule.value, int(signal.side)
    finding.first, finding.last = (_instant(chart, signal.points[end]) for end in (0, -1))
    finding.points = len(signal.points)
    finding.in_last_segment = signal.segment == len(chart.analysis.segments) - 1
    finding.favorable = signal.favorable
    finding.title, finding.text = explanation.title[:120], explanation.text[:400]
    finding.label = chart.words.label(signal.points[0])
    return finding


def _instant(chart: Chart, position: int) -> datetime:
    return datetime.fromtimestamp(float(chart.observations.instants[position]), UTC)
