"""All KPIs at once, as the API answers with them."""

from datetime import date, datetime
from typing import Any
from zoneinfo import ZoneInfo

import numpy as np

from fluctus.core import Direction
from fluctus.core.analysis import RULES, Mark, Rule
from fluctus.core.context import MeetsTarget
from fluctus.core.words import Attention, NumberStyle, Tally, say_tally
from fluctus.findings.models import Finding, FindingState
from fluctus.http.rendering import written
from fluctus.kpis.calendar import Grain, from_text, label
from fluctus.kpis.chart.queries import chart_or_none
from fluctus.kpis.models import Kpi
from fluctus.overview.strips import shapes
from fluctus.overview.strips.drawing import Dates, cut, no_small_chart, small_chart
from fluctus.overview.strips.queries import (
    ROWS,
    Listed,
    Viewer,
    dates_in,
    findings_by_day,
    group_counts,
    listed,
    new_among,
    newest_findings,
    newest_period,
    span_of,
    stretch,
    tally_of,
)

NEAR = 7
"""Days around the hairline that findings are counted in."""
MOST_DAYS = 1_500
"""More days than that are too close together to be told apart."""


def overview_answer(
    viewer: Viewer, wanted: Listed, query: dict[str, Any], start: int = 0, rows: int = ROWS
) -> shapes.Overview:
    """Return a stretch of the KPIs wanted over the dates of a query, and how all of them stand."""
    span = span_of(viewer.workspace)
    dates = dates_in(span, query)
    tally = tally_of(viewer, wanted.group)
    all_wanted = listed(viewer, wanted)
    kpis, count = stretch(viewer, wanted, all_wanted, start, rows)
    findings = newest_findings(kpis)
    new = new_among(viewer, kpis)
    return shapes.Overview(
        sentence=say_tally(tally),
        counts=counts_answer(tally),
        groups=[shapes.GroupCount(*group) for group in group_counts(viewer, all_wanted)],
        count=count,
        start=start,
        rows=[
            row_answer(kpi, findings.get(kpi.pk), dates, viewer.now, is_new=kpi.pk in new)
            for kpi in kpis
        ],
        first=day_text(dates.first),
        last=day_text(dates.last),
        oldest=day_text(span and span[0]),
        newest=day_text(span and span[1]),
        newest_period=newest_period(viewer.workspace, viewer.now),
        nearby=nearby_answer(findings_by_day(viewer.workspace, dates), dates),
    )


def row_answer(
    kpi: Kpi, finding: Finding | None, dates: Dates, now: datetime, *, is_new: bool
) -> shapes.OverviewRow:
    """Return a KPI with its strip; ``finding`` is its newest without a cause."""
    chart = _strip(kpi, dates, now)
    if chart is None:
        return _row_without_chart(kpi, is_new=is_new)
    digest, summary = kpi.digest, kpi.summary
    what, more, mark = summary.what, summary.more, summary.mark
    if finding is not None and summary.attention == Attention.STEADY:
        looking = finding.state == FindingState.LOOKING
        what = finding.title
        more = f"{finding.label}, {'being looked into' if looking else 'no cause yet'}"
        mark = RULES[Rule(finding.rule)].mark
    latest = digest["latest"]
    return shapes.OverviewRow(
        slug=kpi.slug,
        name=kpi.name,
        group=kpi.group,
        unit=kpi.unit,
        direction=Direction(kpi.direction),
        latest="" if latest is None else NumberStyle(**digest["numbers"]).value(latest),
        latest_label=_latest_label(kpi, now),
        what=what,
        more=more,
        mark=Mark(mark) if mark else None,
        attention=Attention(summary.attention),
        reach=MeetsTarget(summary.reach),
        late=summary.late_from is not None and summary.late_from < now,
        is_new=is_new,
        revision=kpi.revision,
        chart=chart,
    )


def _strip(kpi: Kpi, dates: Dates, now: datetime) -> shapes.SmallChart | None:
    """Return what is drawn of a KPI on some days; None where its chart cannot be computed.

    While no period has ended since, that is of what its last write has kept; but for some days of
    a chart that is too long to keep every point.
    """
    kept, holds = kpi.summary.strip, kpi.renew_at is None or now < kpi.renew_at
    if kept is not None and holds:
        whole = dates.include(_days_of(kpi))
        drawn: shapes.SmallChart | None = written(bytes(kept)) if whole else cut(kept, dates)
        if drawn is not None:
            return drawn
    chart = chart_or_none(kpi, now)
    return None if chart is None else small_chart(chart, dates)


def _days_of(kpi: Kpi) -> tuple[date, date] | None:
    """Return the first and the last day that a KPI has a value of; None without values."""
    oldest, newest, zone = kpi.summary.oldest, kpi.summary.newest, ZoneInfo(kpi.time_zone)
    if oldest is None or newest is None:
        return None
    try:
        return oldest.astimezone(zone).date(), newest.astimezone(zone).date()
    except OverflowError:
        # Where time ends, it may be any.
        return date.min, date.max


def _row_without_chart(kpi: Kpi, *, is_new: bool) -> shapes.OverviewRow:
    """Say of a KPI that its chart cannot be computed."""
    return shapes.OverviewRow(
        slug=kpi.slug,
        name=kpi.name,
        group=kpi.group,
        unit=kpi.unit,
        direction=Direction(kpi.direction),
        latest="",
        latest_label="",
        what="Its chart cannot be computed",
        more="Look at its values, or undo the last import",
        mark=None,
        attention=Attention.WAITS,
        reach=MeetsTarget.UNKNOWN,
        late=False,
        is_new=is_new,
        revision=kpi.revision,
        chart=no_small_chart(Grain(kpi.grain)),
    )


def _latest_label(kpi: Kpi, now: datetime) -> str:
    text, zone, grain = kpi.digest["latest_period"], ZoneInfo(kpi.time_zone), Grain(kpi.grain)
    return "" if text is None else label(from_text(text, grain, zone), grain, zone, now)


def counts_answer(tally: Tally) -> shapes.AttentionCounts:
    """Return how many KPIs are in each way."""
    return shapes.AttentionCounts(
        all=tally.count,
        new=tally.new,
        waits=tally.waits,
        out=tally.out,
        never=tally.never,
        steady=tally.steady,
        not_predictable=tally.not_predictable,
        late=tally.late,
    )


def nearby_answer(days: list[tuple[date, int]], dates: Dates) -> shapes.Nearby | None:
    """Count the findings within a week of each day shown; None where there are too many days."""
    if dates.first is None or dates.last is None:
        return None
    length = (dates.last - dates.first).days + 1
    if not 0 < length <= MOST_DAYS:
        return None
    counts = np.zeros(length, np.intp)
    for day, count in days:
        at = (day - dates.first).days
        if 0 <= at < length:
            counts[at] += count
    grown = np.convolve(counts, np.ones(2 * NEAR + 1, np.intp))[NEAR : NEAR + length]
    return shapes.Nearby(dates.first.isoformat(), grown.tolist())


def day_text(day: date | None) -> str | None:
    """Write a day, or none."""
    return None if day is None else day.isoformat()
