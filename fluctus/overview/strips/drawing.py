"""Charts made small: what is drawn of some days of a chart, in few points."""

from bisect import bisect_left, bisect_right
from dataclasses import dataclass
from datetime import date, timedelta
from typing import Any

import numpy as np
import orjson

from fluctus.core.analysis import RULES, Judges, Mark
from fluctus.core.arrays import Floats, Ints
from fluctus.core.shaping import thin
from fluctus.core.words import NumberStyle, explain
from fluctus.kpis.calendar import Grain, start_of_day
from fluctus.kpis.chart.analysis.chart import Chart
from fluctus.kpis.chart.answers.chart import DAY_DIGITS
from fluctus.kpis.chart.answers.flagged import Flagged, flagged_in, noticed
from fluctus.kpis.chart.answers.kpi import numbers_answer, numbers_style
from fluctus.kpis.chart.kpi_shapes import Numbers
from fluctus.kpis.observations.series import Observations
from fluctus.overview.strips import shapes
from fluctus.tables.days import LAST_DAY

COLUMNS = 110
"""Stretches of time that a strip has where its points are thinned."""
MOST_POINTS = 220
MOST_ASIDE = 20


@dataclass(frozen=True, slots=True)
class Dates:
    """The days that are looked at, both included; None is open."""

    first: date | None = None
    last: date | None = None

    @classmethod
    def asked(cls, span: tuple[date, date] | None, query: dict[str, Any]) -> "Dates":
        """Take the days of a query; or its newest weeks, of a ``span`` that there are values of."""
        if "weeks" not in query:
            return cls(query.get("first"), query.get("last"))
        if span is None:
            return cls()
        back = min(timedelta(weeks=query["weeks"]) - timedelta(days=1), span[1] - span[0])
        return cls(span[1] - back, span[1])

    def include(self, span: tuple[date, date] | None) -> bool:
        """Tell whether all days of a ``span`` are among them."""
        if span is None:
            return True
        after = self.first is not None and self.first > span[0]
        return not after and not (self.last is not None and self.last < span[1])


def places_in(data: Observations, dates: Dates) -> tuple[int, int]:
    """Return from where to where the periods are that begin on some days."""
    start, stop = 0, len(data)
    if dates.first is not None:
        begin = start_of_day(dates.first, data.zone).timestamp()
        start = int(np.searchsorted(data.instants, begin))
    if dates.last is not None and dates.last < LAST_DAY:
        end = start_of_day(dates.last + timedelta(days=1), data.zone).timestamp()
        stop = int(np.searchsorted(data.instants, end))
    return min(start, stop), stop


def small_chart(chart: Chart, dates: Dates) -> shapes.SmallChart:
    """Return what is drawn of a chart on some days: as high and as low as it goes, and marks."""
    data, analysis = chart.observations, chart.analysis
    start, stop = places_in(data, dates)
    flagged = flagged_in(chart, start, stop)
    drawn = _drawn(chart, start, stop, flagged)
    lines = analysis.lines()
    followed = analysis.followed is not None
    shown = data.values[start:stop]
    numbers = chart.words.numbers
    return shapes.SmallChart(
        grain=data.grain,
        numbers=numbers_answer(numbers),
        period=data.texts(drawn),
        value=data.values[drawn],
        aside=np.flatnonzero(data.no_part[drawn]),
        average=lines.centre[drawn] if followed else None,
        lower=lines.lower[drawn] if followed else None,
        upper=lines.upper[drawn] if followed else None,
        segments=_segments(chart, drawn, start),
        marks=_marks(chart, flagged, drawn),
        thinned=len(drawn) < stop - start or flagged.is_thinned,
        range=_range(shown, numbers),
        target=chart.words.target,
        target_high=chart.words.target_high,
    )


def cut(kept: bytes | memoryview, dates: Dates) -> shapes.SmallChart | None:
    """Return what is drawn on some days of a small chart that was kept of all its days.

    As ``small_chart`` draws it of the chart; None where points or marks stand for those near them.
    """
    whole = orjson.loads(kept)
    if whole["thinned"]:
        return None
    days = [text[:DAY_DIGITS] for text in whole["period"]]
    start = 0 if dates.first is None else bisect_left(days, dates.first.isoformat())
    stop = len(days) if dates.last is None else bisect_right(days, dates.last.isoformat())
    start = min(start, stop)
    part = slice(start, stop)

    def column(name: str) -> Floats:
        return np.array(whole[name], np.float64)[part]

    aside = np.array(whole["aside"], np.intp)
    numbers, shown = Numbers(**whole["numbers"]), column("value")
    followed = whole["average"] is not None
    return shapes.SmallChart(
        grain=Grain(whole["grain"]),
        numbers=numbers,
        period=whole["period"][part],
        value=shown,
        aside=aside[(aside >= start) & (aside < stop)] - start,
        average=column("average") if followed else None,
        lower=column("lower") if followed else None,
        upper=column("upper") if followed else None,
        segments=[
            shapes.StripSegment(
                **segment
                | {
                    "first": max(segment["first"] - start, 0),
                    "last": min(segment["last"], stop - 1) - start,
                    "begins": segment["begins"] and segment["first"] >= start,
                }
            )
            for segment in whole["segments"]
            if max(segment["first"], start) < min(segment["last"] + 1, stop)
        ],
        marks=[
            shapes.StripMark(mark["index"] - start, Mark(mark["mark"]), mark["title"])
            for mark in whole["marks"]
            if start <= mark["index"] < stop
        ],
        thinned=False,
        range=_range(shown, numbers_style(numbers)),
        target=whole["target"],
        target_high=whole["target_high"],
    )


def _range(shown: Floats, numbers: NumberStyle) -> str:
    """Say from where to where values go."""
    if not len(shown):
        return ""
    return f"{numbers.value(float(shown.min()))} to {numbers.amount(float(shown.max()))}"


def no_small_chart(grain: Grain) -> shapes.SmallChart:
    """Return what is drawn of a chart that cannot be computed: nothing."""
    nothing = np.zeros(0)
    return shapes.SmallChart(
        grain=grain,
        numbers=numbers_answer(NumberStyle()),
        period=[],
        value=nothing,
        aside=nothing.astype(np.intp),
        average=None,
        lower=None,
        upper=None,
        segments=[],
        marks=[],
        thinned=False,
        range="",
        target=None,
        target_high=None,
    )


def _drawn(chart: Chart, start: int, stop: int, flagged: Flagged) -> Ints:
    if stop - start <= MOST_POINTS:
        return np.arange(start, stop)
    keep = noticed(chart, flagged, MOST_ASIDE)
    return start + thin(
        chart.observations.instants[start:stop],
        chart.observations.values[start:stop],
        # Ranges are not drawn here.
        np.full(stop - start, np.nan),
        COLUMNS,
        keep[start:stop],
    )


def _segments(chart: Chart, drawn: Ints, start: int) -> list[shapes.StripSegment]:
    segments = []
    for number, segment in enumerate(chart.analysis.segments):
        first, after = np.searchsorted(drawn, (segment.start, segment.stop)).tolist()
        if first == after:
            continue
        segments.append(
            shapes.StripSegment(
                first=first,
                last=after - 1,
                begins=number > 0 and segment.start >= start,
                name=chart.words.segments[number],
                average=segment.average,
                lower=segment.lower,
                upper=segment.upper,
            )
        )
    return segments


def _marks(chart: Chart, flagged: Flagged, drawn: Ints) -> list[shapes.StripMark]:
    """Return the flagged points, each with its gravest mark; ranges only where nothing else is."""
    order = list(RULES)
    by_weight = sorted(
        flagged.signals.values(),
        key=lambda signal: (
            RULES[signal.rule].judges is Judges.RANGES,
            order.index(signal.rule),
        ),
    )
    marks: dict[int, shapes.StripMark] = {}
    for signal in by_weight:
        title = explain(signal, chart.words).title
        for point in flagged.told_of(signal):
            position = int(np.searchsorted(drawn, point))
            if position < len(drawn) and drawn[position] == point:
                marks.setdefault(point, shapes.StripMark(position, RULES[signal.rule].mark, title))
    return [marks[point] for point in sorted(marks)]
