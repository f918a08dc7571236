"""A straight line through the values shown."""

import numpy as np

from fluctus.core.context import trend_line
from fluctus.kpis.chart.analysis.chart import Chart
from fluctus.kpis.chart.analysis.lines.kind import (
    LineKind,
    Overlay,
    included_in,
    last_shown,
    over_shown,
)
from fluctus.kpis.lines import LineSource, LineState


def _trend(chart: Chart, line: LineState, start: int, stop: int) -> Overlay:
    data, numbers = chart.observations, chart.words.numbers
    included = included_in(chart, start, stop)
    over = over_shown(chart, included)
    # Missing periods count, as on the axis; periods of a calendar are one step each.
    counted = np.arange(len(data), dtype=np.float64) + np.cumsum(chart.missing_before)
    counted -= counted[start] if start < len(counted) else 0
    fitted = trend_line(counted[included], data.values[included])
    if fitted is None:
        return Overlay("trend line", over, None, note="A line needs two values.")
    course = np.full(len(data), np.nan)
    course[start:stop] = fitted.at(counted[start:stop])
    slope = fitted.line.slope
    sign = "+" if slope >= 0 else "\N{MINUS SIGN}"
    explained = "" if fitted.r_squared is None else f", R² {fitted.r_squared:.2f}"
    says = (
        f"trend line {numbers.level_amount(fitted.line.start)} {sign} "
        f"{numbers.small_amount(abs(slope))} a {chart.words.grain}{explained}"
    )
    return Overlay(says, over, last_shown(course, start, stop), course)


TREND = LineKind(LineSource.TREND, _trend)
