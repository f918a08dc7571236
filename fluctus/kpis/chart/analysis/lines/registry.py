"""The kinds of lines. A new one is a module here, a member of ``LineSource``, and a line below."""

from typing import Final

from fluctus.kpis.chart.analysis.chart import Chart
from fluctus.kpis.chart.analysis.lines.before import SEGMENT_BEFORE, YEAR_BEFORE
from fluctus.kpis.chart.analysis.lines.coarser_mean import COARSER_MEAN
from fluctus.kpis.chart.analysis.lines.kind import LineKind, Overlay
from fluctus.kpis.chart.analysis.lines.levels import LEVELS
from fluctus.kpis.chart.analysis.lines.over_time import MOVING_AVERAGE, ROLLING_BAND
from fluctus.kpis.chart.analysis.lines.trend import TREND
from fluctus.kpis.lines import LineSource, LineState

LINE_KINDS: Final[dict[LineSource, LineKind]] = {
    kind.made: kind
    for kind in (
        *LEVELS,
        MOVING_AVERAGE,
        ROLLING_BAND,
        COARSER_MEAN,
        TREND,
        YEAR_BEFORE,
        SEGMENT_BEFORE,
    )
}


def kind_of(line: LineState) -> LineKind:
    """Return the kind that a line is of."""
    return LINE_KINDS[LineSource(line.made)]


def overlay_of(chart: Chart, line: LineState, start: int, stop: int) -> Overlay:
    """Draw a line over the values shown, from ``start`` to ``stop``."""
    return kind_of(line).draw(chart, line, start, stop)


def on_other_scale(line: LineState) -> bool:
    """Tell whether a line is on another scale than the values, and has a panel of its own."""
    return kind_of(line).on_other_scale and line.factor == 1
