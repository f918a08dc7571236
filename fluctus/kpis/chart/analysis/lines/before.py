"""What was before, laid over what is: a year, or a segment."""

from itertools import pairwise

import numpy as np

from fluctus.kpis.calendar import Grain
from fluctus.kpis.chart.analysis.chart import Chart
from fluctus.kpis.chart.analysis.lines.kind import LineKind, Overlay, last_shown
from fluctus.kpis.lines import LineSource, LineState


def _year_before(chart: Chart, line: LineState, start: int, stop: int) -> Overlay:
    """Draw the values of the same periods a year before; weeks are those of 52 weeks before."""
    data = chart.observations
    earlier = data.calendar.year_before(data.instants, data.grain)
    positions = np.searchsorted(data.instants, earlier)
    there = (positions < len(data)) & (
        data.instants[np.minimum(positions, len(data) - 1)] == earlier
    )
    course = np.full(len(data), np.nan)
    course[there] = data.values[positions[there]]
    over = "52 weeks before" if data.grain is Grain.WEEK else "a year before"
    note = "" if there[start:stop].any() else "No value shown has one of a year before."
    return Overlay(
        f"same {data.grain} {over}", "", last_shown(course, start, stop), course, note=note
    )


def _segment_before(chart: Chart, line: LineState, start: int, stop: int) -> Overlay:
    """Draw the values of the segment before each, from its first one on."""
    values, segments = chart.observations.values, chart.analysis.segments
    course = np.full(len(values), np.nan)
    for before, segment in pairwise(segments):
        count = min(before.stop - before.start, segment.stop - segment.start)
        course[segment.start : segment.start + count] = values[before.start : before.start + count]
    note = "" if len(segments) > 1 else "There is no shift, and so no segment before."
    return Overlay("segment before", "", last_shown(course, start, stop), course, note=note)


YEAR_BEFORE = LineKind(LineSource.YEAR_BEFORE, _year_before, compared=True)
SEGMENT_BEFORE = LineKind(LineSource.SEGMENT_BEFORE, _segment_before, compared=True)
