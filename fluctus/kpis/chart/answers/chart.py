"""Charts as the API answers with them."""

from collections.abc import Callable
from dataclasses import asdict, dataclass, field
from datetime import datetime
from typing import Any
from zoneinfo import ZoneInfo

import numpy as np

from fluctus.core.arrays import Bools, Ints
from fluctus.core.judgment import nature_of
from fluctus.core.shaping import thin
from fluctus.core.words import Background, advise, summarise
from fluctus.kpis.calendar import Grain, from_text, label
from fluctus.kpis.chart import asking_shapes, kpi_shapes, shapes
from fluctus.kpis.chart.analysis.chart import Chart
from fluctus.kpis.chart.answers.candidates import candidate_answers
from fluctus.kpis.chart.answers.comparison import comparison_answer
from fluctus.kpis.chart.answers.flagged import (
    Flagged,
    flagged_in,
    happening_answers,
    noticed,
    signal_answers,
    uneven_denominators,
)
from fluctus.kpis.chart.answers.kpi import next_answer
from fluctus.kpis.chart.answers.lines import axis_answer, band_answers, line_answers
from fluctus.kpis.chart.answers.segments import segment_answer
from fluctus.kpis.chart.proposals import offered_pattern
from fluctus.kpis.models import Kpi
from fluctus.kpis.observations.series import Observations
from fluctus.kpis.periods import read_period


@dataclass(frozen=True, slots=True)
class Window:
    """Which periods of a chart to give, for ``width`` pixels.

    From ``first`` to ``last``; or those of the newest ``weeks``.
    """

    width: int
    first: str | None = None
    last: str | None = None
    weeks: int | None = None


@dataclass(frozen=True, slots=True)
class OnRecord:
    """What is kept of a chart beside its settings; nothing of one that is only tried.

    ``logged`` counts the findings of its last segment in the log, ``unexplained`` those of
    them without a cause; None where the log is not of this chart.
    """

    proposals: dict[str, Any] = field(default_factory=dict)
    logged: int | None = None
    unexplained: int | None = None

    @classmethod
    def of(cls, kpi: Kpi, chart: Chart, now: datetime) -> "OnRecord":
        """Return what is kept of a KPI, as far as it is of this chart of it.

        Until a period that has just ended is renewed, the log is that of before.
        """
        if not chart.is_whole:
            return NOTHING_ON_RECORD
        if kpi.renew_at is not None and kpi.renew_at <= now:
            return cls(kpi.proposals)
        return cls(kpi.proposals, kpi.logged, kpi.unexplained)


NOTHING_ON_RECORD = OnRecord()
WEEK = 7 * 86_400
DAY_DIGITS = 10
MOST_POINTS = 1_000
"""More points are thinned: an answer is as large as what is drawn, whatever the series."""
COLUMNS = 220
"""Stretches of time that a thinned chart has; some four pixels each on a wide screen."""
STRIP_COLUMNS = 60
"""Stretches of time in the strip of all dates."""
MOST_ASIDE = 60
MOST_GAPS = 100
MOST_NOTES = 100
"""The newest set-aside values, gaps and notes of a thinned chart that are told."""


def chart_answer(
    kpi: kpi_shapes.Kpi, chart: Chart, window: Window, on_record: OnRecord = NOTHING_ON_RECORD
) -> shapes.Chart:
    """Return what a chart draws of the periods of a window.

    Long ones are thinned, their signals as well: what is drawn of them goes as
    high and as low, and an answer is no larger than a screen can show.
    """
    data, (start, stop) = chart.observations, shown_stretch(chart, window)
    flagged = flagged_in(chart, start, stop)
    drawn = _drawn(chart, start, stop, window.width, flagged)
    happenings, finding_count = happening_answers(chart, flagged, start, stop)
    candidates = candidate_answers(chart, on_record.proposals)
    lines = line_answers(chart, start, stop, drawn)
    return shapes.Chart(
        kpi=kpi,
        count=len(data),
        basis=data.basis,
        remarks=(*data.remarks, *uneven_denominators(chart), *_thinned(flagged)),
        incomplete=len(data) - 1 if data.incomplete and start < len(data) == stop else None,
        next=next_answer(data.period(-1), data.grain, data.calendar)
        if len(data) and data.grain is data.stored
        else None,
        targets=None if data.targets is None else data.targets[drawn],
        targets_high=None if data.targets_high is None else data.targets_high[drawn],
        target_now=chart.words.target,
        target_high_now=chart.words.target_high,
        off_target=_off_target(chart, drawn),
        lines=lines,
        bands=band_answers(chart, lines),
        target_steps=[kpi_shapes.TargetStep(**asdict(step)) for step in chart.state.target_steps],
        views=[shapes.View(**asdict(view)) for view in chart.state.views],
        axis=axis_answer(chart, start, stop),
        strip=None if stop - start == len(data) else _strip(chart),
        notes=_notes(data, drawn),
        gaps=_gaps(chart, start, stop),
        shown=[start, stop],
        points=_points(chart, drawn),
        segments=_segments(chart),
        set_aside=[
            shapes.SetAside(position, data.reasons[position])
            for position in drawn[data.set_aside[drawn]].tolist()
        ],
        hollow_ranges=drawn[_touched(data.no_part)[drawn]],
        signals=signal_answers(chart, flagged),
        happenings=happenings,
        finding_count=finding_count,
        sentence=_sentence(chart, on_record),
        comparison=comparison_answer(chart, len(chart.state.segments) - 2),
        doubts=[
            shapes.Doubt(doubt.check, **asdict(advise(doubt, chart.words)))
            for doubt in chart.doubts
        ],
        nature=nature_of(chart.analysis.series),
        candidates=candidates,
        patterns=[shapes.Pattern(**pattern) for pattern in on_record.proposals.get("patterns", [])],
        kept_limits=_kept_limits(chart),
        confirmed=chart.state.confirmed,
        far_off=_far_off(chart),
    )


def levels_answer(chart: Chart, window: Window) -> shapes.Levels:
    """Return what moves while the settings of a chart change under a hand.

    The points are those of the chart that is dragged on, unless limits follow a
    pattern, which then has other values at each of them.
    """
    start, stop = shown_stretch(chart, window)
    flagged = flagged_in(chart, start, stop)
    happenings, finding_count = happening_answers(chart, flagged, start, stop)
    points = None
    if chart.analysis.followed is not None:
        points = _points(chart, _drawn(chart, start, stop, window.width, flagged))
    return shapes.Levels(
        points=points,
        segments=_segments(chart),
        signals=signal_answers(chart, flagged),
        happenings=happenings,
        finding_count=finding_count,
        sentence=_sentence(chart, NOTHING_ON_RECORD, by_chance=False),
        comparison=comparison_answer(chart, len(chart.state.segments) - 2),
    )


def _segments(chart: Chart) -> list[shapes.Segment]:
    return [segment_answer(chart, number) for number in range(len(chart.state.segments))]


def _points(chart: Chart, drawn: Ints) -> shapes.Points:
    data, lines = chart.observations, chart.analysis.lines()
    followed = chart.analysis.followed is not None
    return shapes.Points(
        position=drawn,
        period=data.texts(drawn),
        value=data.values[drawn],
        moving_range=chart.analysis.moving_ranges[drawn],
        distance=data.values[drawn] - lines.centre[drawn],
        numerator=None if data.numerators is None else data.numerators[drawn],
        denominator=None if data.denominators is None else data.denominators[drawn],
        centre=lines.centre[drawn] if followed else None,
        upper=lines.upper[drawn] if followed else None,
        lower=lines.lower[drawn] if followed else None,
    )


def _strip(chart: Chart) -> kpi_shapes.Strip:
    data = chart.observations
    nothing = np.zeros(len(data), np.bool_)
    thinned = _thinned_once(chart, 0, len(data), STRIP_COLUMNS, lambda: nothing)
    return kpi_shapes.Strip(data.texts(thinned), data.values[thinned])


def _off_target(chart: Chart, drawn: Ints) -> Ints:
    """Return the drawn positions whose values do not meet their own target."""
    met = chart.target_met
    return drawn[:0] if met is None else drawn[~met[drawn] & ~chart.observations.no_part[drawn]]


def _background(chart: Chart, on_record: OnRecord, *, by_chance: bool) -> Background:
    """Return what is known of a chart besides its analysis."""
    return Background(
        verdict=chart.verdict,
        doubts=chart.doubts,
        logged=on_record.logged,
        unexplained=on_record.unexplained,
        pattern=offered_pattern(chart.verdict),
        raising=chart.raising,
        by_chance=by_chance,
        incomplete=chart.observations.incomplete,
        happenings=chart.happenings,
        met=None if chart.observations.targets is None else chart.target_met,
    )


def _sentence(chart: Chart, on_record: OnRecord, *, by_chance: bool = True) -> shapes.Sentence:
    on_log = (on_record.logged, on_record.unexplained, by_chance)
    if on_log not in chart.said:
        background = _background(chart, on_record, by_chance=by_chance)
        chart.said[on_log] = summarise(chart.analysis, chart.words, background)
    sentence = chart.said[on_log]
    return shapes.Sentence(sentence.headline, sentence.detail)


def _kept_limits(chart: Chart) -> list[shapes.KeptLimits]:
    data = chart.observations
    newest = data.period(-1) if len(data) else None
    return [
        shapes.KeptLimits(
            **asdict(kept),
            label=label(
                from_text(kept.period, data.stored, data.zone), data.stored, data.zone, newest
            ),
        )
        for kept in chart.state.kept_limits
    ]


def _far_off(chart: Chart) -> list[asking_shapes.FarOff]:
    data, far = chart.observations, chart.verdict.far_off
    return [
        asking_shapes.FarOff(
            position=position,
            period=data.text(position),
            label=data.label(position),
            value=chart.words.numbers.amount(float(data.values[position])),
        )
        for position in (far.positions if far else ())
    ]


def _notes(data: Observations, drawn: Ints) -> list[shapes.Note]:
    written = [
        shapes.Note(position, data.notes[position])
        for position in drawn.tolist()
        if data.notes.get(position)
    ]
    return written[-MOST_NOTES:]


def shown_stretch(chart: Chart, window: Window) -> tuple[int, int]:
    """Return from where to where a window shows values of a chart."""
    data = chart.observations
    instants = data.instants
    start, stop = 0, len(instants)
    if window.weeks and stop:
        start = int(np.searchsorted(instants, instants[-1] - window.weeks * WEEK, side="right"))
    if window.first:
        start = int(
            np.searchsorted(instants, _instant(window.first, data.grain, data.zone, "first"))
        )
    if window.last:
        # A day is all of its hours.
        whole_day = data.grain is Grain.HOUR and len(window.last) == DAY_DIGITS
        until = window.last + "T23:59" if whole_day else window.last
        last = _instant(until, data.grain, data.zone, "last")
        stop = int(np.searchsorted(instants, last, side="right"))
    return min(start, stop), stop


def refuse_window(window: Window, grain: Grain, zone: ZoneInfo) -> None:
    """Raise RefusalError for a window that begins or ends at what is no period."""
    for name in ("first", "last"):
        if text := getattr(window, name):
            _instant(text, grain, zone, name)


def _instant(text: str, grain: Grain, zone: ZoneInfo, field: str) -> float:
    return read_period(text, grain, zone, "These dates cannot be shown.", field).timestamp()


def _drawn(chart: Chart, start: int, stop: int, width: int, flagged: Flagged) -> Ints:
    """Return the positions to draw: all, or the thinned ones with those that stand out."""
    if stop - start <= MOST_POINTS:
        return np.arange(start, stop)
    return _thinned_once(
        chart, start, stop, min(width, COLUMNS), lambda: noticed(chart, flagged, MOST_ASIDE)
    )


def _thinned_once(
    chart: Chart, start: int, stop: int, columns: int, keep: Callable[[], Bools]
) -> Ints:
    """Return which values of a stretch are drawn, with those to ``keep``; found out once."""
    key = (start, stop, columns)
    if key not in chart.thinned:
        data = chart.observations
        chart.thinned[key] = start + thin(
            data.instants[start:stop],
            data.values[start:stop],
            chart.analysis.moving_ranges[start:stop],
            columns,
            keep()[start:stop],
        )
    return chart.thinned[key]


def _thinned(flagged: Flagged) -> list[str]:
    if not flagged.is_thinned:
        return []
    return [
        f"{flagged.in_view:,} signals are in these dates; a mark stands for those near it. "
        "Show fewer dates to see each."
    ]


def _gaps(chart: Chart, start: int, stop: int) -> list[shapes.Gap]:
    missing = chart.missing_before
    places = np.flatnonzero(missing[start + 1 : stop]) + start + 1
    if 2 * np.count_nonzero(missing) > len(missing):
        return []
    return [shapes.Gap(int(at), int(missing[at])) for at in places[-MOST_GAPS:]]


def _touched(set_aside: Bools) -> Bools:
    """Where a moving range touches a set-aside value."""
    touched = set_aside.copy()
    touched[1:] |= set_aside[:-1]
    return touched
