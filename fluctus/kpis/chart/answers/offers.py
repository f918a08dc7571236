"""What can be added to a chart, drawn on its own values: no line that says nothing new on it."""

from collections.abc import Iterator, Sequence
from dataclasses import dataclass, replace

import numpy as np

from fluctus.core import Direction
from fluctus.core.arrays import Floats, Ints
from fluctus.core.words import TIMES, plain
from fluctus.kpis.calendar import Grain
from fluctus.kpis.chart import asked_shapes, shapes
from fluctus.kpis.chart.analysis.chart import Chart
from fluctus.kpis.chart.analysis.lines.kind import included_in
from fluctus.kpis.chart.answers.lines import line_answers
from fluctus.kpis.lines import COURSES, Dash, LineColor, LineSource, LineState, Weight
from fluctus.kpis.models import DrawnAs

FEWEST = 2
PICTURED = 80
"""Points of a picture, about; it is as wide as a few dozen."""
SAME = 0.02
"""Levels that are nearer than this share of the range of the values lie on each other."""
ABOVE, BELOW = 1.25, 0.75
WINDOW = {
    Grain.HOUR: 24,
    Grain.DAY: 7,
    Grain.WEEK: 4,
    Grain.MONTH: 12,
    Grain.QUARTER: 4,
    Grain.YEAR: 3,
}
"""Periods of the moving average that is offered: a day, a week, a month, a year of them."""


@dataclass(frozen=True, slots=True)
class _Offered:
    title: str
    lines: tuple[LineState, ...]
    is_band: bool = False


def offers_answer(chart: Chart, start: int, stop: int) -> asked_shapes.Offers:
    """Return what can be added to a chart over the values shown, from ``start`` to ``stop``."""
    included = np.flatnonzero(included_in(chart, start, stop)).astype(np.intp)
    values = chart.observations.values[included]
    if len(values) < FEWEST:
        return asked_shapes.Offers(values[:0], [])
    drawn = _pictured(included, values)
    taken = _levels_drawn(chart, start, stop)
    offers = []
    for offered in _offered(chart):
        lines = _lines(chart, offered, start, stop, drawn)
        if _says_something(chart, lines, values, taken):
            offers.append(asked_shapes.Offer(offered.title, lines, offered.is_band))
    return asked_shapes.Offers(chart.observations.values[drawn], offers)


def _pictured(included: Ints, values: Floats) -> Ints:
    """Choose the values of a picture: evenly, with the highest and the lowest among them."""
    even = np.linspace(0, len(included) - 1, min(PICTURED, len(included))).astype(np.intp)
    ends = [int(values.argmin()), int(values.argmax())]
    chosen: Ints = included[np.unique(np.concatenate((even, ends)))]
    return chosen


def _offered(chart: Chart) -> Iterator[_Offered]:
    grain, words = chart.observations.grain, chart.words
    if chart.state.drawn_as != DrawnAs.STEPS:
        lower = chart.analysis.settings.direction is Direction.HIGHER
        factor = BELOW if lower else ABOVE
        times = LineState("offer", LineSource.MEAN.value, factor=factor, color=LineColor.CLAY.value)
        yield _Offered(f"Average {TIMES} {plain(factor)}", (times,))
        yield _Offered("Median", (LineState("offer", LineSource.MEDIAN.value),))
        length = WINDOW[grain]
        moving = LineState(
            "offer",
            LineSource.MOVING_AVERAGE.value,
            length=length,
            dash=Dash.SOLID.value,
            weight=Weight.MEDIUM.value,
        )
        yield _Offered(f"Moving average of {words.periods(length)}", (moving,))
        quarters = [
            LineState(f"offer {share}", LineSource.PERCENTILE.value, number=share, hidden=True)
            for share in (25.0, 75.0)
        ]
        yield _Offered("A band of the middle half", tuple(quarters), is_band=True)
    year = "52 weeks before" if grain is Grain.WEEK else "The year before"
    before = LineState("offer", LineSource.YEAR_BEFORE.value, color=LineColor.SLATE.value)
    yield _Offered(f"{year}, behind it", (before,))
    segment = LineState("offer", LineSource.SEGMENT_BEFORE.value, color=LineColor.SLATE.value)
    yield _Offered("The segment before, behind it", (segment,))
    highest, lowest = (
        LineState(f"offer {made.value}", made.value, dash=Dash.DOTTED.value)
        for made in (LineSource.MAXIMUM, LineSource.MINIMUM)
    )
    yield _Offered("Highest and lowest", (highest, lowest))


def _lines(
    chart: Chart, offered: _Offered, start: int, stop: int, drawn: Ints
) -> list[shapes.Line]:
    # Those of a band are hidden once they are added, and drawn in its picture.
    shown = tuple(replace(line, hidden=False) for line in offered.lines)
    looked_at = replace(chart, state=replace(chart.state, lines=shown, bands=()))
    answers = line_answers(looked_at, start, stop, drawn)
    return [
        replace(answer, hidden=line.hidden)
        for answer, line in zip(answers, offered.lines, strict=True)
    ]


def _levels_drawn(chart: Chart, start: int, stop: int) -> Floats:
    """Return the levels that are drawn at the right edge of the chart."""
    last, words = chart.analysis.segments[-1], chart.words
    nothing = np.array([], np.intp)
    lines = [line.level for line in line_answers(chart, start, stop, nothing) if not line.hidden]
    own = () if chart.state.drawn_as == DrawnAs.STEPS else (last.average, last.upper, last.lower)
    levels = [*own, words.target, words.target_high, *lines]
    return np.array([level for level in levels if level is not None], np.float64)


def _says_something(
    chart: Chart, lines: Sequence[shapes.Line], values: Floats, taken: Floats
) -> bool:
    """Tell whether lines can be drawn, near the values, and where none is already."""
    span = float(values.max() - values.min())
    have = {line.made for line in chart.state.lines}
    # Also where it is hidden, as the ends of a band are.
    levels = {(line.made, line.number, line.factor, line.amount) for line in chart.state.lines}
    for line in lines:
        if LineSource(line.made) in COURSES:
            course = np.array([] if line.course is None else line.course, np.float64)
            if line.made in have or not (~np.isnan(course)).any():
                return False
            continue
        if line.level is None or span == 0 or not _within(chart, line.level, values, span):
            return False
        if (line.made, line.number, line.factor, line.amount) in levels:
            return False
        if len(taken) and float(np.abs(taken - line.level).min()) < SAME * span:
            return False
    return True


def _within(chart: Chart, level: float, values: Floats, span: float) -> bool:
    """Tell whether a level is possible, and so near the values that these are not drawn flat."""
    settings = chart.analysis.settings
    low = max(values.min() - span, -np.inf if settings.floor is None else settings.floor)
    high = min(values.max() + span, np.inf if settings.ceiling is None else settings.ceiling)
    return bool(low <= level <= high)
