"""Charts and KPIs as the API gives them."""

import math
from collections.abc import Sequence
from dataclasses import asdict, dataclass, field
from datetime import datetime
from typing import Any

import numpy as np

from fluctus.core.analysis.arrays import Bools, Ints
from fluctus.core.judgment.false_alarms import FalseAlarms
from fluctus.core.judgment.fitness import advise
from fluctus.core.shaping.thinning import thin
from fluctus.core.words.explanation import explain
from fluctus.core.words.sentence import summarise
from fluctus.core.words.wording import Words, level_decimals, percent_of_all
from fluctus.http.refusals import Issue, RefusalError
from fluctus.kpis.calendar import Calendar, Grain, coarser_grains, from_text, label, to_text
from fluctus.kpis.chart.analysis.chart import Chart
from fluctus.kpis.chart.answers.segments import (
    present_candidates,
    present_comparison,
    present_segment,
)
from fluctus.kpis.models import ChartChange, Kpi
from fluctus.kpis.observations.series import Observations
from fluctus.kpis.state import DETAILS, ChartState


def present_row(kpi: Kpi) -> dict[str, Any]:
    """Give a KPI as the rail shows it, from its digest alone."""
    digest = kpi.digest
    words = Words(kpi.name, kpi.unit, kpi.decimals, kpi.grain, str)
    return {
        "slug": kpi.slug,
        "name": kpi.name,
        "group": kpi.group,
        "unit": kpi.unit,
        "count": digest["count"],
        "latest": "" if digest["latest"] is None else words.amount(digest["latest"]),
        "latest_period": digest["latest_period"],
        "strip": digest["strip"],
        "signal": digest["signal"],
        "unexplained": kpi.unexplained,
    }


def present_kpi(
    state: ChartState,
    data: Observations,
    *,
    slug: str = "",
    revision: int = 0,
    breakdowns: Sequence[str] = (),
) -> dict[str, Any]:
    """Give a KPI with the settings of ``state``; one that is not saved yet has no slug."""
    return {
        "slug": slug,
        **{name: getattr(state, name) for name in DETAILS},
        "grain": data.grain,
        "stored_grain": data.stored,
        "grains": coarser_grains(data.stored),
        "breakdowns": breakdowns,
        "rules": state.rules,
        "revision": revision,
        "level_decimals": level_decimals(state.decimals),
    }


@dataclass(frozen=True, slots=True)
class Known:
    """What is kept of a chart beside its settings; nothing of one that is only tried."""

    proposals: dict[str, Any] = field(default_factory=dict)
    unexplained: int | None = None


def present_chart(
    kpi: dict[str, Any],
    chart: Chart,
    width: int,
    first: str | None = None,
    last: str | None = None,
    known: Known | None = None,
) -> dict[str, Any]:
    """Give what a chart ``width`` pixels wide draws of the periods from ``first`` to ``last``.

    Every signal and every set-aside value of these periods is among the
    points; the others are thinned so that the lines look the same.
    """
    known = known or Known()
    data, analysis = chart.observations, chart.analysis
    start, stop = _shown(chart, first, last)
    aside = np.flatnonzero(data.set_aside)
    no_part = data.no_part
    signals = [s for s in analysis.signals if s.points[-1] >= start and s.points[0] < stop]
    keep = no_part.copy()
    keep[[point for signal in signals for point in signal.points]] = True
    keep[[segment.start for segment in analysis.segments if segment.start < len(keep)]] = True
    drawn = _drawn(chart, start, stop, width, keep)
    lines = analysis.lines()
    followed = analysis.followed is not None
    positions = drawn.tolist()
    candidates = present_candidates(chart, known.proposals)
    return {
        "kpi": kpi,
        "count": len(data),
        "basis": data.basis,
        "remarks": data.remarks,
        "incomplete": len(data) - 1 if data.incomplete and start < len(data) == stop else None,
        "next": present_next(data.period(-1), data.grain, data.calendar)
        if len(data) and data.grain is data.stored
        else None,
        "targets": None if data.targets is None else data.targets[drawn],
        "target_now": chart.words.target,
        "notes": [
            {"position": n, "text": text} for n, text in data.notes.items() if start <= n < stop
        ],
        "shown": [start, stop],
        "points": {
            "position": positions,
            "period": [data.text(n) for n in positions],
            "value": data.values[drawn],
            "moving_range": analysis.moving_ranges[drawn],
            "distance": data.values[drawn] - lines.centre[drawn],
            "centre": lines.centre[drawn] if followed else None,
            "upper": lines.upper[drawn] if followed else None,
            "lower": lines.lower[drawn] if followed else None,
        },
        "segments": [
            present_segment(chart, number, settings)
            for number, settings in enumerate(chart.state.segments)
        ],
        "set_aside": [
            {"position": int(n), "reason": data.reasons[int(n)]} for n in aside if start <= n < stop
        ],
        "hollow_ranges": np.flatnonzero(_touched(no_part)[start:stop]) + start,
        "signals": [
            {
                "rule": signal.rule,
                "side": int(signal.side),
                "segment": signal.segment,
                "points": signal.points,
                "label": data.label(signal.points[0]),
                **asdict(explain(signal, chart.words)),
                "level": signal.level,
                "sigmas": signal.sigmas,
                "favorable": signal.favorable,
            }
            for signal in signals
        ],
        "signal_count": len(analysis.signals),
        "sentence": asdict(
            summarise(
                analysis,
                chart.words,
                chart.doubts,
                known.unexplained,
                _open_candidate(chart, candidates),
            )
        ),
        "comparison": present_comparison(chart, len(chart.state.segments) - 2),
        "doubts": [
            {"check": doubt.check.value} | asdict(advise(doubt, chart.words))
            for doubt in chart.doubts
        ],
        "candidates": candidates,
        "patterns": known.proposals.get("patterns", []),
        "kept_limits": [
            asdict(one) | {"label": _kept_label(data, one.period)}
            for one in chart.state.kept_limits
        ],
    }


def _open_candidate(chart: Chart, candidates: list[dict[str, Any]]) -> int | None:
    """Return the newest change in the last segment that nobody has decided on."""
    start = chart.analysis.segments[-1].start
    open_ones = [
        one["position"] for one in candidates if one["located"] and one["position"] > start
    ]
    return max(open_ones, default=None)


def _kept_label(data: Observations, period: str) -> str:
    return label(
        from_text(period, data.stored, data.zone), data.stored, data.zone,
        data.period(-1) if len(data) else datetime.now(data.zone),
    )  # fmt: skip


def present_next(last: datetime | None, grain: Grain, calendar: Calendar) -> dict[str, str] | None:
    """Give the period after the last one, which a person would write next."""
    if last is None:
        return None
    period = calendar.following(last, grain)
    return {
        "period": to_text(period, grain, calendar.zone),
        "label": label(period, grain, calendar.zone, last),
    }


def present_history(undo: ChartChange | None, redo: ChartChange | None) -> dict[str, str | None]:
    """Give what undo and redo would do."""
    return {
        "undo": undo.summary if undo else None,
        "redo": redo.summary if redo else None,
    }


def _shown(chart: Chart, first: str | None, last: str | None) -> tuple[int, int]:
    instants = chart.observations.instants
    start, stop = 0, len(instants)
    if first:
        start = int(np.searchsorted(instants, _instant(chart, first, "first")))
    if last:
        stop = int(np.searchsorted(instants, _instant(chart, last, "last"), side="right"))
    return min(start, stop), stop


def _instant(chart: Chart, text: str, field: str) -> float:
    data = chart.observations
    try:
        return from_text(text, data.grain, data.zone).timestamp()
    except (ValueError, OverflowError):
        raise RefusalError(
            "These dates cannot be shown.",
            Issue("This is not a period.", "Write a date, as in 2026-05-18.", field, found=text),
        ) from None


def _drawn(chart: Chart, start: int, stop: int, width: int, keep: Bools) -> Ints:
    if stop - start <= 2 * width:
        return np.arange(start, stop)
    times = chart.observations.instants[start:stop]
    lines = [chart.observations.values[start:stop], chart.analysis.moving_ranges[start:stop]]
    return thin(times, lines, width, keep[start:stop]) + start


def _touched(set_aside: Bools) -> Bools:
    """Where a moving range touches a set-aside value."""
    touched = set_aside.copy()
    touched[1:] |= set_aside[:-1]
    return touched


def present_false_alarms(alarms: FalseAlarms, points: int, grain: str) -> dict[str, Any]:
    """Give what a set of rules costs, in numbers and in words."""
    chance, average = alarms.chance(points), alarms.average_points
    if math.isinf(average):
        text = "Without a rule there is no false alarm, and nothing is found either."
    else:
        text = (
            f"In {points:,} {grain}s, a process with no change would show a signal with a chance "
            f"of {percent_of_all(chance)}; on average the "
            f"first comes after {average:,.0f} {grain}s."
        )
    return {
        "points": points,
        "chance": chance,
        "average_points": None if math.isinf(average) else average,
        "text": text,
    }
