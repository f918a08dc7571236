"""A chart cut at any period, to compare before and after."""

from dataclasses import replace

from fluctus.http.refusals import Issue, RefusalError
from fluctus.kpis.chart.analysis.chart import Chart, make_chart
from fluctus.kpis.chart.analysis.positions import CANNOT_DRAW, read_period
from fluctus.kpis.seasons import Follows


def cut_at(chart: Chart, text: str) -> tuple[Chart, int]:
    """Cut the segment that holds a period there; returns the chart and the part before by number.

    Both parts have limits of their own, from all of their values. Raises
    RefusalError for a period at which there can be no shift.
    """
    data, segments = chart.observations, chart.state.segments
    instant = read_period(data, text, "at")
    starts = [
        None if segment.start is None else read_period(data, segment.start, "segments")
        for segment in segments
    ]
    if instant in starts:
        return chart, starts.index(instant) - 1
    number = max(n for n, start in enumerate(starts) if start is None or start < instant)
    segment = segments[number]
    whole = replace(segment, window=None, follows=Follows.LEVEL.value)
    before = replace(whole, name=segment.name and f"{segment.name}, before")
    after = replace(whole, start=text, name=segment.name and "After")
    parts = (*segments[:number], before, after, *segments[number + 1 :])
    cut = make_chart(data, replace(chart.state, segments=parts))
    if len(cut.state.segments) != len(parts):
        # Of a part, or by longer periods, a shift beyond the values gives way without a word.
        raise RefusalError(
            CANNOT_DRAW,
            Issue(
                "There are no values on both sides of it.",
                "Choose another period.",
                "at",
                found=text,
            ),
        )
    return cut, number
