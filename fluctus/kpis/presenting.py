"""Charts and KPIs as the API gives them."""

import math
from collections.abc import Sequence
from dataclasses import asdict
from datetime import datetime
from typing import Any
from zoneinfo import ZoneInfo

import numpy as np

from fluctus.core import Centre, Firmness, Spread
from fluctus.core.arrays import Bools, Ints
from fluctus.core.comparison import level_of
from fluctus.core.explanation import explain
from fluctus.core.false_alarms import FalseAlarms
from fluctus.core.review import Answer, Question, advise_shift
from fluctus.core.sentence import summarise
from fluctus.core.thinning import thin
from fluctus.core.wording import NBSP, Words, level_decimals
from fluctus.kpis.charts import Chart
from fluctus.kpis.models import ChartChange, Kpi, Observation, PastValue
from fluctus.kpis.observations import Observations
from fluctus.kpis.periods import Calendar, Grain, coarser_grains, from_text, label, to_text
from fluctus.kpis.state import DETAILS, ChartState, SegmentState
from fluctus.refusals import Issue, RefusalError

TIMES = "\N{MULTIPLICATION SIGN}"


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


def present_chart(
    kpi: dict[str, Any], chart: Chart, width: int, first: str | None = None, last: str | None = None
) -> dict[str, Any]:
    """Give what a chart ``width`` pixels wide draws of the periods from ``first`` to ``last``.

    Every signal and every set-aside value of these periods is among the
    points; the others are thinned so that the lines look the same.
    """
    data, analysis = chart.observations, chart.analysis
    start, stop = _shown(chart, first, last)
    aside = np.flatnonzero(data.set_aside)
    no_part = data.no_part
    signals = [s for s in analysis.signals if s.points[-1] >= start and s.points[0] < stop]
    keep = no_part.copy()
    keep[[point for signal in signals for point in signal.points]] = True
    keep[[segment.start for segment in analysis.segments if segment.start < len(keep)]] = True
    drawn = _drawn(chart, start, stop, width, keep)
    centre = np.repeat(
        [np.nan if s.average is None else s.average for s in analysis.segments],
        [s.stop - s.start for s in analysis.segments],
    )
    positions = drawn.tolist()
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
            "distance": data.values[drawn] - centre[drawn],
        },
        "segments": [
            _segment(chart, number, settings)
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
        "sentence": asdict(summarise(analysis, chart.words)),
        "comparison": _comparison(chart),
        "doubts": chart.doubts,
        "kept_limits": [
            asdict(one) | {"label": _kept_label(data, one.period)}
            for one in chart.state.kept_limits
        ],
    }


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


def _segment(chart: Chart, number: int, settings: SegmentState) -> dict[str, Any]:
    segment = chart.analysis.segments[number]
    data = chart.observations
    return {
        **asdict(settings),
        "advice": advise_shift(
            {Question(question): Answer(answer) for question, answer in settings.review.items()}
        ),
        "label": data.label(segment.start) if segment.start < len(data) else "",
        "first": segment.start,
        "stop": segment.stop,
        "n": segment.n,
        "average": segment.average,
        "average_range": segment.spread,
        "upper": segment.upper,
        "lower": segment.lower,
        "upper_clipped": segment.upper_clipped,
        "lower_clipped": segment.lower_clipped,
        "range_limit": segment.range_limit,
        "sigma": segment.sigma,
        "firmness": segment.firmness,
        "made": _made(chart, number, settings),
    }


def _made(chart: Chart, number: int, settings: SegmentState) -> str:
    """Say how the numbers of a segment were made."""
    segment, words = chart.analysis.segments[number], chart.words
    if segment.average is None:
        return "No values take part."
    median = settings.centre == Centre.MEDIAN
    source = f"{words.periods(segment.n)} from {words.label(segment.start)}"
    if settings.window is not None:
        source = f"a baseline of {words.periods(segment.n)}"
    text = f"{'Median' if median else 'Average'} {words.level_amount(segment.average)} of {source}."
    if segment.spread is None or segment.upper is None or segment.lower is None:
        return f"{text} Too few for limits, which need 5."
    by_median = settings.spread == Spread.MEDIAN_RANGE
    factor, range_factor = ("3.145", "3.865") if by_median else ("2.660", "3.268")
    text += (
        f" Limits {words.level(segment.lower)} to {words.level_amount(segment.upper)}: "
        f"{words.level(segment.average)} ± {factor} {TIMES} {words.level(segment.spread)}, the "
        f"{'median' if by_median else 'average'} moving range. Range limit: {range_factor} {TIMES} "
        f"{words.level(segment.spread)}."
    )
    if segment.lower_clipped or segment.upper_clipped:
        text += " A limit past the natural bound is held at the bound."
    if segment.firmness is Firmness.PROVISIONAL:
        text += " Provisional: firm from 17 values."
    return text


def _comparison(chart: Chart) -> dict[str, Any] | None:
    last = len(chart.analysis.segments) - 1
    if last == 0:
        return None
    words, state = chart.words, chart.state
    before, after = (level_of(chart.analysis, n, words.target) for n in (last - 1, last))

    def row(name: str, was: float | None, now: float | None, *, share: bool) -> dict[str, str]:
        def text(value: float | None) -> str:
            if value is None:
                return "\N{EM DASH}"
            return f"{value:.0%}".replace("%", f"{NBSP}%") if share else words.level(value)

        return {"name": name, "before": text(was), "after": text(now)}

    rows = [
        row("Average", before.average, after.average, share=False),
        row("Average mR", before.mean_range, after.mean_range, share=False),
        row("Limits apart", before.limits_width, after.limits_width, share=False),
    ]
    if after.share_meeting_target is not None:
        shares = before.share_meeting_target, after.share_meeting_target
        rows.append(row("Meets target", *shares, share=True))
    names = [
        state.segments[n].name or f"From {words.label(chart.analysis.segments[n].start)}"
        for n in (last - 1, last)
    ]
    return {"before": names[0], "after": names[1], "rows": rows}


def present_false_alarms(alarms: FalseAlarms, points: int, grain: str) -> dict[str, Any]:
    """Give what a set of rules costs, in numbers and in words."""
    chance, average = alarms.chance(points), alarms.average_points
    if math.isinf(average):
        text = "Without a rule there is no false alarm, and nothing is found either."
    else:
        text = (
            f"In {points:,} {grain}s, a process with no change would show a signal with a chance "
            f"of {'over 99' if chance > 0.99 else f'{chance:.0%}'[:-1]}{NBSP}%; on average the "
            f"first comes after {average:,.0f} {grain}s."
        )
    return {
        "points": points,
        "chance": chance,
        "average_points": None if math.isinf(average) else average,
        "text": text,
    }


def present_value(row: Observation | PastValue, kpi: Kpi) -> dict[str, Any]:
    """Give one value as the table of values shows it."""
    zone = ZoneInfo(kpi.time_zone)
    act = row.written_by
    return {
        "period": to_text(row.period, Grain(kpi.grain), zone),
        "breakdown": row.breakdown,
        "value": row.value,
        "target": row.target,
        "rows": row.rows,
        "note": row.note,
        "set_aside": row.set_aside,
        "reason": row.reason,
        "version": row.written_by_id,
        "author": str(act.author or ""),
        "at": act.at.isoformat(),
        "act": act.summary,
    }


def present_versions(rows: Sequence[Observation | PastValue], kpi: Kpi) -> list[dict[str, Any]]:
    """Give what a value has been, newest first, each with the act that ended it."""
    return [
        present_value(row, kpi)
        | (
            {
                "ended_by": row.replaced_by.summary,
                "ended_at": row.replaced_by.at.isoformat(),
                "ended_author": str(row.replaced_by.author or ""),
            }
            if isinstance(row, PastValue)
            else {"ended_by": None, "ended_at": None, "ended_author": None}
        )
        for row in reversed(rows)
    ]
